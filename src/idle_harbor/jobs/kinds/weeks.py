"""Many weeks of a pool: figures over so many seeds."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from functools import cached_property
from typing import Any

from idle_harbor.core.plan import Plan
from idle_harbor.core.weeks.case import DAYS, Case, case_of, check_amount
from idle_harbor.core.weeks.summary import figures_of
from idle_harbor.core.weeks.week import Outcome, week
from idle_harbor.formats.plan.codec import plan_of, to_values
from idle_harbor.formats.reports.figures import figures_values
from idle_harbor.jobs.asking import BESIDE, LongQuestion
from idle_harbor.jobs.kind import Input

#: Weeks that are simulated while a page waits.
MOST_AT_ONCE = 64


@dataclass(frozen=True)
class ManyWeeks:
    """Weeks of a pool with seeds 1 to ``seeds``, of ``days`` days from ``first`` on (the Monday of
    the plan's week else)."""

    plan: Plan
    pool: str
    seeds: int
    first: date | None = None
    days: int = DAYS

    @cached_property
    def case(self) -> Case:
        """The pool, resolved."""
        return case_of(self.plan, self.pool, first=self.first, days=self.days)


def _write(asked: ManyWeeks) -> dict[str, Any]:
    return {
        "plan": to_values(asked.plan),
        "pool": asked.pool,
        "seeds": asked.seeds,
        "first": asked.first and asked.first.isoformat(),
        "days": asked.days,
    }


def _read(given: Input) -> ManyWeeks:
    first = given["first"] and date.fromisoformat(given["first"])
    return ManyWeeks(plan_of(given["plan"]), given["pool"], given["seeds"], first, given["days"])


def _open(asked: ManyWeeks) -> Callable[[int], Outcome]:
    case = asked.case
    check_amount(case, 1)
    return lambda number: week(case, number + 1).outcome()


def _result(asked: ManyWeeks, outcomes: Sequence[Outcome]) -> Any:
    return figures_values(figures_of(asked.case, outcomes))


RANGE: LongQuestion[ManyWeeks, Outcome] = LongQuestion(
    name="range",
    title=lambda asked: f"{asked.plan.name}: {asked.pool} over {asked.seeds:,} weeks",
    write=_write,
    read=_read,
    parts=lambda asked: asked.seeds,
    open=_open,
    value=Outcome,
    short=lambda asked: asked.seeds <= MOST_AT_ONCE,
    result=_result,
    priority=BESIDE,
)
