"""Long work: what the queue costs, what a second worker brings, how soon a stop is heard."""

from __future__ import annotations

import os
import signal
import statistics
import time
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from contextlib import AbstractContextManager, contextmanager
from dataclasses import dataclass
from datetime import date
from multiprocessing import get_context
from pathlib import Path
from tempfile import TemporaryDirectory

import psycopg

from benchmarks.weeks import office_of
from idle_harbor.core.base.stopping import on_one_thread
from idle_harbor.core.plan import Plan
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import plan_of
from idle_harbor.jobs.kinds.registry import KINDS
from idle_harbor.jobs.kinds.weeks import RANGE, ManyWeeks
from idle_harbor.jobs.kinds.year import YEAR, PoolYear
from idle_harbor.jobs.queue import ask
from idle_harbor.launch.cluster import Cluster
from idle_harbor.launch.workers import Workers
from idle_harbor.runtime import prepare_engine
from idle_harbor.store.database import Database, migrate
from idle_harbor.store.jobs import JobRow, Jobs, Wish

#: Weeks of so many people, in rounds: together a thousand.
PEOPLE, WEEKS, ROUNDS = 2_000, 200, 9
_ASKS = 15


@dataclass(frozen=True, slots=True)
class JobTimes:
    """Milliseconds from asking to the first part kept; weeks a second in a loop, through the queue
    on one worker and on two; how much of the loop's pace goes through the queue, and how much
    faster two are than one; how much faster two loops at once are than one, which is what the
    machine allows; seconds until a stopped job's worker does something else; seconds of a year of
    the demo's office."""

    first: float
    loop: float
    one: float
    two: float
    queued: float
    doubled: float
    loops: float
    stop: float
    year: float


@contextmanager
def database() -> Iterator[tuple[str, Database, Cluster]]:
    """A database of its own, gone afterwards."""
    cluster = Cluster(f"bench-{os.getpid()}")
    try:
        address = cluster.start()
        migrate(address)
        with Database(address) as opened:
            yield address, opened, cluster
    finally:
        cluster.remove()


class Heard:
    """What is said of jobs as they get on: nothing is asked meanwhile that would take the worker's
    processor."""

    def __init__(self, address: str) -> None:
        self._session = psycopg.connect(address, autocommit=True)
        self._session.execute("LISTEN idle_harbor_jobs")

    def until(self, jobs: Jobs, job_id: int, reached: Callable[[JobRow], bool]) -> float:
        """When a job is as far."""
        while not reached(jobs.job(job_id)):
            list(self._session.notifies(timeout=5.0, stop_after=1))
        return time.perf_counter()


def _begun(row: JobRow) -> bool:
    return bool(row["done"])


def _over(row: JobRow) -> bool:
    return row["state"] not in ("waiting", "running")


def through(heard: Heard, opened: Database, wish: Wish) -> float:
    """Seconds from asking for a job to its end."""
    begun = time.perf_counter()
    job = ask(opened, wish)
    return heard.until(Jobs(opened), job["id"], _over) - begun


@contextmanager
def working(many: int, address: str, log: Path) -> Iterator[Workers]:
    """So many workers."""
    workers = Workers(many, address, log)
    try:
        yield workers
    finally:
        workers.end()


def _weeks(plan: Plan, count: int, begin: date) -> Wish:
    """So many weeks of a plan, as another job for another date."""
    return RANGE.wish(ManyWeeks(plan, plan.pools[0].id, count, first=begin))


def _loop(wish: Wish) -> float:
    """Seconds of the same work without a queue: reading the input, each part, the figures of all.
    A part beforehand warms the caches, as an earlier job did for the worker."""
    kind = KINDS[wish.kind]
    assert kind.open is not None
    assert kind.whole is not None
    with on_one_thread():
        kind.open(wish.input)(0)
        begun = time.perf_counter()
        part = kind.open(wish.input)
        kind.whole(wish.input, [part(number) for number in range(wish.parts)])
        return time.perf_counter() - begun


def _half(wish: Wish, numbers: Sequence[int]) -> None:
    """Some parts of a job, in a process that has no queue."""
    kind = KINDS[wish.kind]
    assert kind.open is not None
    with on_one_thread():
        part = kind.open(wish.input)
        for number in numbers:
            part(number)


def _two_loops(both: ProcessPoolExecutor, wish: Wish) -> float:
    """Seconds of the same work in two processes at once without a queue: what the machine allows
    two workers."""
    begun = time.perf_counter()
    halves = (range(0, wish.parts, 2), range(1, wish.parts, 2))
    list(both.map(_half, [wish] * 2, halves))
    return time.perf_counter() - begun


def time_jobs() -> JobTimes:
    """Measure all of it; ratios are the medians of rounds."""
    plan, demo = plan_of(office_of(PEOPLE)), plan_of(demo_plan())
    mondays = iter(date.fromordinal(date(2027, 1, 4).toordinal() + 7 * k) for k in range(100))
    firsts: list[float] = []
    stops: list[float] = []
    with TemporaryDirectory() as folder, database() as (address, opened, _):
        log, heard, jobs = Path(folder) / "workers.log", Heard(address), Jobs(opened)
        with working(1, address, log):
            through(heard, opened, _weeks(plan, 8, next(mondays)))
            for seeds in range(2, 2 + _ASKS):
                begun = time.perf_counter()
                job = ask(opened, RANGE.wish(ManyWeeks(demo, "counters", seeds)))
                firsts.append(1000 * (heard.until(jobs, job["id"], _begun) - begun))
                heard.until(jobs, job["id"], _over)
            year = through(heard, opened, YEAR.wish(PoolYear(demo, "office", 2027)))
            for _ in range(3):
                job = ask(opened, _weeks(plan, 4_000, next(mondays)))
                heard.until(jobs, job["id"], _begun)
                begun = time.perf_counter()
                jobs.end(job["id"], "stopped")
                other = ask(opened, _weeks(plan, 1, next(mondays)))
                stops.append(heard.until(jobs, other["id"], _begun) - begun)
        rounds = _rounds(heard, opened, plan, mondays, working(2, address, log))
    loop, one, two, _ = (WEEKS / statistics.median(times) for times in zip(*rounds, strict=True))
    return JobTimes(
        first=statistics.median(firsts),
        stop=max(stops),
        year=year,
        loop=loop,
        one=one,
        two=two,
        queued=statistics.median(loop / one for loop, one, *_ in rounds),
        doubled=statistics.median(one / two for _, one, two, _ in rounds),
        loops=statistics.median(loop / both for loop, _, _, both in rounds),
    )


def _rounds(
    heard: Heard,
    opened: Database,
    plan: Plan,
    mondays: Iterator[date],
    begun: AbstractContextManager[Workers],
) -> list[tuple[float, float, float, float]]:
    """Seconds of each round: a loop, one worker, two workers, two loops at once."""
    rounds = []
    spawned = get_context("spawn")
    with (
        begun as workers,
        ProcessPoolExecutor(2, spawned, initializer=prepare_engine) as both,
    ):
        through(heard, opened, _weeks(plan, 200, next(mondays)))
        _two_loops(both, _weeks(plan, 20, next(mondays)))
        for _ in range(ROUNDS):
            found = _round(heard, opened, plan, mondays, workers.pids[1])
            rounds.append((*found, _two_loops(both, _weeks(plan, WEEKS, next(mondays)))))
    return rounds


def _round(
    heard: Heard, opened: Database, plan: Plan, mondays: Iterator[date], second: int
) -> tuple[float, float, float]:
    """Seconds of the same number of weeks in a loop, by one worker while the second stands still,
    and by both: close together, since the pace of a shared machine wanders. The loop is timed
    before the one worker and after it, and the mean taken."""
    before = _loop(_weeks(plan, WEEKS, next(mondays)))
    os.kill(second, signal.SIGSTOP)
    try:
        one = through(heard, opened, _weeks(plan, WEEKS, next(mondays)))
    finally:
        os.kill(second, signal.SIGCONT)
    looped = (before + _loop(_weeks(plan, WEEKS, next(mondays)))) / 2
    return looped, one, through(heard, opened, _weeks(plan, WEEKS, next(mondays)))


if __name__ == "__main__":
    print(time_jobs())
