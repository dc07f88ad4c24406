"""A year of a pool, week by week."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from idle_harbor.core.plan import Plan
from idle_harbor.core.weeks.years import WeekOfYear, mondays_of, week_of_year
from idle_harbor.formats.plan.codec import plan_of, to_values
from idle_harbor.jobs.asking import LongQuestion
from idle_harbor.jobs.kind import Input


@dataclass(frozen=True, slots=True)
class PoolYear:
    """Every week of a year of a pool."""

    plan: Plan
    pool: str
    year: int


def _write(asked: PoolYear) -> dict[str, Any]:
    return {"plan": to_values(asked.plan), "pool": asked.pool, "year": asked.year}


def _read(given: Input) -> PoolYear:
    return PoolYear(plan_of(given["plan"]), given["pool"], given["year"])


def _open(asked: PoolYear) -> Callable[[int], WeekOfYear]:
    mondays = mondays_of(asked.year)
    return lambda number: week_of_year(asked.plan, asked.pool, mondays[number])


YEAR: LongQuestion[PoolYear, WeekOfYear] = LongQuestion(
    name="year",
    title=lambda asked: f"{asked.plan.name}: the year {asked.year} of {asked.pool}",
    write=_write,
    read=_read,
    parts=lambda asked: len(mondays_of(asked.year)),
    open=_open,
    value=WeekOfYear,
    # Fifty weeks with their ideal lines.
    short=lambda _: False,
)
