"""People over HTTP: crowds, patterns, groups changed, lists, calendars."""

import pytest

from tests.core.people import DAYS, group, pattern
from tests.core.plans import document
from tests.web.asking import send, settled


def two(**more):
    return document(
        groups=[group("a", 10), group("b", 5, [pattern(begin="13:00")])],
        access=[{"group": "a", "pool": "main"}],
        week_of="2027-01-06",
        **more,
    )


def ask(client, what, plan=None, **more):
    return client.post(f"/api/people/{what}", json={"plan": plan or two(), **more})


def test_a_week_of_people_with_its_peak_clocks_and_findings(client):
    got = ask(client, "crowd", tab="t", edit=3).json
    assert got["zone"] == "Europe/Dublin" and len(got["days"]) == 7
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


def test_a_question_is_asked_of_the_plan_and_leaves_it_as_it_is(client):
    asked = {"verb": "add-what-if", "name": "asked", "first": "2027-01-04", "groups": ["a"]}
    doubled = ask(client, "crowd", what_if={**asked, "growth": 1.0}).json
    assert doubled["peak"]["people"] == 25 and ask(client, "crowd").json["peak"]["people"] == 15
    later = ask(client, "crowd", what_if={**asked, "shift_minutes": 60}).json
    assert later["groups"][0]["hourly"][0][8] == 0 and later["input_hash"] != doubled["input_hash"]
    kept = client.post("/api/plans/edit", json={"plan": two(), "edit": {**asked, "growth": 1.0}})
    assert ask(client, "crowd", kept.json["plan"]).json["peak"]["people"] == 25
    refused = ask(client, "crowd", what_if={**asked, "groups": ["nobody"]})
    assert (
        refused.status_code == 422 and refused.json["faults"][0]["pointer"] == "/events/0/groups/0"
    )


def test_a_pattern_as_a_picture(client):
    got = ask(client, "pattern", group="b", pattern="day").json
    assert got["present"][13 * 12] == 1.0 and got["working_minutes"] == 480
    assert (got["start"], got["end"], got["breaks"]) == (13 * 60, 21 * 60, [])
    assert got["earliest"] <= got["start"] and got["latest"] >= got["end"]
    assert ask(client, "pattern", group="b", pattern="night").status_code == 422
    assert ask(client, "pattern", group="z", pattern="day").status_code == 422


@pytest.mark.parametrize(
    ("change", "groups"),
    [
        ({"kind": "split", "group": "a", "people": 4, "new": "c"}, ["a", "c", "b"]),
    ],
)
def test_groups_are_split(client, change, groups):
    got = client.post("/api/people/regroup", json={"plan": two(), "change": change}).json
    assert [g["id"] for g in got["plan"]["groups"]] == groups


def test_a_merge_that_cannot_be_says_why(client):
    change = {"kind": "merge", "groups": ["a", "b"], "new": "c"}
    answer = client.post("/api/people/regroup", json={"plan": two(), "change": change})
    assert answer.status_code == 422
    assert "differ in their pools" in answer.json["detail"] and answer.json["remedy"]


def test_countries_and_calendars(client):
    assert "IE" in client.get("/api/people/countries").json["countries"]
    text = (
        "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART;VALUE=DATE:20270601\r\nSUMMARY:Rest\r\n"
        "END:VEVENT\r\nEND:VCALENDAR\r\n"
    )
    body = {"text": text, "first": "2027-01-01", "last": "2027-12-31"}
    got = client.post("/api/people/calendar", json=body).json
    assert got == {"days": [{"day": "2027-06-01", "name": "Rest"}], "skipped": []}
    body["text"] = "nothing"
    assert client.post("/api/people/calendar", json=body).status_code == 422


def test_a_list_of_hosts_names_people_by_number_or_directory_key(client, stored):
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
    got = client.post("/api/people/assigned?plan=1", json=body).json["plan"]["pools"][0]
    assert got["kind"] == "dedicated"
    assert got["assigned"] == [
        {"group": "a", "person": 3, "host": 5},
        {"group": "a", "person": 1, "host": 2},
    ]
    for text, says in (
        ("group,person,host\na,q9,1\n", "'q9' is nobody in 'a'"),
        ("group,person,host\na,1,x\n", "host number"),
        ("group,person,host\na,11,1\n", "10 people, no 11"),
        ("person\n1\n", "column group is missing"),
    ):
        answer = client.post("/api/people/assigned?plan=1", json={**body, "text": text})
        assert answer.status_code == 422 and says in answer.json["detail"]
