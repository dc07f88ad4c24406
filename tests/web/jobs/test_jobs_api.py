"""Jobs over HTTP: asked for, followed, stopped; and streams that hold no thread."""

from __future__ import annotations

import json
import threading
import urllib.request
from pathlib import Path

import pytest

from idle_harbor.jobs.work import help_with
from idle_harbor.launch.tools import free_port
from idle_harbor.launch.webserver import end, serve
from idle_harbor.store.database import Database
from idle_harbor.store.jobs import Holder, Jobs
from tests.core.plans import document


def asked(client, year=2027, owner="tab"):
    body = {"plan": document(), "pool": "main", "year": year, "owner": owner}
    answer = client.post("/api/jobs/year", json=body)
    assert answer.status_code == 202, answer.text
    return answer.json["job"]


def test_a_year_is_asked_for_and_its_weeks_come_as_they_are_done(client, database_address):
    job = asked(client)
    assert (job["state"], job["done"], job["parts"], job["left"]) == ("waiting", 0, 53, None)
    assert asked(client)["id"] == job["id"]
    assert client.get(f"/api/jobs/{job['id']}/weeks").json["weeks"] == []
    with Database(database_address) as database, Holder(database) as holder:
        help_with(database, holder.number, job["id"])
    told = client.get(f"/api/jobs/{job['id']}/weeks?since=50").json
    assert told["job"]["state"] == "done" and told["places"] == [50, 51, 52]
    assert told["weeks"][-1]["first"] == "2027-12-27"
    assert [each["id"] for each in client.get("/api/jobs").json["jobs"]] == [job["id"]]
    assert client.get(f"/api/jobs/{job['id']}").json["job"]["ended_at"]


def test_a_job_is_stopped_and_asked_for_again(client):
    job = asked(client)
    assert client.post(f"/api/jobs/{job['id']}/stop").json["job"]["state"] == "stopped"
    assert client.post(f"/api/jobs/{job['id']}/stop").json["job"]["state"] == "stopped"
    assert asked(client)["state"] == "waiting"


def test_what_cannot_be_asked(client):
    assert client.get("/api/jobs/999").status_code == 404
    assert client.post("/api/jobs/999/stop").json["title"] == "No such job"
    body = {"plan": document(), "pool": "gone", "year": 2027}
    assert client.post("/api/jobs/year", json=body).status_code == 422
    assert client.post("/api/jobs/year", json=body | {"year": 1500}).status_code == 422
    for k in range(20):
        asked(client, 2000 + k, "greedy")
    full = client.post("/api/jobs/year", json=body | {"pool": "main", "owner": "greedy"})
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
        f"{site}/api/jobs/year", json.dumps(body).encode(), {"Content-Type": "application/json"}
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
