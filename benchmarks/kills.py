"""What is killed loses nothing: workers, web server and database end at random moments while long
work goes on, and what was told as done stays done, to the last bit."""

from __future__ import annotations

import json
import os
import random
import signal
import time
import urllib.request
from contextlib import suppress
from dataclasses import dataclass
from itertools import count
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from benchmarks.jobs import database
from idle_harbor.core.tuner import Question, ordinary
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import plan_of
from idle_harbor.jobs.kind import Part, Rounds
from idle_harbor.jobs.kinds.pools import POOLS
from idle_harbor.jobs.kinds.registry import KINDS
from idle_harbor.jobs.kinds.study import study_wish
from idle_harbor.jobs.kinds.weeks import RANGE, ManyWeeks
from idle_harbor.jobs.kinds.year import YEAR, PoolYear
from idle_harbor.jobs.queue import ask
from idle_harbor.launch.cluster import Cluster
from idle_harbor.launch.tools import free_port
from idle_harbor.launch.webserver import end, serve
from idle_harbor.launch.workers import Workers
from idle_harbor.store.database import Database, StoreError
from idle_harbor.store.jobs import Jobs, TooManyJobs, Wish

_PLAN = plan_of(demo_plan())
#: Seconds after the last kill within which everything has to be done.
_PATIENCE = 120.0


@dataclass(frozen=True, slots=True)
class Kills:
    """How often what was killed, finished parts that were lost or have changed, jobs that were
    never done, and jobs whose result is not what one process says."""

    killed: dict[str, int]
    lost: int
    stuck: int
    wrong: int
    jobs: int


def _wishes(random_: random.Random, first: int, weeks: int) -> list[Wish]:
    names = [pool.id for pool in _PLAN.pools]
    budget = max(150, 3 * weeks)
    return [
        YEAR.wish(PoolYear(_PLAN, random_.choice(names), 2020 + first % 40)),
        RANGE.wish(ManyWeeks(_PLAN, random_.choice(names), weeks + first)),
        RANGE.wish(ManyWeeks(_PLAN, random_.choice(names), 2 * weeks + first)),
        POOLS.wish(_PLAN),
        study_wish(
            _PLAN, Question(random_.choice(names), ordinary(_PLAN), budget=budget, seed=first)
        ),
    ]


def _kept(opened: Database, wanted: list[int]) -> dict[tuple[int, int], str]:
    jobs = Jobs(opened)
    return {
        (job, row["part"]): json.dumps(row["body"], sort_keys=True)
        for job in wanted
        for row in jobs.parts(job)
    }


def _patiently(work: Any, *given: Any) -> Any:
    """Work that is tried until the database answers again."""
    until = time.monotonic() + 60
    while True:
        try:
            return work(*given)
        except StoreError:
            if time.monotonic() > until:
                raise
            time.sleep(0.1)


def kill(times: int = 50, seed: int = 1, weeks: int = 100) -> Kills:
    """Kill so often, each time something else and at another moment, and look what is left.

    A range that is asked for has some more than so many ``weeks``, or twice as many.
    """
    random_ = random.Random(seed)
    killed = {"worker": 0, "web": 0, "database": 0, "all": 0}
    with TemporaryDirectory() as folder, database() as (address, opened, cluster):
        log = Path(folder)
        workers = Workers(2, address, log / "workers.log")
        port = free_port()
        web = serve(port, address, log / "web.log")
        asked: dict[int, Wish] = {}
        lost = 0
        try:
            for number in range(times):
                for wish in random_.sample(_wishes(random_, number, weeks), 2):
                    with suppress(TooManyJobs):
                        asked[_patiently(ask, opened, wish)["id"]] = wish
                time.sleep(random_.uniform(0.05, 1.0))
                before = _patiently(_kept, opened, list(asked))
                what = random_.choice(list(killed))
                killed[what] += 1
                if what in ("worker", "all"):
                    os.kill(random_.choice(workers.pids), signal.SIGKILL)
                if what in ("web", "all"):
                    os.kill(web.pid, signal.SIGKILL)
                    web.wait()
                if what in ("database", "all"):
                    _kill_database(cluster)
                    cluster.start()
                if what in ("web", "all"):
                    web = serve(port, address, log / "web.log")
                workers.look()
                after = _patiently(_kept, opened, list(asked))
                lost += sum(after.get(part) != body for part, body in before.items())
                _listed(port)
            stuck = _wait(opened, list(asked), workers)
            wrong = sum(not _right(opened, job, wish) for job, wish in asked.items())
        finally:
            workers.end()
            end(web)
    return Kills(killed, lost, stuck, wrong, len(asked))


def _kill_database(cluster: Cluster) -> None:
    pid = int(Path(cluster.whereabouts.data, "postmaster.pid").read_text().splitlines()[0])
    os.kill(pid, signal.SIGKILL)
    until = time.monotonic() + 20
    while cluster.running() and time.monotonic() < until:
        time.sleep(0.02)


def _listed(port: int) -> None:
    """The web server tells of jobs, whatever was killed."""
    until = time.monotonic() + 30
    while True:
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/jobs", timeout=10) as answer:
                assert json.load(answer)["jobs"]
            return
        except OSError:
            if time.monotonic() > until:
                raise
            time.sleep(0.1)


def _wait(opened: Database, wanted: list[int], workers: Workers) -> int:
    """Wait until all is done; returns how many jobs are not."""
    jobs, until = Jobs(opened), time.monotonic() + _PATIENCE
    while time.monotonic() < until:
        workers.look()
        left = [job for job in wanted if _patiently(jobs.job, job)["state"] != "done"]
        if not left:
            return 0
        time.sleep(0.3)
    return len(left)


def _right(opened: Database, job: int, wish: Wish) -> bool:
    """Whether the parts of a job are what this process makes of some of them."""
    kind = KINDS[wish.kind]
    assert kind.open is not None
    part = kind.open(wish.input)
    if kind.rounds is not None:
        return _same_answer(kind.rounds(wish.input), part, Jobs(opened).result(job)["result"])
    rows = Jobs(opened).parts(job)
    looked = rows if len(rows) <= 12 else random.Random(job).sample(rows, 12)
    return len(rows) == wish.parts and all(part(row["part"]) == row["body"] for row in looked)


def _same_answer(rounds: Rounds, part: Part, answer: Any) -> bool:
    """Whether an answer is what all rounds come to in this process."""
    going, number, done = rounds.run(), count(), None
    while True:
        try:
            pieces = going.send(done)  # type: ignore[arg-type]
        except StopIteration as over:
            return bool(json.loads(json.dumps(over.value)) == answer)
        done = [part((next(number), piece)) for piece in pieces]


if __name__ == "__main__":
    print(kill())
