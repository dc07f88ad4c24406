"""Plans and their revisions over HTTP, on real PostgreSQL."""

import threading

import psycopg
import pytest

from idle_harbor.formats.plan.codec import read_plan, to_values
from idle_harbor.store.plans import Plans
from idle_harbor.web.app import create_app
from tests.core.plans import document
from tests.web.asking import body


def test_a_plan_is_made_listed_and_read(client, stored):
    assert [p["name"] for p in client.get("/api/plans").json["plans"]] == ["Small"]
    read = client.get(f"/api/plans/{stored}")
    assert read.headers["ETag"] == '"1"'
    assert read.json["plan"] == to_values(read_plan(document()))
    assert client.get(f"/api/plans/{stored}/document").json == read.json["plan"]


def test_saving_makes_a_revision(client, stored):
    answer = client.put(
        f"/api/plans/{stored}",
        json=body(document(currency="GBP"), "pounds"),
        headers={"If-Match": '"1"'},
    )
    assert answer.status_code == 200 and answer.headers["ETag"] == '"2"'
    listed = client.get(f"/api/plans/{stored}/revisions").json["revisions"]
    assert [(r["number"], r["words"]) for r in listed] == [(2, "pounds"), (1, "first")]
    assert client.get(f"/api/plans/{stored}/revisions/1").json["plan"]["currency"] == "EUR"


def test_an_edit_is_done_without_being_stored(client, stored):
    edit = {"verb": "split-band", "schedule": "main", "day_type": "workday", "at": "12:00"}
    done = client.post("/api/plans/edit", json={"plan": document(), "edit": edit})
    bands = done.json["plan"]["schedules"][0]["day_types"][0]["bands"]
    assert [band["from"] for band in bands] == ["00:00", "07:30", "12:00", "17:00"]
    assert client.get(f"/api/plans/{stored}").json["number"] == 1
    # Once more it cannot be; a verb that is not known neither.
    plan = done.json["plan"]
    again = client.post("/api/plans/edit", json={"plan": plan, "edit": edit})
    assert again.status_code == 422 and "begins at 12:00 already" in again.text
    unknown = client.post("/api/plans/edit", json={"plan": plan, "edit": {"verb": "paint"}})
    assert unknown.status_code == 422


def test_an_edit_may_mend_a_plan_whose_parts_do_not_fit(client):
    astray = {**document()["groups"][0], "id": "astray", "site": "nowhere"}
    plan = document(groups=[*document()["groups"], astray])
    edit = {"verb": "remove-part", "what": "group", "part": "astray"}
    mended = client.post("/api/plans/edit", json={"plan": plan, "edit": edit})
    assert mended.json["plan"] == to_values(read_plan(document()))


def test_a_year_tells_what_rules_each_date(client):
    plan = document()
    rest = plan["schedules"][0]["day_types"][1]
    rest["ranges"] = [{"from": "2027-12-27", "to": "2028-01-02"}]
    got = client.post("/api/plans/year", json={"plan": plan, "pool": "main"}).json
    assert (got["year"], len(got["days"]), got["day_types"]) == (2027, 365, ["workday", "rest-day"])
    by_date = {day["date"]: day for day in got["days"]}
    assert by_date["2027-12-24"] == {
        "date": "2027-12-24",
        "day_type": 0,
        "by": "weekday",
        "name": "",
    }
    assert (by_date["2027-12-27"]["day_type"], by_date["2027-12-27"]["by"]) == (1, "range")
    leap = client.post("/api/plans/year", json={"plan": plan, "pool": "main", "year": 2028}).json
    assert len(leap["days"]) == 366
    rest["weekdays"] = ["sat"]
    assert client.post("/api/plans/year", json={"plan": plan, "pool": "main"}).status_code == 422


def test_what_a_schedule_does_by_the_clock_is_a_calendar_file(client):
    plan = document()
    plan["schedules"][0]["day_types"][0]["ready_by"] = [{"at": "07:30", "hosts": 4}]
    asked = {"plan": plan, "pool": "main", "first": "2027-03-01", "days": 7}
    text = client.post("/api/plans/agenda", json=asked).json["text"]
    assert text.startswith("BEGIN:VCALENDAR") and text.count("main: 4 hosts are ready") == 5
    assert client.post("/api/plans/agenda", json=asked | {"days": 367}).status_code == 422
    assert client.post("/api/plans/agenda", json=asked | {"pool": "x"}).status_code in (404, 422)


def test_a_schedule_is_put_in_words(client):
    plan = document()
    plan["schedules"][0]["day_types"][0]["bands"][1]["lid"] = 9
    plan["schedules"][0]["day_types"][0]["ready_by"] = [{"at": "07:30", "hosts": 4}]
    plan["schedules"][0]["load_rules"] = [{"id": "busy", "signal": "cpu", "asks_at": 0.8}]
    said = client.post("/api/plans/words", json={"plan": plan, "pool": "main"}).json
    assert [day["id"] for day in said["day_types"]] == ["workday", "rest-day"]
    day = said["day_types"][0]
    assert [band["at"] for band in day["bands"]] == ["00:00", "07:30", "17:00"]
    (lid,) = (part for part in day["bands"][1]["parts"] if part.get("field") == "lid")
    assert lid["kind"] == "number" and lid["without"] == {"lid": None}
    assert {"text": "a lid", "values": {"lid": 10}, "may_be_own": True} in day["bands"][0]["offers"]
    assert day["ready_by"][0]["at"] == "07:30"
    offered = {each["text"]: each for each in day["bands"][0]["offers"]}
    assert offered["load rule Busy"]["values"] == {"load_rules": ["busy"]}
    assert not offered["load rule Busy"]["may_be_own"]
    (rule,) = said["load_rules"]
    assert rule["id"] == "busy" and {"text": " has been above "} in rule["parts"]
    assert [each["begins"] for each in said["table"]["columns"]][:3] == ["00:00", "07:30", "17:00"]
    assert {"label": "Lid", "cells": ["", "9", "", ""]} in said["table"]["rows"]
    # Of parts that do not fit each other what can be said is said; what is not there is told.
    plan["pools"][0]["size"] = "none"
    assert client.post("/api/plans/words", json={"plan": plan, "pool": "main"}).status_code == 200
    plan["pools"][0]["schedule"] = "none"
    gone = client.post("/api/plans/words", json={"plan": plan, "pool": "main"})
    assert gone.status_code in (404, 422) and "no schedule called 'none'" in gone.text
    assert client.post("/api/plans/words", json={"plan": document(), "pool": "x"}).status_code in (
        404,
        422,
    )


def test_saving_without_a_base_is_428(client, stored):
    for headers in ({}, {"If-Match": "*"}, {"If-Match": '"x"'}):
        answer = client.put(f"/api/plans/{stored}", json=body(), headers=headers)
        assert answer.status_code == 428
        assert answer.mimetype == "application/problem+json"


def merged(client, plan_id, yours, prefer):
    asked = {"plan": yours, "base": 1, "prefer": prefer}
    got = client.post(f"/api/plans/{plan_id}/merge", json=asked)
    assert got.status_code == 200 and got.json["latest"] == 2
    return got.json["plan"]


def test_a_stale_save_says_what_differs_and_offers_merges(client, stored):
    theirs, yours = document(), document()
    theirs["pools"][0]["session_limit"] = 9
    theirs["promise"] = {"wait_p95_seconds": 30}
    yours["pools"][0]["session_limit"] = 7
    yours["pools"][0]["stop_seconds"] = 90
    path, match = f"/api/plans/{stored}", {"If-Match": '"1"'}
    assert client.put(path, json=body(theirs, "tighter", "ben"), headers=match).status_code == 200
    answer = client.put(path, json=body(yours), headers=match)
    assert answer.status_code == 412
    got = answer.json
    assert (got["base"], got["latest"], got["author"], got["words"]) == (1, 2, "ben", "tighter")
    by = {c["path"]: c["by"] for c in got["changes"]}
    assert by == {
        "/promise/wait_p95_seconds": "theirs",
        "/pools/main/session_limit": "both",
        "/pools/main/stop_seconds": "yours",
    }
    assert len(answer.data) < 3_000 and got["more"] == 0
    mine, them = (merged(client, stored, yours, prefer) for prefer in ("yours", "theirs"))
    assert (mine["pools"][0]["session_limit"], them["pools"][0]["session_limit"]) == (7, 9)
    for both in (mine, them):
        assert both["promise"]["wait_p95_seconds"] == 30
        assert both["pools"][0]["stop_seconds"] == 90
    again = client.put(path, json=body(mine), headers={"If-Match": '"2"'})
    assert again.status_code == 200


def test_a_revision_of_an_older_shape_differs_only_where_it_was_changed(
    client, stored, database_address
):
    """A field that came to be later has its default on both sides, whatever was written then."""
    with psycopg.connect(database_address, autocommit=True) as admin:
        # For this session no trigger guards revisions.
        admin.execute("SET session_replication_role = replica")
        admin.execute(
            "UPDATE revisions SET shape = 'older', document = document - 'promise' - 'prices',"
            " canonical = (document - 'promise' - 'prices')::text"
        )
    old = client.get(f"/api/plans/{stored}").json["plan"]
    assert old["promise"]["wait_p95_seconds"] and "prices" in old
    path, match = f"/api/plans/{stored}", {"If-Match": '"1"'}
    theirs = document(currency="SEK")
    assert client.put(path, json=body(theirs), headers=match).status_code == 200
    got = client.put(path, json=body(document(week_of="2027-03-10")), headers=match)
    found = {c["path"]: c["by"] for c in got.json["changes"]}
    assert found == {"/week_of": "yours", "/currency": "theirs"}


def test_a_new_plan_is_answered_with_its_own_revision(client, monkeypatch):
    """Somebody saves the next revision between the storing and the answer."""
    own = Plans.create

    def beaten(self, values, words, author, check):
        row = own(self, values, words, author, check)
        self.save(row["id"], 1, {**values, "currency": "SEK"}, "quick", "ben")
        return row

    monkeypatch.setattr(Plans, "create", beaten)
    got = client.post("/api/plans", json=body(document(name="Mine"), "first", "ann"))
    assert got.status_code == 201 and got.headers["ETag"] == '"1"'
    told = (got.json["number"], got.json["author"], got.json["words"], got.json["plan"]["currency"])
    assert told == (1, "ann", "first", "EUR")


def test_two_saves_at_once_leave_one_winner(client, stored, database_address):
    apps = [create_app(database_address) for _ in range(2)]
    codes = []

    def save(app, currency):
        answer = app.test_client().put(
            f"/api/plans/{stored}",
            json=body(document(currency=currency)),
            headers={"If-Match": '"1"'},
        )
        codes.append(answer.status_code)

    threads = [
        threading.Thread(target=save, args=(a, c))
        for a, c in zip(apps, ("GBP", "SEK"), strict=True)
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(20)
    for app in apps:
        app.extensions["database"].close()
    assert sorted(codes) == [200, 412]


def test_a_name_is_taken(client, stored):
    answer = client.post("/api/plans", json=body())
    assert answer.status_code == 409 and answer.json["faults"][0]["pointer"] == "/name"


@pytest.mark.parametrize("tag", ['""', "", "*", '"²"', '"' + "9" * 5_000 + '"', 'W/""', ","])
def test_an_if_match_that_names_no_revision_is_no_base(client, stored, tag):
    head = {"If-Match": tag.encode().decode("latin-1")}
    got = client.put(f"/api/plans/{stored}", json={"plan": document()}, headers=head)
    assert got.status_code == 428


def test_defaults_are_filled_in_without_storing(client):
    sketch = {"name": "S", "week_of": "2027-01-04", "sites": [{"id": "x", "time_zone": "UTC"}]}
    got = client.post("/api/plans/complete", json={"plan": sketch}).json["plan"]
    assert got["sites"][0]["holidays"] == {"country": None, "region": None, "own": []}
    assert client.get("/api/plans").json["plans"] == []
