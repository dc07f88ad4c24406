"""Studies of the Tuner: how long a thousand weeks of candidates take, how soon the first point is
there, how much leaner a candidate's week is than a whole one, and what a second worker brings."""

from __future__ import annotations

import json
import os
import resource
import signal
import statistics
import subprocess
import sys
import time
from collections.abc import Iterator
from dataclasses import asdict, dataclass, replace
from itertools import count
from pathlib import Path
from tempfile import TemporaryDirectory

from benchmarks.jobs import Heard, database, through, working
from benchmarks.tuner_scenarios import POOL, of_many
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.declare import FREEDOMS
from idle_harbor.core.tuner import Question, Study, ordinary, tune
from idle_harbor.core.tuner.scoring.scores import score
from idle_harbor.core.weeks.case import case_of
from idle_harbor.core.weeks.week import week
from idle_harbor.formats.plan.codec import plan_of
from idle_harbor.jobs.kinds.study import study_wish
from idle_harbor.store.database import Database

PEOPLE, WEEKS, ROUNDS, _LOOKS = 2_000, 1_000, 5, 15


@dataclass(frozen=True, slots=True)
class Alone:
    """Of a study in a process of its own: seconds in all and until a point keeps the promise, the
    most megabytes; milliseconds of a whole week with lanes, demand and ideal line, and of a
    candidate's."""

    seconds: float
    first: float
    megabytes: float
    whole: float
    lean: float


@dataclass(frozen=True, slots=True)
class StudyTimes:
    """A study alone, and how much faster two workers are with one than one is."""

    alone: Alone
    doubled: float


def _plan() -> tuple[Plan, Question]:
    plan = plan_of(of_many(PEOPLE))
    return plan, Question(POOL, ordinary(plan), FREEDOMS, budget=WEEKS)


def _alone() -> Alone:
    plan, asked = _plan()
    # Loads what is compiled.
    tune(plan, replace(asked, budget=60))
    begun = time.perf_counter()
    first: list[float] = []

    def look(study: Study) -> None:
        if not first and any(keeps for _, _, keeps in study.so_far().points):
            first.append(time.perf_counter() - begun)

    tune(plan, asked, told=look)
    seconds = time.perf_counter() - begun
    megabytes = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    case = case_of(plan, POOL)
    whole, lean = [], []
    for k in range(_LOOKS):
        one = time.perf_counter()
        week(case, 100 + k, record=True)
        two = time.perf_counter()
        score(case, 100 + k)
        whole.append(two - one)
        lean.append(time.perf_counter() - two)
    return Alone(
        seconds,
        first[0] if first else float("inf"),
        megabytes,
        1000 * statistics.median(whole),
        1000 * statistics.median(lean),
    )


def _round(heard: Heard, opened: Database, numbers: Iterator[int], second: int) -> float:
    """How much faster two workers are than one while the second stands still."""
    plan, asked = _plan()

    def seconds() -> float:
        # By another name the same search is another job.
        return through(heard, opened, study_wish(replace(plan, name=f"{next(numbers)}"), asked))

    os.kill(second, signal.SIGSTOP)
    try:
        one = seconds()
    finally:
        os.kill(second, signal.SIGCONT)
    return one / seconds()


def time_studies() -> StudyTimes:
    """Measure all of it."""
    told = subprocess.run(
        [sys.executable, "-m", "benchmarks.studies", "alone"],
        check=True,
        capture_output=True,
        text=True,
    ).stdout
    alone = Alone(**json.loads(told.splitlines()[-1]))
    plan, asked = _plan()
    numbers = count(1)
    with TemporaryDirectory() as folder, database() as (address, opened, _):
        heard = Heard(address)
        with working(2, address, Path(folder) / "workers.log") as workers:
            through(heard, opened, study_wish(plan, replace(asked, budget=200)))
            found = [_round(heard, opened, numbers, workers.pids[1]) for _ in range(ROUNDS)]
    return StudyTimes(alone, statistics.median(found))


if __name__ == "__main__":
    if sys.argv[1:] == ["alone"]:
        print(json.dumps(asdict(_alone())))
    else:
        print(time_studies())
