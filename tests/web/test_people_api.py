"""People and the directory over HTTP."""

from __future__ import annotations

import time

import pytest

from idle_harbor.demo.scenario import demo_plan
from tests.core.people import DAYS, group, pattern
from tests.core.plans import document


def two(**more):
    return document(
        groups=[group("a", 10), group("b", 5, [pattern(begin="13:00")])],
        access=[{"group": "a", "pool": "main"}], week_of="2027-01-06", **more,
    )  # fmt: skip


def ask(client, what, plan=None, **more):
    return client.post(f"/api/people/{what}", json={"plan": plan or two(), **more})


def test_a_week_of_people_with_its_peak_clocks_and_findings(client):
    got = ask(client, "crowd", tab="t", edit=3).json
    assert got["edit"] == 3 and got["zone"] == "Europe/Dublin" and len(got["days"]) == 7
    assert got["days"][0]["date"] == "2027-01-04" and got["days"][-1]["last_bin"] == 2016
    assert got["peak"]["people"] == 15
    assert got["peak"]["makers"] == [{"group": "a", "people": 10}, {"group": "b", "people": 5}]
    assert [len(g["present"]) for g in got["groups"]] == [2016, 2016]
    assert got["groups"][0]["hourly"][0][9] == 10 and got["headcount"] == 15
    assert got["zones"] == [{"zone": "Europe/Dublin", "people": 15, "groups": ["a", "b"]}]
    assert [f["check"] for f in got["findings"]] == ["no-pool"]


def test_any_days_in_any_zone(client):
    got = ask(client, "crowd", first="2027-10-31", days=1, zone="Europe/Dublin").json
    assert got["days"][0]["last_bin"] == 300
    assert got["days"][0]["marks"][0]["name"] == "clocks back 60 min"
    there = ask(client, "crowd", zone="America/Halifax").json
    assert there["start"] - ask(client, "crowd").json["start"] == 4 * 3600
    refused = ask(client, "crowd", zone="Nowhere/Here")
    assert refused.status_code == 422 and "Nowhere/Here" in refused.json["detail"]


def test_the_range_over_seeds_and_a_year(client):
    scatter = [pattern(attendance=dict.fromkeys(DAYS, 0.5))]
    plan = document(groups=[group("a", 100, scatter)], access=[])
    got = ask(client, "range", plan, seeds=30).json
    assert got["seeds"] == 30 and got["peak"]["low"] < got["peak"]["mean"] < got["peak"]["high"]
    assert got["high_from"] <= got["high"] <= got["high_to"]
    year = ask(client, "year", plan, first="2027-01-01", days=365).json
    assert len(year["days"]) == 365 and len(year["days"][0]["hours"]) == 24
    spring = year["days"][86]
    assert spring["date"] == "2027-03-28" and spring["hours"][1] is None


def test_a_pattern_as_a_picture(client):
    got = ask(client, "pattern", group="b", pattern="day", edit=9).json
    assert got["edit"] == 9 and got["present"][13 * 12] == 1.0 and got["working_minutes"] == 480
    assert ask(client, "pattern", group="b", pattern="night").status_code == 422
    assert ask(client, "pattern", group="z", pattern="day").status_code == 422


@pytest.mark.parametrize(("change", "groups"), [
    ({"kind": "copy", "group": "a", "new": "c"}, ["a", "c", "b"]),
    ({"kind": "split", "group": "a", "people": 4, "new": "c"}, ["a", "c", "b"]),
])  # fmt: skip
def test_groups_are_copied_and_split(client, change, groups):
    got = client.post("/api/people/regroup", json={"plan": two(), "change": change}).json
    assert [g["id"] for g in got["plan"]["groups"]] == groups


def test_a_merge_that_cannot_be_says_why(client):
    change = {"kind": "merge", "groups": ["a", "b"], "new": "c"}
    answer = client.post("/api/people/regroup", json={"plan": two(), "change": change})
    assert answer.status_code == 422
    assert "differ in their pools" in answer.json["detail"] and answer.json["remedy"]


def test_countries_and_calendars(client):
    assert "IE" in client.get("/api/people/countries").json["countries"]
    text = ("BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART;VALUE=DATE:20270601\r\nSUMMARY:Rest\r\n"
            "END:VEVENT\r\nEND:VCALENDAR\r\n")  # fmt: skip
    body = {"text": text, "first": "2027-01-01", "last": "2027-12-31"}
    got = client.post("/api/people/calendar", json=body).json
    assert got == {"days": [{"day": "2027-06-01", "name": "Rest"}], "skipped": []}
    body["text"] = "nothing"
    assert client.post("/api/people/calendar", json=body).status_code == 422


def test_defaults_are_filled_in_without_storing(client):
    sketch = {"name": "S", "week_of": "2027-01-04", "sites": [{"id": "x", "time_zone": "UTC"}]}
    got = client.post("/api/plans/complete", json={"plan": sketch}).json["plan"]
    assert got["sites"][0]["holidays"] == {"country": None, "region": None, "own": []}
    assert client.get("/api/plans").json["plans"] == []


def test_a_board_of_any_week_and_a_range_of_any_length(client):
    body = {"plan": demo_plan(), "pool": "counters"}
    week = client.post("/api/simulations/week", json={**body, "first": "2027-10-25"}).json
    assert week["days"][6]["clock_change"] == 3600
    usual = client.post("/api/simulations/week", json=body).json
    assert usual["days"][0]["date"] == "2027-03-01"
    day = client.post("/api/simulations/range", json={**body, "seeds": 1, "days": 1}).json
    month = client.post("/api/simulations/range", json={**body, "seeds": 1, "days": 28}).json
    assert month["figures"]["arrivals"]["mean"] > 20 * day["figures"]["arrivals"]["mean"]


def settled(client):
    for _ in range(200):
        latest = client.get("/api/directory/import").json["latest"]
        if latest["state"] not in ("reading", "judging", "applying"):
            return latest
        time.sleep(0.05)
    raise AssertionError(latest)


def send(client, text, form="csv"):
    data = text if isinstance(text, bytes) else text.encode()
    return client.post(f"/api/directory/import?format={form}&name=people.csv", data=data)


def test_a_file_is_read_previewed_and_taken(client):
    assert client.get("/api/directory/import").json == {"latest": None}
    assert send(client, "key,name,mail,groups\np1,Ann,,a\n").status_code == 202
    latest = settled(client)
    assert latest["state"] == "ready" and latest["preview"]["people"]["added"] == 1
    assert client.post(f"/api/directory/import/{latest['id']}/apply").status_code == 202
    assert settled(client)["state"] == "applied"
    assert client.get("/api/directory").json == {
        "people": 1, "in_none": 0, "in_several": 0,
        "groups": [{"key": "a", "name": "a", "people": 1, "holds": []}]}  # fmt: skip
    classes = client.post("/api/directory/classes", json={"groups": ["a"]}).json["classes"]
    assert classes == [{"groups": ["a"], "people": 1}]
    again = client.post(f"/api/directory/import/{latest['id']}/apply")
    assert again.status_code == 409 and again.json["remedy"]


def test_the_stand_in_is_asked(client):
    assert client.post("/api/directory/stand-in", json={"day": 0}).status_code == 202
    latest = settled(client)
    assert latest["state"] == "ready" and latest["preview"]["people"]["added"] > 2000
    client.post(f"/api/directory/import/{latest['id']}/drop")
    assert settled(client)["state"] == "dropped"


def test_a_list_of_hosts_names_people_by_number_or_directory_key(client):
    send(client, "key,name,mail,groups\nq1,Ann,,crew\nq2,Ben,,crew\nq3,Cy,,crew\n")
    client.post(f"/api/directory/import/{settled(client)['id']}/apply")
    settled(client)
    plan = two()
    plan["groups"][0]["demand"]["follows"] = "crew"
    plan["pools"][0].update(session_limit=1)
    for day_type in plan["schedules"][0]["day_types"]:
        for band in day_type["bands"]:
            band["headroom"] = 0
    body = {"plan": plan, "pool": "main", "text": "group,person,host\na,q3,5\na,1,2\n"}
    got = client.post("/api/people/assigned", json=body).json["plan"]["pools"][0]
    assert got["kind"] == "dedicated"
    assert got["assigned"] == [{"group": "a", "person": 3, "host": 5},
                               {"group": "a", "person": 1, "host": 2}]  # fmt: skip
    for text, says in (("group,person,host\na,q9,1\n", "'q9' is nobody in 'a'"),
                       ("group,person,host\na,1,x\n", "host number"),
                       ("group,person,host\na,11,1\n", "10 people, no 11"),
                       ("person\n1\n", "column group is missing")):  # fmt: skip
        answer = client.post("/api/people/assigned", json={**body, "text": text})
        assert answer.status_code == 422 and says in answer.json["detail"]


def test_formats_that_are_not_known_and_imports_that_are_left(client):
    assert send(client, "x", "xls").status_code == 422
    held = client.application.extensions["database"]
    from idle_harbor.store.directory import Directory

    Directory(held).begin("left by a server that was killed", "csv", 1)
    assert settled(client)["state"] == "failed"
    assert send(client, "key,name,mail,groups\np1,Ann,,a\n").status_code == 202
    assert settled(client)["state"] == "ready"
