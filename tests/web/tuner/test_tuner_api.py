"""Studies over HTTP: what they could be about, asked for, followed, those of a plan."""

from __future__ import annotations

import pytest

from idle_harbor.formats.plan.codec import plan_of
from tests.core.plans import document
from tests.web.jobs.test_jobs_api import work_on

ASKED = {"plan": document(), "pool": "main", "free": ["schedule", "timeouts"], "budget": 400}


def asked(client, **more):
    return client.post("/api/studies", json={**ASKED, **more})


def test_what_a_study_could_be_about_follows_from_the_plan(client):
    plan = document()
    dates = {"kind": "dates", "from": "2027-05-12", "to": "2027-05-12"}
    plan["events"] = [
        {"id": "storm", "when": dates, "factor": 2.0},
        {"id": "elsewhere", "when": dates, "groups": ["other"]},
    ]
    plan["groups"].append({**plan["groups"][0], "id": "other"})
    told = client.post("/api/studies/may", json={"plan": plan, "pool": "main"}).json
    weeks = [(week["name"], week["monday"]) for week in told["weeks"]]
    assert weeks[:2] == [("ordinary", "2027-03-01"), ("storm", "2027-05-10")]
    assert ("clock change", "2027-03-22") in weeks and ("clock change", "2027-10-25") in weeks
    fields = {each["path"]: each for each in told["turnable"]}
    floor = fields["schedules.day_types.bands.floor"]
    assert (floor["belongs"], floor["places"], floor["today"]) == ("schedule", 4, ["0", "4"])
    assert fields["schedules.day_types.bands.from"]["today"] == ["07:30", "17:00"]
    assert fields["pools.session_limit"]["belongs"] == "limit"
    assert set(told["free"]) == {"schedule", "timeouts", "limit", "hosts", "size"}


def test_a_study_is_asked_for_followed_and_listed(client, database_address):
    plan_id = 12
    answer = asked(client, plan_id=plan_id)
    assert answer.status_code == 200, answer.text
    job = answer.json["job"]
    assert job["link"] == f"/plans/{plan_id}/tuner?pool=main"
    assert asked(client, plan_id=plan_id).json["job"]["id"] == job["id"]
    waits = client.get(f"/api/studies/{job['id']}").json
    assert waits["limit"] == 60
    assert waits["answer"] is None and waits["so_far"] is None
    assert waits["question"]["budget"] == 400 and waits["question"]["pool"] == "main"

    work_on(database_address, job)
    told = client.get(f"/api/studies/{job['id']}").json
    assert told["job"]["state"] == "done" and told["job"]["done"] == told["job"]["parts"]
    found = told["answer"]
    assert found["current"]["name"] == "today" and found["verdict"] and len(found["rules"]) == 3
    assert found["tuned"]["standing"] == "kept"
    steps = found["explained"]["steps"]
    saved = found["explained"]["before"] - found["explained"]["after"]
    assert sum(step["saves"] for step in steps) == pytest.approx(saved)
    # What is told can be put into the plan as it stands.
    plan = document()
    plan["pools"], plan["schedules"] = [found["tuned"]["pool"]], [found["tuned"]["schedule"]]
    plan_of(plan)

    (row,) = client.get(f"/api/studies?plan_id={plan_id}").json["studies"]
    assert row["job"]["id"] == job["id"] and row["tuned"] == found["tuned"]["money"]["mean"]
    assert client.get(f"/api/studies?plan_id={plan_id + 1}").json["studies"] == []


@pytest.mark.parametrize("wrong", [
    {"free": []}, {"free": ["weather"]}, {"budget": 10}, {"pool": "nobody"}, {"axis": "mood"},
    {"weeks": [{"name": "x", "monday": "2027-03-01", "weight": 0}]},
])  # fmt: skip
def test_what_cannot_be_asked_is_a_problem(client, wrong):
    assert asked(client, **wrong).status_code == 422


def test_another_job_is_no_study(client):
    wish = {"plan": document(), "pool": "main", "year": 2027}
    job = client.post("/api/jobs/year", json=wish).json["job"]
    assert client.get(f"/api/studies/{job['id']}").status_code == 409
    assert client.get("/api/studies/999").status_code == 404
