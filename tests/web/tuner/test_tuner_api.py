"""Studies over HTTP: what they could be about, asked for, followed, those of a plan."""

import pytest

from idle_harbor.core.plan.declare import FREEDOMS
from idle_harbor.formats.plan.codec import plan_of
from idle_harbor.store.database import Database
from idle_harbor.store.jobs import Jobs
from idle_harbor.web.app import create_app
from tests.conftest import fresh_database
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
    assert weeks[2:] == [
        (name, "2027-03-01")
        for name in ("more people", "fewer people", "slow starts", "hosts fail")
    ]
    fields = {each["path"]: each for each in told["turnable"]}
    floor = fields["schedules.day_types.bands.floor"]
    assert (floor["belongs"], floor["places"], floor["today"]) == ("schedule", 4, ["0", "4"])
    assert fields["schedules.day_types.bands.from"]["today"] == ["07:30", "17:00"]
    assert fields["pools.session_limit"]["belongs"] == "limit"
    assert set(told["free"]) == {*ASKED["free"], "limit", "hosts", "size", "shares", "lids"}


def test_a_study_is_asked_for_followed_and_listed(client, database_address):
    plan_id = client.post("/api/plans", json={"plan": document(), "words": ""}).json["id"]
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
    assert found["current"]["name"] == "today" and found["verdict"] and len(found["rules"]) == 5
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


@pytest.mark.parametrize(
    "wrong",
    [
        {"free": []},
        {"free": ["weather"]},
        {"budget": 10},
        {"pool": "nobody"},
        {"axis": "mood"},
        {"weeks": [{"name": "x", "monday": "2027-03-01", "weight": 0}]},
        {"budget": 599, "weeks": [{"name": f"{k}", "monday": "2027-03-01"} for k in range(3)]},
    ],
)
def test_what_cannot_be_asked_is_a_problem(client, wrong):
    assert asked(client, **wrong).status_code == 422


def test_another_job_is_no_study(client):
    wish = {"plan": document(), "pool": "main", "year": 2027}
    job = client.post("/api/simulations/year", json=wish).json["job"]
    for number in (job["id"], 999):
        assert client.get(f"/api/studies/{number}").status_code == 404
        assert client.delete(f"/api/studies/{number}").status_code == 404
    assert client.get(f"/api/jobs/{job['id']}").status_code == 200


def test_a_study_outlives_its_job_and_is_kept_until_it_is_removed(client, database_address):
    plan_id = client.post("/api/plans", json={"plan": document(), "words": ""}).json["id"]
    job = asked(client, plan_id=plan_id).json["job"]
    work_on(database_address, job)
    told = client.get(f"/api/studies/{job['id']}").json
    with Database(database_address) as database:
        with database.connection() as connection:
            connection.execute("UPDATE jobs SET ended_at = now() - interval '31 days'")
        Jobs(database).tidy()
    assert client.get(f"/api/jobs/{job['id']}").status_code == 404
    after = client.get(f"/api/studies/{job['id']}").json
    assert after["job"]["state"] == "done" and after["job"]["title"] == told["job"]["title"]
    assert {**after, "job": None} == {**told, "job": None}
    taken = {"job": job["id"], **{p: told["answer"]["current"][p] for p in ("pool", "schedule")}}
    body = {"plan": document(), "designs": [taken]}
    assert client.post("/api/studies/take", json=body).status_code == 200
    (row,) = client.get(f"/api/studies?plan_id={plan_id}").json["studies"]
    assert row["verdict"] == told["answer"]["verdict"]
    assert client.delete(f"/api/studies/{job['id']}").status_code == 200
    assert client.get(f"/api/studies/{job['id']}").status_code == 404
    assert client.get(f"/api/studies?plan_id={plan_id}").json["studies"] == []


def test_a_job_that_was_done_before_its_study_was_noted_has_an_answer(client, database_address):
    job = asked(client).json["job"]
    work_on(database_address, job)
    with Database(database_address) as database, database.connection() as connection:
        connection.execute("DELETE FROM studies")
    assert asked(client).json["job"]["id"] == job["id"]
    assert client.get(f"/api/studies/{job['id']}").json["answer"]["verdict"]


def test_one_that_is_worked_on_ends_when_it_is_removed(client, database_address):
    job = asked(client).json["job"]
    assert client.delete(f"/api/studies/{job['id']}").status_code == 200
    work_on(database_address, job)
    assert client.get(f"/api/jobs/{job['id']}").status_code == 404
    # Asked again it is another one.
    assert asked(client).json["job"]["id"] > job["id"]


def done_studies(client, address):
    """A study of each of two pools that use one schedule, and another of the first."""
    plan = document()
    plan["pools"].append({**plan["pools"][0], "id": "second"})
    plan["groups"].append({**plan["groups"][0], "id": "others"})
    plan["access"].append({**plan["access"][0], "group": "others", "pool": "second"})
    asked_for = [
        ("main", ["schedule", "timeouts"]),
        ("second", ["schedule", "timeouts"]),
        ("main", ["schedule", "timeouts", "hosts"]),
    ]
    jobs = []
    for pool, free in asked_for:
        answer = asked(client, plan=plan, pool=pool, free=free, budget=250, plan_id=77)
        jobs.append(answer.json["job"])
        for _ in range(20):
            work_on(address, jobs[-1])
            if client.get(f"/api/studies/{jobs[-1]['id']}").json["job"]["state"] == "done":
                break
    return plan, [job["id"] for job in jobs]


@pytest.fixture(scope="module")
def studied(cluster_address, migrated):
    """A client, a plan, and three studies of its two pools, for tests that only read them."""
    with fresh_database(cluster_address, migrated) as address:
        app = create_app(address)
        client = app.test_client()
        yield client, *done_studies(client, address)
        app.extensions["database"].close()


def test_everything_may_change_where_nothing_else_is_said(client):
    job = asked(client, free=None).json["job"]
    assert client.get(f"/api/studies/{job['id']}").json["question"]["free"] == [*FREEDOMS]


def test_pools_are_weighed_together_and_studies_of_one_pool_compared(studied):
    client, plan, (first, second, again) = studied
    told = client.post("/api/studies/together", json={"jobs": [first, second]}).json
    assert [each["pool"] for each in told["pools"]] == ["main", "second"]
    chosen = told["chosen"]
    options = [pool["options"] for pool in told["pools"]]
    taken = [of[k] for of, k in zip(options, chosen["places"], strict=True)]
    assert chosen["money"] == pytest.approx(sum(each["money"] for each in taken))
    schedules = {each["schedule"]["id"]: each["schedule"] for each in taken}
    pools = [each["pool"] for each in taken]
    plan_of({**plan, "pools": pools, "schedules": [*schedules.values()]})
    assert [each["id"] for each in pools] == ["main", "second"]
    assert told["least"] == pytest.approx(chosen["money"]) and all(each["keeps"] for each in taken)
    least = [min(o["money"] for o in of if o["keeps"]) for of in options]
    assert chosen["money"] == pytest.approx(sum(least))
    assert told["today"]["money"] == pytest.approx(sum(of[0]["money"] for of in options))

    poor = {"jobs": [first, second], "budget": 0.9 * chosen["money"]}
    assert client.post("/api/studies/together", json=poor).json["chosen"] is None
    rich = {"jobs": [first, second], "budget": told["today"]["money"] + 10_000, "spend": 50}
    best = client.post("/api/studies/together", json=rich).json
    assert best["chosen"]["spoiled"] <= chosen["spoiled"]
    assert best["more"] == {
        "amount": 50,
        "choice": None,
        "text": "Nothing that was found does more for it.",
    }
    saved = client.post("/api/studies/together", json=rich | {"save": 1}).json["less"]
    assert saved["choice"]["money"] <= best["chosen"]["money"] - 1

    told = client.get(f"/api/studies/{again}/against/{first}").json
    assert told["asked"] == ["free: schedule, timeouts, hosts instead of schedule, timeouts"]
    same = client.get(f"/api/studies/{first}/against/{first}").json
    assert same == {"changes": [], "asked": []}


def test_what_cannot_be_put_side_by_side_is_said(studied):
    client, _, (first, second, again) = studied
    answer = client.get(f"/api/studies/{first}/against/{second}")
    assert answer.status_code == 409 and "different pools" in answer.json["detail"]
    answer = client.post("/api/studies/together", json={"jobs": [first, again]})
    assert answer.status_code == 409 and "one pool" in answer.json["detail"]
    waits = asked(client, budget=500).json["job"]["id"]
    answer = client.post("/api/studies/together", json={"jobs": [waits]})
    assert answer.status_code == 409 and answer.json["remedy"]
    answer = client.post("/api/studies/together", json={"jobs": [2**50]})
    assert answer.status_code == 404
