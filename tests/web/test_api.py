"""The API against real PostgreSQL."""

from __future__ import annotations

import threading

import psycopg
import pytest

from idle_harbor.formats.plan.codec import read_plan, to_values
from idle_harbor.store.database import Database
from idle_harbor.web.app import create_app
from idle_harbor.web.desk import Desk
from tests.core.plans import document


def body(plan=None, words="", author="ana"):
    return {"plan": plan or document(), "words": words, "author": author}


@pytest.fixture
def stored(client):
    answer = client.post("/api/plans", json=body(words="first"))
    assert answer.status_code == 201
    return answer.json["id"]


def simulate(client, kind="week", plan=None, pool="main", **extra):
    return client.post(
        f"/api/simulations/{kind}", json={"plan": plan or document(), "pool": pool, **extra}
    )


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
        admin.execute("ALTER TABLE revisions DISABLE TRIGGER ALL")
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
    own = Database.create_plan

    def beaten(self, values, words, author, check):
        row = own(self, values, words, author, check)
        self.save(row["id"], 1, {**values, "currency": "SEK"}, "quick", "ben")
        return row

    monkeypatch.setattr(Database, "create_plan", beaten)
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


def test_a_plan_that_cannot_be_is_refused_everywhere(client, stored):
    bad = document()
    bad["schedules"][0]["day_types"][0]["bands"][1]["floor"] = 14
    answers = [
        client.post("/api/plans", json=body({**bad, "name": "Bad"})),
        client.put(f"/api/plans/{stored}", json=body(bad), headers={"If-Match": '"1"'}),
        simulate(client, plan=bad),
        simulate(client, "range", plan=bad),
    ]
    for answer in answers:
        assert answer.status_code == 422
        fault = answer.json["faults"][0]
        assert fault["pointer"] == "/schedules/0/day_types/0/bands/1/floor"
        assert fault["remedy"] == "lower the floor or add standing hosts"
    assert len(client.get(f"/api/plans/{stored}/revisions").json["revisions"]) == 1


def test_faults_of_fields_point_into_the_plan(client):
    bad = document()
    bad["pools"][0]["session_limit"] = 0
    answer = client.post("/api/plans", json=body(bad))
    assert answer.json["faults"][0]["pointer"] == "/pools/0/session_limit"
    assert simulate(client, plan=bad).json["faults"][0]["pointer"] == "/pools/0/session_limit"


@pytest.mark.parametrize(
    ("method", "path", "status"),
    [
        ("get", "/api/plans/999", 404),
        ("get", "/api/plans/999/revisions", 404),
        ("get", "/api/plans/999/document", 404),
        ("get", "/api/nothing", 404),
        ("delete", "/api/plans", 405),
        ("get", "/api/simulations/" + "0" * 64 + "/lanes?start=0&end=1", 404),
        ("get", "/api/simulations/x/lanes?start=0&end=1", 422),
        ("get", "/api/simulations/" + "0" * 64 + "/lanes?start=a&end=1", 422),
    ],
)
def test_errors_are_problem_documents(client, method, path, status):
    answer = getattr(client, method)(path)
    assert answer.status_code == status
    assert answer.mimetype == "application/problem+json"
    assert answer.json["status"] == status and answer.json["title"]


def test_a_body_that_is_no_json(client):
    answer = client.post("/api/plans", data=b"{", content_type="application/json")
    assert answer.status_code in (400, 422)
    assert answer.mimetype == "application/problem+json"


def test_a_name_is_taken(client, stored):
    answer = client.post("/api/plans", json=body())
    assert answer.status_code == 409 and answer.json["faults"][0]["pointer"] == "/name"


def test_an_empty_plan_can_be_saved_and_does_not_simulate(client):
    empty = {"name": "Empty", "week_of": "2027-03-01"}
    assert client.post("/api/plans", json=body(empty)).status_code == 201
    answer = simulate(client, plan=empty, pool="main")
    assert answer.status_code == 422 and "no pool called 'main'" in answer.json["detail"]


def test_a_week_is_simulated(client):
    got = simulate(client, tab="t", edit=3).json
    assert got["edit"] == 3 and len(got["input_hash"]) == 64
    assert len(got["days"]) == 7 and got["days"][0]["date"] == "2027-03-01"
    series = got["series"]
    assert {len(v) for v in series.values() if isinstance(v, list)} == {7 * 288}
    water = [
        sum(x) for x in zip(series["active"], series["idle"], series["disconnected"], strict=True)
    ]
    assert max(water) <= got["days"][0]["peak_sessions"] + 60
    assert got["verdicts"]["wait_p95_seconds"]["limit"] == 60
    assert got["figures"]["seeds"] == 1


def test_a_clock_change_week_has_its_own_number_of_bins(client):
    got = simulate(client, plan=document(week_of="2027-03-24")).json
    assert len(got["series"]["active"]) == 2004
    assert [d["clock_change"] for d in got["days"]] == [0] * 6 + [-3600]


def test_a_range_is_simulated_and_kept_for_saved_plans(client, stored):
    one = simulate(client, "range", seeds=4, saved=True).json
    assert one["figures"]["seeds"] == 4
    assert one["figures"]["wait_seconds"]["p95"]["low"] is not None
    client.application.extensions["desk"] = Desk()  # as after a restart of the server
    two = simulate(client, "range", seeds=4, saved=True, edit=9).json
    assert two["edit"] == 9 and two["figures"] == one["figures"]


def test_an_older_edit_of_a_tab_is_superseded(client):
    assert simulate(client, tab="t", edit=5).status_code == 200
    late = document(currency="SEK")
    answer = simulate(client, plan=late, tab="t", edit=4)
    assert answer.status_code == 204 and answer.data == b""
    assert simulate(client, plan=late, tab="other", edit=1).status_code == 200


def test_lanes_tell_states_sessions_and_causes(client):
    week = simulate(client).json
    day = week["days"][1]
    window = f"start={day['start']}&end={day['end']}"
    got = client.get(f"/api/simulations/{week['input_hash']}/lanes?{window}").json
    assert [lane["host"] for lane in got["lanes"]] == list(range(10))
    for lane in got["lanes"]:
        times = [c["time"] for c in lane["changes"]]
        assert times == sorted(times) and times[0] == day["start"]
    morning = [a for a in got["actions"] if a["cause"] == "floor"]
    assert len(morning) >= 3 and morning[0]["text"] == "the floor asked for it"


def test_waiters_are_told_with_their_causes(client):
    tight = document()
    tight["pools"][0]["hosts"] = {"standing": 4}
    tight["pools"][0]["patience_seconds"] = 120
    week = simulate(client, plan=tight).json
    assert week["figures"]["refused"]["mean"] > 0
    assert week["verdicts"]["efficiency"] is None
    assert "refused" in week["verdicts"]["efficiency_withheld"]
    day = week["days"][1]
    window = f"start={day['start']}&end={day['end']}"
    got = client.get(f"/api/simulations/{week['input_hash']}/waiters?{window}").json
    assert got["total"] >= len(got["waiters"]) > 0
    assert got["waiters"][0]["refused"] and got["waiters"][0]["group"] == "people"
    assert {w["cause"] for w in got["waiters"]} <= {"exhausted", "starting", "not_asked", "rush"}


def test_too_much_is_bounded_and_says_so(client):
    big = document()
    big["groups"][0]["demand"]["people"] = 100_000
    answer = simulate(client, "range", plan=big, seeds=64)
    assert answer.status_code == 422 and "5,000,000" in answer.json["detail"]


def test_hints_and_health(client):
    hints = client.get("/api/hints").json
    floor = next(h for h in hints["fields"] if h["path"].endswith("bands.floor"))
    assert floor["unit"] == "hosts" and "Europe/Dublin" in hints["zones"]
    assert client.get("/api/health").json["database"] == "ok"


def test_without_a_database_plans_are_unavailable_and_weeks_still_simulate():
    app = create_app("postgresql://nobody@127.0.0.1:1/none")
    client = app.test_client()
    answer = client.get("/api/plans")
    assert answer.status_code == 503 and answer.json["type"] == "/problems/database-gone"
    assert client.get("/api/health").json["database"] == "gone"
    assert simulate(client, saved=True).status_code == 200
    assert simulate(client, "range", saved=True, seeds=2).status_code == 200
    app.extensions["database"].close()


def test_the_document_is_openapi_3_1(client):
    got = client.get("/api/openapi.json").json
    assert got["openapi"].startswith("3.1")
    assert "Plan" in got["components"]["schemas"]
    put = got["paths"]["/api/plans/{plan_id}"]["put"]["responses"]
    assert {"200", "412", "422", "428"} <= set(put)


ODD_DATES = ["0001-01-01", "9999-12-31", "1970-12-31", "2200-01-01"]


@pytest.mark.parametrize("day", ODD_DATES)
@pytest.mark.parametrize("where", [
    "week_of", "first", "growth", "event", "holiday", "pool", "crowd", "calendar", "range",
])  # fmt: skip
def test_dates_of_other_centuries_are_refused(client, day, where):
    plan = document()
    ask = {"plan": plan, "pool": "main"}
    path = "/api/simulations/week"
    if where == "week_of":
        plan["week_of"] = day
    elif where == "first":
        ask["first"] = day
    elif where == "growth":
        plan["groups"][0]["growth"] = {"per_year": 0.1, "since": day}
    elif where == "event":
        plan["events"] = [{"id": "e", "when": {"kind": "dates", "from": day, "to": day}}]
    elif where == "holiday":
        plan["sites"][0]["holidays"] = {"own": [{"day": day, "name": "x"}]}
    elif where == "pool":
        plan["pools"][0]["first_date"] = day
    elif where == "crowd":
        path, ask = "/api/people/crowd", {"plan": plan, "first": day}
    elif where == "calendar":
        path, ask = "/api/people/calendar", {"text": "x", "first": day, "last": day}
    else:
        path = "/api/simulations/range"
        ask |= {"first": day, "days": 366}
    got = client.post(path, json=ask)
    assert got.status_code == 422
    assert "1971-01-01 to 2199-12-31" in got.text


@pytest.mark.parametrize("day", ["1971-01-01", "2199-12-31"])
def test_the_first_and_the_last_date_are_simulated(client, day):
    assert simulate(client, plan=document(week_of=day)).status_code == 200
    assert simulate(client, "range", seeds=1, days=3, first=day).status_code == 200


def odd_bodies() -> dict[str, bytes]:
    return {
        "deep lists": b'{"plan":' + b"[" * 5_000,
        "deep objects": b'{"plan":' * 5_000,
        "long number": b'{"plan":{"format":' + b"1" * 5_000 + b"}}",
        "half a pair": b'{"plan":{"name":"\\ud800"},"pool":"main"}',
        "no number": b'{"plan":{"name":NaN}}',
        "no text": b"\xff\xfe",
        "nothing": b"",
        "a number": b"7",
        "zero byte": b'{"plan":{"name":"\\u0000"},"pool":"main"}',
    }


@pytest.mark.parametrize("name", odd_bodies())
def test_bodies_that_are_no_json_of_ours_are_refused(client, name):
    for path in ("/api/simulations/week", "/api/plans", "/api/hosts/checks/parts"):
        got = client.post(path, data=odd_bodies()[name], content_type="application/json")
        assert 400 <= got.status_code < 500, path
        assert got.mimetype == "application/problem+json"


@pytest.mark.parametrize("tag", ['""', "", "*", '"²"', '"' + "9" * 5_000 + '"', 'W/""', ","])
def test_an_if_match_that_names_no_revision_is_no_base(client, stored, tag):
    head = {"If-Match": tag.encode().decode("latin-1")}
    got = client.put(f"/api/plans/{stored}", json={"plan": document()}, headers=head)
    assert got.status_code == 428


def test_hours_at_the_baseline_and_work_behind_a_slow_line_are_told(client):
    """Nobody is either in the small plan; on a burstable size behind a line of 150 ms they are."""

    def told(plan):
        got = client.post("/api/simulations/week", json={"plan": plan, "pool": "main"}).json
        figures = got["figures"]
        return figures["baseline_hours"]["mean"], figures["behind_share"]["mean"]

    assert told(document()) == (0.0, 0.0)
    slow = document(places=[{"id": "far", "area": "A", "zones": ["z"], "lines": [
        {"site": "here", "round_trip_ms": 150}]}])  # fmt: skip
    slow["pools"][0]["place"] = "far"
    slow["sizes"][0]["burst"] = {"baseline": 0.05}
    hours, behind = told(slow)
    assert hours > 1.0 and 0.0 < behind <= 1.0
