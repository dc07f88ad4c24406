"""Long work on two machines: this one, and another that is a network namespace of its own behind a
link with a delay. Needs root; everything is taken down afterwards.

``python -m benchmarks.two_machines``
"""

from __future__ import annotations

import os
import subprocess
import sys
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from benchmarks.weeks import office_of
from idle_harbor.formats.plan.codec import plan_of
from idle_harbor.jobs.executors import Machines
from idle_harbor.jobs.kinds.weeks import RANGE, ManyWeeks
from idle_harbor.jobs.queue import ask
from idle_harbor.jobs.work import help_with
from idle_harbor.launch.cluster import Cluster
from idle_harbor.launch.machines import make_key
from idle_harbor.launch.tools import free_port
from idle_harbor.launch.webserver import end
from idle_harbor.processes import end_with_parent
from idle_harbor.store.database import Database, migrate
from idle_harbor.store.jobs import Holder, Jobs

#: Addresses of the two ends of the link, and its delay one way.
NEAR, FAR, DELAY = "10.77.0.1", "10.77.0.2", "0.5ms"
_SPACE, _LINK, _OTHER = "idle-far", "idle-near", "idle-link"
PEOPLE, WEEKS = 2_000, 300
_PATIENCE = 60.0


@dataclass(frozen=True, slots=True)
class Shared:
    """Who worked, weeks a second, kilobytes over the link for each week, and the result."""

    who: str
    weeks: float
    kilobytes: float
    result: Any


def _ip(*words: str) -> None:
    subprocess.run(["ip", *words], check=True)


@contextmanager
def link() -> Iterator[None]:
    """Another machine, behind a link with a delay each way."""
    _ip("netns", "add", _SPACE)
    try:
        _ip("link", "add", _LINK, "type", "veth", "peer", "name", _OTHER, "netns", _SPACE)
        _ip("addr", "add", f"{NEAR}/24", "dev", _LINK)
        _ip("link", "set", _LINK, "up")
        for words in (f"addr add {FAR}/24 dev {_OTHER}", f"link set {_OTHER} up", "link set lo up"):
            _ip("-n", _SPACE, *words.split())
        for inside, device in (([], _LINK), (["ip", "netns", "exec", _SPACE], _OTHER)):
            command = f"tc qdisc add dev {device} root netem delay {DELAY}"
            done = subprocess.run([*inside, *command.split()], capture_output=True, check=False)
            if done.returncode:
                print("no delay on the link: this system has no netem", file=sys.stderr)
        yield
    finally:
        _ip("netns", "del", _SPACE)


def _over() -> int:
    folder = Path(f"/sys/class/net/{_LINK}/statistics")
    return sum(int((folder / f"{way}_bytes").read_text()) for way in ("rx", "tx"))


@contextmanager
def database() -> Iterator[tuple[str, str, Database]]:
    """A database that both machines reach: its address here, from there, and opened."""
    cluster = Cluster(f"bench-{os.getpid()}", f"127.0.0.1,{NEAR}")
    try:
        cluster.start()
        rules = Path(cluster.whereabouts.data, "pg_hba.conf")
        rules.write_text(f"{rules.read_text()}\nhost all all {FAR}/32 scram-sha-256\n")
        cluster.stop()
        address = cluster.start()
        migrate(address)
        place = cluster.whereabouts
        there = f"postgresql://postgres:{place.password}@{NEAR}:{place.port}/postgres"
        with Database(address) as opened:
            yield address, there, opened
    finally:
        cluster.remove()


@contextmanager
def running(*commands: tuple[bool, Sequence[str], str], log: Path) -> Iterator[None]:
    """Processes here, or (with True) on the other machine; each may be told its database."""
    children: list[subprocess.Popen[bytes]] = []
    try:
        for far, words, address in commands:
            inside = ["ip", "netns", "exec", _SPACE] if far else []
            with log.open("ab") as output:
                child = subprocess.Popen(
                    [*inside, sys.executable, *words],
                    stdin=subprocess.PIPE,
                    stdout=output,
                    stderr=output,
                    start_new_session=True,
                    preexec_fn=end_with_parent,
                )
            assert child.stdin is not None
            child.stdin.write(f"{address}\n".encode())
            child.stdin.close()
            children.append(child)
        yield
    finally:
        for child in children[::-1]:
            end(child)


class _Bench:
    def __init__(self, opened: Database) -> None:
        self.opened = opened
        self.plan = plan_of(office_of(PEOPLE))
        self.first = date(2027, 1, 4)

    def _ask(self, weeks: int) -> int:
        """The same work each time, as another job: the result of the last one is forgotten."""
        with self.opened.connection() as connection:
            connection.execute("DELETE FROM jobs")
            connection.execute("DELETE FROM procrastinate_jobs")
        wish = RANGE.wish(ManyWeeks(self.plan, self.plan.pools[0].id, weeks, first=self.first))
        return int(ask(self.opened, wish)["id"])

    def through(self, who: str, machines: Machines | None = None) -> Shared:
        """Weeks through whoever is there, once they are warm."""
        before, begun = _over(), time.perf_counter()
        for weeks in (40, WEEKS):
            before, begun = _over(), time.perf_counter()
            job = self._ask(weeks)
            if machines is not None:
                with Holder(self.opened) as holder:
                    help_with(self.opened, holder.number, job, executor=machines)
            until = time.monotonic() + _PATIENCE
            while Jobs(self.opened).state(job) != "done":
                assert time.monotonic() < until, f"{who}: {Jobs(self.opened).job(job)}"
                time.sleep(0.02)
        took = time.perf_counter() - begun
        result = Jobs(self.opened).result(job)["result"]
        return Shared(who, WEEKS / took, (_over() - before) / 1000 / WEEKS, result)


def measure() -> list[Shared]:
    """The same weeks by each machine alone, by both, and by a scheduler's machines."""
    found = []
    worker = ("-m", "idle_harbor.jobs.worker")
    with TemporaryDirectory() as folder, link(), database() as (here, there, opened):
        log, bench = Path(folder) / "log", _Bench(opened)
        near, far = (False, worker, here), (True, worker, there)
        for who, commands in (("near", [near]), ("far", [far]), ("both", [near, far])):
            with running(*commands, log=log):
                found.append(bench.through(f"a worker: {who}"))
        port = free_port()
        make_key(key := Path(folder) / "key")
        scheduler = f"tls://{NEAR}:{port}"
        begin = "from idle_harbor.launch.machines import *; "
        dispatch = ("-c", f"{begin}dispatch_at('{NEAR}', {port}, '{key}')")

        def compute(address: str) -> tuple[str, str]:
            return ("-c", f"{begin}compute_for('{scheduler}', 1, '{address}', '{key}')")

        for who, places in (("far", [FAR]), ("both", [NEAR, FAR])):
            commands = [(place == FAR, compute(place), "") for place in places]
            with running((False, dispatch, ""), *commands, log=log):
                time.sleep(3)
                machines = Machines(scheduler, str(key))
                while machines.room < len(places):
                    time.sleep(0.1)
                found.append(bench.through(f"a scheduler's machines: {who}", machines))
    return found


if __name__ == "__main__":
    every = measure()
    for one in every:
        same = "the same" if one.result == every[0].result else "ANOTHER RESULT"
        print(f"{one.who:34}{one.weeks:7.1f} weeks/s{one.kilobytes:8.1f} kB a week   {same}")
