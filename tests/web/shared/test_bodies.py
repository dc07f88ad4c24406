"""A plan of which a page sends only what the server does not know yet."""

import json

import pytest

from idle_harbor.demo.scenario import demo_plan

POOL = demo_plan()["pools"][0]["id"]


def named(client, path="simulations/week", **more):
    plan = demo_plan()
    answer = client.post(f"/api/{path}", json={"plan": plan, **more})
    assert answer.status_code == 200, answer.json
    names = json.loads(answer.headers["Plan-Parts"])
    return answer, {f: v for f, v in plan.items() if f not in names}, names


def test_a_plan_by_the_names_of_its_lists_has_the_same_answer(client):
    whole, rest, names = named(client, pool=POOL)
    body = {"plan": rest, "parts": names, "pool": POOL}
    again = client.post("/api/simulations/week", json=body)
    assert again.json == whole.json and "Plan-Parts" not in again.headers


@pytest.mark.parametrize("path", ["checks", "checks/parts", "pools", "people/crowd"])
def test_every_view_takes_names(client, path):
    whole, rest, names = named(client, path)
    again = client.post(f"/api/{path}", json={"plan": rest, "parts": names})
    assert again.data == whole.data


def test_a_changed_list_is_named_anew(client):
    _, rest, names = named(client, pool=POOL)
    pools = demo_plan()["pools"]
    pools[0]["session_limit"] += 1
    known = {f: n for f, n in names.items() if f != "pools"}
    body = {"plan": {**rest, "pools": pools}, "parts": known, "pool": POOL}
    answer = client.post("/api/simulations/week", json=body)
    new = json.loads(answer.headers["Plan-Parts"])
    assert set(new) == {"pools"} and new["pools"] != names["pools"]
    whole = client.post(
        "/api/simulations/week", json={"plan": demo_plan() | {"pools": pools}, "pool": POOL}
    )
    assert answer.json == whole.json


def test_names_that_nobody_has_told_ask_for_the_whole_plan(client):
    _, rest, names = named(client, pool=POOL)
    body = {"plan": rest, "parts": {**names, "groups": "0" * 40}, "pool": POOL}
    answer = client.post("/api/simulations/week", json=body)
    assert answer.status_code == 422
    assert answer.json["type"] == "/problems/unknown-parts"
    assert answer.json["remedy"] == "send the plan as a whole"


def test_a_plan_that_cannot_be_says_so_by_names_too(client):
    _, rest, names = named(client, pool=POOL)
    pools = demo_plan()["pools"]
    pools[0]["schedule"] = "gone"
    known = {f: n for f, n in names.items() if f != "pools"}
    body = {"plan": {**rest, "pools": pools}, "parts": known, "pool": POOL}
    answer = client.post("/api/simulations/week", json=body)
    assert answer.status_code == 422
    assert answer.json["faults"][0]["pointer"] == "/pools/0/schedule"
