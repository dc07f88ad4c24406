"""Hosts and pools over HTTP: the sizing picture, kinds, places, pools, drills, prices, checks."""

from __future__ import annotations

from decimal import Decimal

import pytest

from idle_harbor.demo.scenario import demo_plan


def post(client, what, **body):
    return client.post(f"/api/hosts/{what}", json={"plan": demo_plan(), **body})


def size_of(answer, name):
    return next(size for size in answer["sizes"] if size["id"] == name)


class TestSizing:
    def test_the_offices_picture(self, client):
        got = post(client, "sizing", pool="office", tab="t", edit=3).get_json()
        assert (got["edit"], got["pool"], got["size"]) == (3, "office", "sloop")
        own = size_of(got, "sloop")
        assert own["binding"] == "cpu" and own["limit"] == 14
        assert own["needed"] == -(-int(got["peak"]) // 14)
        assert got["holds"] == 84 * 14 and got["zones"] == ["west-1", "west-2", "west-3"]
        assert size_of(got, "dinghy")["sessions"] < size_of(got, "dinghy")["credits"]
        assert size_of(got, "barge")["own_hardware"]
        assert [size["id"] for size in got["sizes"] if size["cheapest"]] == ["barge"]
        # No GPU is wanted here, so nothing is drawn of it.
        assert "gpu" not in own["curves"]

    def test_losing_a_zone_and_spares_ask_for_more_hosts(self, client):
        calm = post(client, "sizing", pool="office").get_json()
        lost = post(client, "sizing", pool="office", lose_zone=True).get_json()
        spare = post(client, "sizing", pool="office", spare=2).get_json()
        at = [size_of(answer, "sloop")["needed"] for answer in (calm, lost, spare)]
        assert at[1] == -(-at[0] * 3 // 2) and at[2] == at[0] + 2

    def test_a_size_with_none_of_what_is_needed(self, client):
        got = post(client, "sizing", pool="drawings").get_json()
        q16 = size_of(got, "ketch")
        assert q16["sessions"] == 0 and q16["binding"] == "gpu"
        assert set(q16["curves"]["gpu"]) == {None}

    @pytest.mark.parametrize("body", [
        {"pool": "nowhere"}, {"pool": "office", "group": "hydrology"},
        {"pool": "office", "percentile": 2}, {"pool": "office", "spare": -1},
    ])  # fmt: skip
    def test_what_cannot_be_asked(self, client, body):
        answer = post(client, "sizing", **body)
        assert answer.status_code == 422 and answer.get_json()["remedy"]

    def test_too_many_people_are_refused_with_a_remedy(self, client):
        plan = demo_plan()
        for group in plan["groups"]:
            if group["demand"]["kind"] == "headcount":
                group["demand"]["people"] = 100_000
        answer = client.post("/api/hosts/sizing", json={"plan": plan, "pool": "office"})
        assert answer.status_code == 422 and "split the people" in answer.get_json()["remedy"]


def test_kinds_side_by_side(client):
    got = post(client, "kinds", pool="metering", group="contractors").get_json()
    shared, lent, dedicated = got["kinds"]
    assert shared["barred"] == "the image's system holds one session" and not shared["figures"]
    assert lent["hosts"] < dedicated["hosts"] == 150
    assert dedicated["lost"] == "nothing" and got["suggested"] in ("lent", "dedicated")


def test_places_best_first(client):
    plan = demo_plan()
    plan["groups"][0]["data_areas"] = ["EEA"]
    body = {"plan": plan, "pool": "office", "group": plan["groups"][0]["id"]}
    got = client.post("/api/hosts/places", json=body).get_json()["places"]
    assert [place["best"] for place in got] == [True, False, False]
    assert got[0]["id"] == "westquay" and got[1]["why"] == "keeps the promise, and costs more"
    assert not got[2]["data_allowed"] and "may not be kept in Canada" in got[2]["why"]


def test_no_place_is_called_the_best_that_breaks_the_promise_or_was_never_measured(client):
    plan = demo_plan()
    plan["promise"]["round_trip_ms"] = 5
    body = {"plan": plan, "pool": "office", "group": "head-office"}
    got = client.post("/api/hosts/places", json=body).get_json()["places"]
    assert not any(place["best"] for place in got)
    plan["promise"]["round_trip_ms"] = 100
    plan["places"] = [{**place, "lines": []} for place in plan["places"]]
    got = client.post("/api/hosts/places", json=body).get_json()["places"]
    assert not any(place["best"] for place in got)
    assert got[0]["why"] == "nobody has measured its line"


def test_every_pool_of_the_demo_is_there_and_simulates(client):
    got = post(client, "pools").get_json()
    rows = {row["id"]: row for row in got["pools"]}
    assert set(rows) == {"office", "line", "field", "counters", "control", "drawings", "metering"}
    assert {row["kind"] for row in rows.values()} == {"shared", "lent", "dedicated"}
    assert all(row["figures"]["sessions"]["peak"]["mean"] > 0 for row in rows.values())
    months = [Decimal(row["figures"]["cost"]["month"]) for row in rows.values()]
    assert Decimal(got["month"]) == sum(months)
    assert got["credit_months"] == pytest.approx(25_000 / float(got["month"]), abs=0.006)
    assert rows["metering"]["findings"] >= 1


class TestDrill:
    def test_a_zone_is_lost_on_a_tuesday(self, client):
        got = post(client, "drill", pool="office", day=1, minute=11 * 60, zone=0).get_json()
        assert got["failed"] == 28 and got["interrupted"] > 100 and got["most_waiting"] > 0
        assert got["drilled"]["comfort"]["mean"] < got["calm"]["comfort"]["mean"]

    def test_some_hosts_at_night_hurt_nobody(self, client):
        got = post(client, "drill", pool="field", day=6, minute=120, hosts=2).get_json()
        assert (got["failed"], got["interrupted"], got["most_waiting"]) == (2, 0, 0)

    def test_a_zone_that_is_not_there(self, client):
        answer = post(client, "drill", pool="office", day=1, minute=0, zone=3)
        assert answer.status_code == 422 and "3 zones, no 4" in answer.get_json()["faults"][0][
            "message"]  # fmt: skip


def test_samples_become_a_profile(client):
    rows = [f"s{k},{t},{0.3 + k / 10},{2 + k}" for k in range(3) for t in range(4)]
    text = "\n".join(["session,time,cpu_vcpu,memory_gib", *rows])
    got = post(client, "samples", like="office", new="measured", source="spring", text=text)
    profile = got.get_json()["plan"]["profiles"][-1]
    assert profile["id"] == "measured" and profile["cpu"]["mean"] == pytest.approx(0.4)
    assert profile["measured"]["sessions"] == 3
    assert profile["logon"] == demo_plan()["profiles"][0]["logon"]
    again = post(client, "samples", like="office", new="office", source="spring", text=text)
    assert again.status_code == 422
    assert post(client, "samples", like="nobody", new="x", text=text).status_code == 422
    bad = post(client, "samples", like="office", new="x", text="a,b\n1,2")
    assert "the column session is missing" in bad.get_data(as_text=True)


class TestPrices:
    def test_out_and_in_again_changes_nothing(self, client):
        for form in ("csv", "json"):
            sheet = post(client, "prices/sheet", form=form).get_json()
            assert sheet["name"] == f"price-sheet.{form}"
            got = post(client, "prices", text=sheet["text"]).get_json()
            assert got["changes"] == []

    def test_a_changed_price_is_told(self, client):
        sheet = post(client, "prices/sheet", form="json").get_json()["text"]
        got = post(client, "prices", text=sheet.replace('"0.412"', '"0.500"')).get_json()
        assert got["changes"] == [
            {"item": "size sloop", "field": "hourly", "before": "0.412", "after": "0.500"}
        ]
        assert got["plan"]["sizes"][0]["hourly"] == "0.500"

    def test_the_feed(self, client):
        got = post(client, "prices/feed", day="2027-05-10").get_json()
        moved = {change["item"] for change in got["changes"]}
        assert "size sloop" in moved and "offer northlight sloop" in moved

    def test_a_bad_sheet(self, client):
        answer = post(client, "prices", text="item,id\nship,x\n")
        assert answer.status_code == 422 and "line 2" in answer.get_data(as_text=True)


class TestChecks:
    def test_the_demos_mistakes_are_found(self, client):
        got = post(client, "checks", tab="c", edit=1).get_json()
        found = {each["check"]: each for each in got["findings"]}
        short = found["too-few-hosts"]
        assert short["where"] == "pool 'metering' hosts: standing" and short["does"]["value"] > 32
        assert found["app-not-in-image"]["family"] == "people"
        assert [family["found"] for family in got["families"]] == [
            sum(each["family"] == family["id"] for each in got["findings"])
            for family in got["families"]
        ]

    def test_a_checked_nothing_has_nothing_to_find(self, client):
        plan = {"name": "Empty", "week_of": "2027-03-01"}
        got = client.post("/api/hosts/checks", json={"plan": plan}).get_json()
        assert got["findings"] == []
