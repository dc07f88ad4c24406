"""Two web processes behind one address: whatever one has in memory, the other answers too."""

import json
import os
import signal
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from idle_harbor.jobs.work import help_with
from idle_harbor.launch.tools import free_port
from idle_harbor.launch.webserver import end, serve
from idle_harbor.store.database import Database
from idle_harbor.store.jobs import Holder, Jobs
from tests.conftest import fresh_database
from tests.core.plans import document

#: Connections are dealt out at random: of so many in a row each process has some.
MANY = 24


class Servers:
    """Two processes that serve one port, asked over a new connection each time."""

    def __init__(self, address: str, folder: Path) -> None:
        self.port = free_port()
        self.children = [
            serve(self.port, address, folder / f"{name}.log", shared=True) for name in "ab"
        ]

    def ask(self, path: str, body: Any = None, method: str = "", **headers: str) -> Any:
        """The answer's JSON; a refusal's with its status."""
        data = body if isinstance(body, bytes) else body and json.dumps(body).encode()
        kind = "application/octet-stream" if isinstance(body, bytes) else "application/json"
        request = urllib.request.Request(
            f"http://127.0.0.1:{self.port}/api/{path}",
            data,
            {"Content-Type": kind, "Connection": "close", **headers},
            method=method or None,
        )
        try:
            with urllib.request.urlopen(request, timeout=30) as answer:
                return json.loads(answer.readline())
        except urllib.error.HTTPError as refused:
            return json.loads(refused.read())


@pytest.fixture(scope="module")
def address(cluster_address: str, migrated: str) -> Iterator[str]:
    with fresh_database(cluster_address, migrated) as found:
        yield found


@pytest.fixture(scope="module")
def servers(address: str, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Servers]:
    """One pair for all tests of this file: the last of them kills one of the two."""
    found = Servers(address, tmp_path_factory.mktemp("servers"))
    yield found
    for child in found.children:
        end(child)


def work(address: str) -> None:
    with Database(address) as database, Holder(database) as holder:
        for job in Jobs(database).jobs():
            help_with(database, holder.number, job["id"])


def test_plans_that_one_saves_the_other_reads_and_saves(servers):
    made = servers.ask("plans", {"plan": document(name="Saved"), "words": "first"})
    for number in range(1, MANY):
        assert servers.ask(f"plans/{made['id']}")["number"] == number
        changed = {"plan": document(name=f"Plan {number}"), "words": f"{number}"}
        path = f"plans/{made['id']}"
        saved = servers.ask(path, changed, "PUT", **{"If-Match": f'"{number}"'})
        assert saved["number"] == number + 1, saved
        stale = servers.ask(path, changed, "PUT", **{"If-Match": f'"{number}"'})
        assert stale["status"] == 412


def test_lanes_and_waits_of_a_week_that_the_other_has_simulated(servers):
    body = {"plan": document(), "pool": "main"}
    week = servers.ask("simulations/week", body)
    day = week["days"][2]
    window = {"start": day["start"], "end": day["end"]}
    query = f"start={day['start']}&end={day['end']}"
    looked = [servers.ask(f"simulations/{week['input_hash']}/lanes?{query}") for _ in range(MANY)]
    told = [servers.ask("simulations/lanes", body | window) for _ in range(MANY)]
    assert told[0]["lanes"]
    for each in told:
        assert each == told[0]
    # One of them had it in memory, the other not.
    assert {each.get("status") for each in looked} == {None, 404}
    assert all(each == told[0] for each in looked if "status" not in each)
    # Now both have it.
    after = [servers.ask(f"simulations/{week['input_hash']}/waiters?{query}") for _ in range(MANY)]
    assert all(each == servers.ask("simulations/waiters", body | window) for each in after)


def test_long_work_and_imports_are_everybodys(servers, address):
    body = {"plan": document(), "pool": "main", "seeds": 3}
    asked = {servers.ask("simulations/range/long", body)["job"]["id"] for _ in range(MANY)}
    assert len(asked) == 1
    (job,) = asked
    rows = b"key,name,mail,groups\np1,Ann,,a\n"
    plan = servers.ask("plans", {"plan": document(name="Imports"), "words": ""})["id"]
    begun = servers.ask(f"directory/import?plan={plan}&format=csv&name=x", rows)["latest"]
    assert begun["state"] == "reading"
    states = (servers.ask(f"directory/import?plan={plan}")["latest"] for _ in range(MANY))
    assert {each["state"] for each in states} == {"reading"}
    work(address)
    assert all(servers.ask(f"simulations/range/long/{job}")["answer"] for _ in range(MANY))
    servers.ask(f"directory/import/{begun['id']}/apply", b"")
    work(address)
    assert {servers.ask(f"directory?plan={plan}")["people"] for _ in range(MANY)} == {1}


def test_one_that_is_killed_leaves_the_other(servers):
    made = servers.ask("plans", {"plan": document(), "words": "first"})
    os.kill(servers.children[0].pid, signal.SIGKILL)
    servers.children[0].wait()
    for _ in range(MANY):
        assert servers.ask(f"plans/{made['id']}")["number"] == 1
