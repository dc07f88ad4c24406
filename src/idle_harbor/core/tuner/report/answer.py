"""Question, intermediate results and answer of a study."""

from __future__ import annotations

from dataclasses import dataclass

from idle_harbor.core.plan.declare import Freedom
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.report.explain import Explained
from idle_harbor.core.tuner.scoring.judge import Report, nearest
from idle_harbor.core.tuner.scoring.scores import Counted


@dataclass(frozen=True, slots=True)
class Question:
    """The question of a study.

    ``pool`` is the pool, ``weeks`` the kinds of week that count, ``free`` what may change,
    ``locked`` the fields that may not, ``within`` bounds of fields (path, low, high). ``axis`` is
    the field of the promise that is weighed against money. ``budget`` counts candidate-weeks,
    ``seed`` starts the random generator, and after ``seconds`` the study ends early.
    """

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
    """A design with its report on fresh weeks, and its name for the planner."""

    name: str
    design: Design
    report: Report


@dataclass(frozen=True, slots=True)
class SoFar:
    """Intermediate results of a study, on the weeks of the search.

    ``points`` are the designs on the Pareto front: money of a month, the figure on the axis, and
    whether the promise is kept. ``used`` of ``budget`` candidate-weeks are spent.
    """

    used: int
    budget: int
    candidates: int
    points: tuple[tuple[float, float, bool], ...]
    stage: str


@dataclass(frozen=True, slots=True)
class Answer:
    """The answer of a study.

    ``current`` is today's plan, ``rules`` are simple rules with their best numbers, and ``front``
    goes from the least money to the most. ``tuned`` is the cheapest design that keeps the promise,
    reported on fresh weeks of its own; None where there is none. ``ideal`` is the cost of the ideal
    line in a month with the hosts of the tuned or of today's plan, ``ideal_hours`` its host-hours
    of a week. ``weeks`` and ``candidates`` count what was evaluated; ``early`` says that the study
    ended before its budget was used.
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
        """The tuned point; where there is none, the cheapest of the points that come nearest to the
        promise."""
        if self.tuned is not None:
            return self.tuned
        told = (*self.front, *self.rules, self.current)
        reports = [point.report for point in told]
        return told[nearest([(each.standing, each.slack, each.money.mean) for each in reports])[0]]
