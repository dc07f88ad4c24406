"""What a study is asked, what it tells before it is over, and what it answers."""

from __future__ import annotations

from dataclasses import dataclass

from idle_harbor.core.plan.declare import Freedom
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.report.explain import Explained
from idle_harbor.core.tuner.scoring.judge import Report, nearest
from idle_harbor.core.tuner.scoring.scores import Counted


@dataclass(frozen=True, slots=True)
class Question:
    """What is asked of a study: which pool, what may change, which weeks count, how many weeks of
    candidates it may take, which part of the promise is weighed against the money, the number that
    its random choices begin with, and after how many seconds it is ended early, if any."""

    pool: str
    weeks: tuple[Counted, ...]
    free: tuple[Freedom, ...] = ("schedule",)
    locked: tuple[str, ...] = ()
    within: tuple[tuple[str, float, float], ...] = ()
    axis: str = "wait_p95_seconds"
    budget: int = 3_000
    seed: int = 1
    seconds: int | None = None


@dataclass(frozen=True, slots=True)
class Point:
    """A design with what fresh weeks say of it: ``name`` says what it is to the planner."""

    name: str
    design: Design
    report: Report


@dataclass(frozen=True, slots=True)
class SoFar:
    """What a study has found before it is over, on the weeks of the search: money of a month and
    the axis of each design that no other beats, and whether it keeps its promise there."""

    used: int
    budget: int
    candidates: int
    points: tuple[tuple[float, float, bool], ...]
    stage: str


@dataclass(frozen=True, slots=True)
class Answer:
    """What a study has found.

    ``front`` goes from the least money to the most; ``tuned`` is the cheapest of it that fresh
    weeks say is kept, told by weeks of its own, None where there is none; ``ideal`` is what the
    ideal line costs in a month with the hosts of what is told, or of the plan, ``ideal_hours`` its
    host-hours of a week; ``weeks`` and ``candidates`` tell what was tried, ``early`` whether it was
    ended before its budget.
    """

    current: Point
    rules: tuple[Point, ...]
    front: tuple[Point, ...]
    tuned: Point | None
    ideal: float
    ideal_hours: float
    explained: Explained | None
    weeks: int
    candidates: int
    early: bool

    @property
    def nearest(self) -> Point:
        """What is told to keep the promise; where nothing is, the cheapest of what comes nearest to
        it."""
        if self.tuned is not None:
            return self.tuned
        told = (*self.front, *self.rules, self.current)
        reports = [point.report for point in told]
        return told[nearest([(each.standing, each.slack, each.money.mean) for each in reports])[0]]
