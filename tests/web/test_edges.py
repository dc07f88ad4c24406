"""What every view refuses in the same way, and what it says then."""

import pytest

from idle_harbor.web.app import create_app
from tests.core.plans import document
from tests.web.asking import body, simulate


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
    assert answer.status_code == 422 and answer.json["title"] == "The request is not understood"
    assert answer.mimetype == "application/problem+json"


def test_an_empty_plan_can_be_saved_and_does_not_simulate(client):
    empty = {"name": "Empty", "week_of": "2027-03-01"}
    assert client.post("/api/plans", json=body(empty)).status_code == 201
    answer = simulate(client, plan=empty, pool="main")
    assert answer.status_code == 422 and "no pool called 'main'" in answer.json["detail"]


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


def test_hints_and_health(client):
    hints = client.get("/api/hints").json
    floor = next(h for h in hints["fields"] if h["path"].endswith("bands.floor"))
    assert floor["unit"] == "hosts"
    assert "Europe/Dublin" in client.get("/api/zones").json["zones"]
    assert client.get("/api/health").json["database"] == "ok"


ODD_DATES = ["0001-01-01", "9999-12-31", "1970-12-31", "2200-01-01"]


@pytest.mark.parametrize("day", ODD_DATES)
@pytest.mark.parametrize(
    "where",
    ["week_of", "first", "growth", "event", "holiday", "pool", "crowd", "calendar", "range"],
)
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
    for path in ("/api/simulations/week", "/api/plans", "/api/checks/parts"):
        got = client.post(path, data=odd_bodies()[name], content_type="application/json")
        assert 400 <= got.status_code < 500, path
        assert got.mimetype == "application/problem+json"
