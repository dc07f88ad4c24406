"""Sizing, kinds, places and samples over HTTP."""

import pytest

from idle_harbor.demo.scenario import demo_plan
from tests.web.asking import ask_demo


def size_of(answer, name):
    return next(size for size in answer["sizes"] if size["id"] == name)


class TestSizing:
    def test_the_offices_picture(self, client):
        got = ask_demo(client, "hosts/sizing", pool="office", tab="t", edit=3).get_json()
        assert (got["pool"], got["size"]) == ("office", "sloop")
        own = size_of(got, "sloop")
        assert own["binding"] == "cpu" and own["limit"] == 14
        assert own["needed"] == -(-int(got["peak"]["value"]) // 14)
        assert got["holds"] == 84 * 14 and got["zones"] == ["west-1", "west-2", "west-3"]
        assert size_of(got, "dinghy")["sessions"] < size_of(got, "dinghy")["credits"]
        assert size_of(got, "barge")["own_hardware"]
        assert [size["id"] for size in got["sizes"] if size["cheapest"]] == ["barge"]
        # No GPU is wanted here, so nothing is drawn of it.
        assert "gpu" not in own["curves"]

    def test_losing_a_zone_and_spares_ask_for_more_hosts(self, client):
        calm = ask_demo(client, "hosts/sizing", pool="office").get_json()
        lost = ask_demo(client, "hosts/sizing", pool="office", lose_zone=True).get_json()
        spare = ask_demo(client, "hosts/sizing", pool="office", spare=2).get_json()
        at = [size_of(answer, "sloop")["needed"] for answer in (calm, lost, spare)]
        assert at[1] == -(-at[0] * 3 // 2) and at[2] == at[0] + 2

    def test_a_size_with_none_of_what_is_needed(self, client):
        got = ask_demo(client, "hosts/sizing", pool="drawings").get_json()
        q16 = size_of(got, "ketch")
        assert q16["sessions"] == 0 and q16["binding"] == "gpu"
        assert set(q16["curves"]["gpu"]) == {None}

    @pytest.mark.parametrize(
        "body",
        [
            {"pool": "nowhere"},
            {"pool": "office", "group": "hydrology"},
            {"pool": "office", "percentile": 2},
            {"pool": "office", "spare": -1},
        ],
    )
    def test_what_cannot_be_asked(self, client, body):
        answer = ask_demo(client, "hosts/sizing", **body)
        assert answer.status_code == 422 and answer.get_json()["remedy"]

    def test_too_many_people_are_refused_with_a_remedy(self, client):
        plan = demo_plan()
        for group in plan["groups"]:
            if group["demand"]["kind"] == "headcount":
                group["demand"]["people"] = 100_000
        answer = client.post("/api/hosts/sizing", json={"plan": plan, "pool": "office"})
        assert answer.status_code == 422 and "split the people" in answer.get_json()["remedy"]


def test_kinds_side_by_side(client):
    got = ask_demo(client, "hosts/kinds", pool="metering", group="contractors").get_json()
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


def test_samples_become_a_profile(client):
    rows = [f"s{k},{t},{0.3 + k / 10},{2 + k}" for k in range(3) for t in range(4)]
    text = "\n".join(["session,time,cpu_vcpu,memory_gib", *rows])
    got = ask_demo(
        client, "hosts/samples", like="office", new="measured", source="spring", text=text
    )
    profile = got.get_json()["plan"]["profiles"][-1]
    assert profile["id"] == "measured" and profile["cpu"]["mean"] == pytest.approx(0.4)
    assert profile["measured"]["sessions"] == 3
    assert profile["logon"] == demo_plan()["profiles"][0]["logon"]
    again = ask_demo(
        client, "hosts/samples", like="office", new="office", source="spring", text=text
    )
    assert again.status_code == 422
    assert ask_demo(client, "hosts/samples", like="nobody", new="x", text=text).status_code == 422
    bad = ask_demo(client, "hosts/samples", like="office", new="x", text="a,b\n1,2")
    assert "the column session is missing" in bad.get_data(as_text=True)
