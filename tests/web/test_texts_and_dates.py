"""Texts and dates at the edge: what no page or terminal should obey, and what no calendar has."""

import pytest

from idle_harbor.store.database import Database
from tests.core.plans import document

#: A zero byte, an escape, a control character beyond ASCII, a turn of direction, a lone return.
ORDERS = ("a\x00b", "\x1b[2J", "a\x9bb", "a\u202eb", "a\rb", "a\u2066b", "\x7f")


def year(client, **more):
    body = {"plan": document(), "pool": "main", "year": 2027, "owner": "tab"}
    return client.post("/api/simulations/year", json=body | more)


@pytest.mark.parametrize("text", ORDERS)
def test_control_characters_are_refused_with_their_place(client, text):
    plan = document(name=f"P{text}", prices={"source": text})
    plan["groups"][0]["demand"]["patterns"][0]["id"] = text
    refused = client.post("/api/plans/complete", json={"plan": plan}).json
    pointers = {fault["pointer"] for fault in refused["faults"]}
    assert pointers == {"/name", "/prices/source", "/groups/0/demand/patterns/0/id"}
    for name in ("owner", "tab"):
        answer = year(client, **{name: text})
        assert answer.status_code == 422 and answer.json["faults"][0]["pointer"] == f"/{name}"
    saved = {"plan": document(), "words": text, "author": "me"}
    assert client.post("/api/plans", json=saved).json["faults"][0]["pointer"] == "/words"
    study = {"plan": document(), "pool": "main", "weeks": [{"name": text, "monday": "2027-03-01"}]}
    answer = client.post("/api/studies", json=study)
    assert answer.json["faults"][0]["pointer"] == "/weeks/0/name"
    query = {"plan": 1, "format": "csv", "owner": text}
    answer = client.post("/api/directory/import", query_string=query, data=b"x")
    assert answer.status_code == 422


def test_texts_of_several_lines_and_other_scripts_are_taken(client):
    plan = document(name="Ünïted Ŵaters 水 👩‍💻", prices={"source": "one\r\ntwo\n\tthree"})
    got = client.post("/api/plans/complete", json={"plan": plan}).json["plan"]
    assert got["name"] == plan["name"] and got["prices"]["source"] == plan["prices"]["source"]


def test_what_was_stored_before_opens_with_spaces_in_their_place(client, database_address):
    made = client.post("/api/plans", json={"plan": document()}).json
    with Database(database_address) as database, database.connection() as connection:
        connection.execute("SET session_replication_role = replica")  # revisions never change
        connection.execute(
            "UPDATE revisions SET shape = 'old', "
            "canonical = replace(canonical, '\"Small\"', '\"Sm\\u001ball\"')"
        )
    got = client.get(f"/api/plans/{made['id']}")
    assert got.status_code == 200 and got.json["plan"]["name"] == "Sm all"


@pytest.mark.parametrize("monday", ["1970-12-28", "2200-01-06", "0001-01-01", "9999-12-31"])
def test_weeks_outside_the_years_that_are_known_are_refused(client, monday):
    asked = {"plan": document(), "pool": "main"}
    weeks = [{"name": "far", "monday": monday}]
    answer = client.post("/api/studies", json=asked | {"weeks": weeks})
    assert answer.status_code == 422 and answer.json["faults"][0]["pointer"] == "/weeks/0/monday"
    for path in ("simulations/week", "simulations/range", "plans/agenda", "people/crowd"):
        answer = client.post(f"/api/{path}", json=asked | {"first": monday})
        assert answer.status_code == 422, path


@pytest.mark.parametrize(
    "bounds", [{"low": -1e308, "high": 1e308}, {"low": 2, "high": 1}, {"low": 0, "high": 10**400}]
)
def test_bounds_of_a_study_that_cannot_be_are_refused(client, bounds):
    body = {"plan": document(), "pool": "main"}
    within = [{"path": "schedules.day_types.bands.floor", **bounds}]
    answer = client.post("/api/studies", json=body | {"within": within})
    assert answer.status_code == 422
    assert answer.json["faults"][0]["pointer"].startswith("/within/0")


def test_a_study_with_numbers_beyond_json_takes_no_other_from_its_list(client, database_address):
    plan_id = client.post("/api/plans", json={"plan": document(), "words": ""}).json["id"]
    body = {"plan": document(), "pool": "main", "plan_id": plan_id}
    ids = [
        client.post("/api/studies", json=body | {"seed": seed}).json["job"]["id"] for seed in (1, 2)
    ]
    with Database(database_address) as database, database.connection() as connection:
        connection.execute(
            "UPDATE studies SET question = jsonb_set(question, '{within}', "
            """'[{"path": "x", "low": -1e308, "high": 1e308}]') WHERE id = %s""",
            (ids[0],),
        )
    rows = client.get(f"/api/studies?plan_id={plan_id}").json["studies"]
    assert [row["job"]["id"] for row in rows] == ids[::-1]
    assert rows[1]["question"]["within"] == [{"path": "x", "low": -1e308, "high": 1e308}]
    assert client.get(f"/api/studies/{ids[0]}").status_code == 200
