"""Jobs over HTTP: asked for, followed, stopped; and streams that hold no thread."""

import json
import threading
import urllib.request
from pathlib import Path

import pytest

from idle_harbor.demo.scenario import demo_plan
from idle_harbor.jobs.kinds import checks, crowd, desktops, pools
from idle_harbor.jobs.kinds.registry import KINDS
from idle_harbor.jobs.work import help_with
from idle_harbor.launch.tools import free_port
from idle_harbor.launch.webserver import end, serve
from idle_harbor.store.database import Database
from idle_harbor.store.jobs import Holder, Jobs
from idle_harbor.web.app import create_app
from tests.core.plans import document


def asked(client, year=2027, owner="tab"):
    body = {"plan": document(), "pool": "main", "year": year, "owner": owner}
    answer = client.post("/api/simulations/year", json=body)
    assert answer.status_code == 200, answer.text
    return answer.json["job"]


_WEEK = {
    "first": "2027-02-15",
    "sessions": 1.0,
    "waiting": 0.0,
    "idle_share": 0.5,
    "wait_p95": None,
    "unbounded": False,
    "refused_share": 0.0,
    "strained_share": 0.0,
    "month": "1.00",
    "kept": True,
}


def work_on(address: str, job) -> None:
    """Work on a job to its end, as a worker does."""
    with Database(address) as database, Holder(database) as holder:
        help_with(database, holder.number, job["id"])


def test_a_year_is_asked_for_and_its_weeks_come_as_they_are_done(client, database_address):
    job = asked(client)
    assert (job["state"], job["done"], job["parts"], job["left"]) == ("waiting", 0, 53, None)
    assert asked(client)["id"] == job["id"]
    assert client.get(f"/api/simulations/year/{job['id']}").json["weeks"] == []
    with Database(database_address) as database:
        Jobs(database).keep(job["id"], [(50, _WEEK), (7, _WEEK)])
    some = client.get(f"/api/simulations/year/{job['id']}").json
    assert (some["done"], some["of"], some["places"]) == (2, 53, [7, 50]) and "answer" not in some
    since = f"/api/simulations/year/{job['id']}?since={some['since']}"
    assert client.get(since).json["places"] == []
    work_on(database_address, job)
    told = client.get(since).json
    assert told["job"]["state"] == "done" and told["done"] == 53
    weeks = told["answer"]["weeks"]
    assert len(weeks) == 53 and weeks[7] == weeks[50] == _WEEK
    assert weeks[-1]["first"] == "2027-12-27"
    assert [each["id"] for each in client.get("/api/jobs").json["jobs"]] == [job["id"]]
    assert client.get(f"/api/jobs/{job['id']}").json["job"]["ended_at"]


def test_a_job_is_stopped_and_asked_for_again(client):
    job = asked(client)
    assert client.post(f"/api/jobs/{job['id']}/stop").json["job"]["state"] == "stopped"
    assert client.post(f"/api/jobs/{job['id']}/stop").json["job"]["state"] == "stopped"
    assert asked(client)["state"] == "waiting"
    client.post(f"/api/jobs/{job['id']}/stop")
    assert client.post(f"/api/jobs/{job['id']}/again").json["job"]["state"] == "waiting"
    assert client.post(f"/api/jobs/{job['id']}/again").json["job"]["state"] == "waiting"


def test_the_time_left_is_told_at_the_pace_since_it_was_begun(client, database_address):
    job = asked(client)
    with Database(database_address) as database:
        held = Jobs(database)
        held.begin(job["id"])
        assert client.get(f"/api/jobs/{job['id']}").json["job"]["left"] is None
        held.keep(job["id"], [(k, _WEEK) for k in range(43)])
        held.end(job["id"], "stopped")
        assert asked(client)["left"] is None
        # Begun again a while later, with 43 of 53 there: five more in ten seconds.
        held.begin(job["id"])
        held.keep(job["id"], [(k, _WEEK) for k in range(43, 48)])
        with database.connection() as connection:
            connection.execute("UPDATE jobs SET begun_at = now() - interval '10 s'")
    assert client.get(f"/api/jobs/{job['id']}").json["job"]["left"] == pytest.approx(10, abs=2)


def lines(answer):
    assert answer.status_code == 200, answer.text
    return [json.loads(line) for line in answer.text.splitlines()]


@pytest.mark.parametrize("path", ["pools", "checks", "hosts/kinds", "people/year"])
def test_a_long_answer_is_worked_out_by_a_job_and_is_the_same(
    client, database_address, monkeypatch, path
):
    body = {"plan": document(), "owner": "page", "plan_id": 7}
    if path == "hosts/kinds":
        body |= {"pool": "main", "group": "people"}
    if path == "people/year":
        body |= {"first": "2027-01-01", "days": 60}
    direct = lines(client.post(f"/api/{path}/parts", json=body))[-1]["answer"]
    whole = client.post(f"/api/{path}", json=body).json
    assert {key: whole[key] for key in direct} == direct
    module = {"pools": pools, "checks": checks, "hosts/kinds": desktops, "people/year": crowd}[path]
    monkeypatch.setattr(module, "MOST_AT_ONCE", 0)
    (begun,) = lines(client.post(f"/api/{path}/parts", json=body))
    job = begun["job"]
    assert (job["state"], job["owner"]) == ("waiting", "page")
    assert job["link"].startswith("/plans/7/")
    assert (begun["done"], begun["of"]) == (0, job["parts"])
    early = client.get(f"/api/{path}/parts/{job['id']}").json
    assert early["done"] == 0 and not early.get("answer")
    work_on(database_address, job)
    told = client.get(f"/api/{path}/parts/{job['id']}").json
    assert told["job"]["state"] == "done" and told["answer"] == direct
    # A job is told by the view that it is of.
    assert client.get(f"/api/simulations/year/{job['id']}").status_code == 409


def test_many_weeks_are_told_as_they_come(client, database_address, monkeypatch):
    """A look reads the weeks that are new since the last one."""
    body = {"plan": document(), "pool": "main"}
    direct = client.post("/api/simulations/range", json=body | {"seeds": 12}).json
    (begun,) = lines(client.post("/api/simulations/range/long", json=body | {"seeds": 12}))
    job, path = begun["job"], f"/api/simulations/range/long/{begun['job']['id']}"
    assert client.get(path).json.get("so_far") is None
    three = client.post("/api/simulations/range", json=body | {"seeds": 3}).json
    with Database(database_address) as database:
        part = KINDS["range"].open(Jobs(database).given(job["id"])["input"])
        Jobs(database).keep(job["id"], [(k, part(k)) for k in range(3)])
    read = []
    parts = Jobs.parts
    monkeypatch.setattr(Jobs, "parts", lambda *asked: read.append(parts(*asked)) or read[-1])
    for _ in range(2):
        assert client.get(path).json["so_far"]["figures"] == three["figures"]
    work_on(database_address, job)
    read.append([])
    told = client.get(path).json
    assert [len(each) for each in read[:2]] == [3, 0] and len(read[-1]) == 9
    assert told["answer"] == {key: direct[key] for key in ("figures", "verdicts")}


def test_who_looks_at_a_job_reads_its_plan_at_most_once(client, database_address, monkeypatch):
    (begun,) = lines(
        client.post(
            "/api/simulations/range/long", json={"plan": document(), "pool": "main", "seeds": 3}
        )
    )
    path = f"/api/simulations/range/long/{begun['job']['id']}"
    work_on(database_address, begun["job"])
    read = []
    given = Jobs.given
    monkeypatch.setattr(Jobs, "given", lambda *a: read.append(a) or given(*a))
    first = client.get(path).json
    assert read == [] and first["answer"]
    # A server that was not asked reads it, and then knows it.
    app = create_app(database_address)
    other = app.test_client()
    assert [other.get(path).json["answer"] for _ in range(3)] == [first["answer"]] * 3
    app.extensions["database"].close()
    assert len(read) == 1


def test_only_pools_that_are_new_are_told(client, database_address, monkeypatch):
    monkeypatch.setattr(pools, "MOST_AT_ONCE", 0)
    plan = demo_plan()
    (begun,) = lines(client.post("/api/pools/parts", json={"plan": plan}))
    job, path = begun["job"], f"/api/pools/parts/{begun['job']['id']}"
    with Database(database_address) as database:
        held = Jobs(database)
        part = KINDS["pools"].open(held.given(job["id"])["input"])
        held.keep(job["id"], [(2, part(2))])
        first = client.get(path).json
        held.keep(job["id"], [(0, part(0)), (9, part(9))])
    second = client.get(f"{path}?since={first['since']}").json
    names = [pool["id"] for pool in plan["pools"]]
    assert [row["id"] for row in first["rows"]] == [names[2]]
    assert [row["id"] for row in second["rows"]] == [names[0]] and (
        second["done"],
        second["of"],
    ) == (3, 7)


def test_what_cannot_be_asked(client):
    assert client.get("/api/jobs/999").status_code == 404
    assert client.post("/api/jobs/999/stop").json["title"] == "No such job"
    body = {"plan": document(), "pool": "gone", "year": 2027}
    assert client.post("/api/simulations/year", json=body).status_code == 422
    assert client.post("/api/simulations/year", json=body | {"year": 1500}).status_code == 422
    for k in range(20):
        asked(client, 2000 + k, "greedy")
    full = client.post("/api/simulations/year", json=body | {"pool": "main", "owner": "greedy"})
    assert full.status_code == 429 and full.headers["Retry-After"]
    # The application alone has no connections that could stay open.
    assert client.get("/api/jobs/events").status_code == 503


@pytest.fixture
def site(database_address, tmp_path: Path):
    port = free_port()
    child = serve(port, database_address, tmp_path / "server.log")
    yield f"http://127.0.0.1:{port}"
    end(child)


class Stream:
    """An open stream and the states of jobs that it tells."""

    def __init__(self, site: str) -> None:
        self.states: list[str] = []
        self.open, self.anew = threading.Event(), threading.Event()
        self.over = threading.Event()
        self._site = site
        threading.Thread(target=self._read, daemon=True).start()

    def _read(self) -> None:
        with urllib.request.urlopen(f"{self._site}/api/jobs/events") as answer:
            assert answer.headers["Content-Type"].startswith("text/event-stream")
            kind = ""
            for line in answer:
                self.open.set()
                if line.startswith(b"event: "):
                    kind = line[7:].strip().decode()
                if line.startswith(b"data: ") and kind == "anew":
                    self.anew.set()
                if line.startswith(b"data: ") and kind == "job":
                    self.states.append(json.loads(line[6:])["state"])
                    if self.states[-1] == "done":
                        self.over.set()


def test_many_streams_hear_of_a_job_and_starve_nobody(site, database_address):
    streams = [Stream(site)]
    assert streams[0].anew.wait(10)
    streams += [Stream(site) for _ in range(39)]
    assert all(stream.open.wait(10) for stream in streams)
    body = {"plan": document(), "pool": "main", "year": 2027}
    request = urllib.request.Request(
        f"{site}/api/simulations/year",
        json.dumps(body).encode(),
        {"Content-Type": "application/json"},
    )
    # More streams than the server has threads, and it answers.
    with urllib.request.urlopen(request, timeout=10) as answer:
        job = json.load(answer)["job"]
    with Database(database_address) as database, Holder(database) as holder:
        help_with(database, holder.number, job["id"])
        assert Jobs(database).job(job["id"])["state"] == "done"
    done = [stream.over.wait(10) for stream in streams]
    assert all(done), [(stream.states, each) for stream, each in zip(streams, done, strict=True)][
        :4
    ]
    assert streams[0].states[0] in ("waiting", "running")
