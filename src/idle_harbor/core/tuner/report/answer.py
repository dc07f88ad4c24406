"""Question, intermediate results and answer of a study."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeAlias

from idle_harbor.core.plan.declare import Freedom
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.report.explain import Explained
from idle_harbor.core.tuner.report.year import CheckedWeek
from idle_harbor.core.tuner.scoring.judge import Report, nearest
from idle_harbor.core.tuner.scoring.scores import Counted


@dataclass(frozen=True, slots=True)
class Question:
    """The question of a study.

    ``pool`` is the pool, ``weeks`` the kinds of week that count, ``checked`` the weeks of the year
    in which the answer is checked afterwards. Without ``weeks`` the study chooses them. ``free`` is
    what may change, ``locked`` the fields that may not, ``within`` bounds of fields (path, low,
    high). ``axis`` is the field of the promise that is weighed against money; if it is empty, the
    study chooses the one that trades most. ``budget`` counts candidate-weeks, ``seed`` starts the
    random generator, and after ``seconds`` the study ends early. Pools ``together`` with it share
    its schedule and are tuned with it; only the first one's own settings change.
    """

    pool: str
    weeks: tuple[Counted, ...] = ()
    free: tuple[Freedom, ...] = ("schedule",)
    locked: tuple[str, ...] = ()
    within: tuple[tuple[str, float, float], ...] = ()
    axis: str = ""
    budget: int = 3_000
    seed: int = 1
    seconds: int | None = None
    checked: tuple[Counted, ...] = ()
    together: tuple[str, ...] = ()

    @property
    def simulated(self) -> tuple[Counted, ...]:
        """All weeks that the study simulates: those that count, and those that are checked."""
        return (*self.weeks, *self.checked)


@dataclass(frozen=True, slots=True)
class Point:
    """A design with its report on fresh weeks, and its name for the planner."""

    name: str
    design: Design
    report: Report


#: Money of a month, the figure on the axis, and whether the promise is kept.
PlacedSoFar: TypeAlias = tuple[float, float, bool]


@dataclass(frozen=True, slots=True)
class SoFar:
    """Intermediate results of a study, on the weeks of the search.

    ``points`` are the designs on the Pareto front: money of a month, the figure on the axis, and
    whether the promise is kept. ``today`` and the simple ``rules`` are so too, as far as they are
    known; ``ideal`` is what the ideal line costs with today's hosts, and ``best`` the best design
    that keeps the promise. ``used`` of ``budget`` candidate-weeks are spent. ``seconds_left``
    is what the study still takes at the pace of its last seconds.
    """

    used: int
    budget: int
    candidates: int
    points: tuple[PlacedSoFar, ...]
    stage: str
    seconds_left: float | None = None
    today: PlacedSoFar | None = None
    rules: tuple[tuple[str, PlacedSoFar], ...] = ()
    ideal: float | None = None
    best: Design | None = None


@dataclass(frozen=True, slots=True)
class Answer:
    """The answer of a study.

    ``current`` is today's plan, ``rules`` are simple rules with their best numbers, and ``front``
    goes from the least money to the most. ``tuned`` is the cheapest design that keeps the promise,
    reported on fresh weeks of its own; None where there is none. ``ideal`` is the cost of the ideal
    line in a month with the hosts of the tuned or of today's plan, ``ideal_hours`` its host-hours
    of a week. ``weeks`` and ``candidates`` count what was evaluated; ``early`` says that the study
    ended before its budget was used. ``year`` has today's and the tuned plan in each kind of week,
    those that break the promise first; ``excused`` are weeks in which not even the safest plan
    keeps it. ``axis`` is the part of the promise that is weighed against money.
    ``by_limit`` is the tuned plan with one session fewer on a host, as it is, and with one more.
    Where no plan was found, ``helps`` are the further freedoms with each of which one keeps it.
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
    year: tuple[CheckedWeek, ...] = ()
    excused: tuple[Counted, ...] = ()
    axis: str = "wait_p95_seconds"
    helps: tuple[Freedom, ...] = ()
    by_limit: tuple[Point, ...] = ()

    @property
    def nearest(self) -> Point:
        """The tuned point; where there is none, the cheapest of the points that come nearest to the
        promise."""
        if self.tuned is not None:
            return self.tuned
        told = (*self.front, *self.rules, self.current)
        reports = [point.report for point in told]
        return told[nearest([(each.standing, each.slack, each.money.mean) for each in reports])[0]]
