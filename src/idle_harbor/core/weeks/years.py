"""A year of a pool, week by week: each is simulated once and told in a few figures."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from idle_harbor.core.base.stopping import in_threads
from idle_harbor.core.demand.draws import SHOWN_SEED
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.lookup import promise_of
from idle_harbor.core.weeks.case import case_of
from idle_harbor.core.weeks.picture import days_of
from idle_harbor.core.weeks.summary import figures_of
from idle_harbor.core.weeks.week import week


@dataclass(frozen=True, slots=True)
class WeekOfYear:
    """A week by its Monday: most sessions and most people waiting at once, the share of paid host
    time that nobody used, the wait that 95 % of logons stay within in seconds (None: unknown, or
    without bound), refused and strained shares, what a month of such weeks costs as text, and
    whether each part of the promise is kept."""

    first: date
    sessions: float
    waiting: float
    idle_share: float
    wait_p95: float | None
    unbounded: bool
    refused_share: float
    strained_share: float
    month: str
    kept: bool


def mondays_of(year: int) -> list[date]:
    """The Mondays of all weeks in which dates of a year lie; the first may be of the last year."""
    first = date(year, 1, 1)
    monday = first - timedelta(days=first.weekday())
    last = date(year, 12, 31)
    return [monday + timedelta(weeks=k) for k in range((last - monday).days // 7 + 1)]


def week_of_year(plan: Plan, pool_id: str, monday: date) -> WeekOfYear:
    """Simulate the week from a Monday on; see :func:`.week.case_of` for errors."""
    case = case_of(plan, pool_id, first=monday)
    result = week(case, SHOWN_SEED)
    days = days_of(case, result)
    figures = figures_of(case, [result])
    wait = figures.wait_seconds.p95
    hours = figures.host_hours
    billed = hours.billed.mean or 0.0
    used = (hours.in_use.mean or 0.0) + (hours.lingering.mean or 0.0)
    return WeekOfYear(
        first=monday,
        sessions=max(day.peak_sessions for day in days),
        waiting=max(day.peak_waiting for day in days),
        idle_share=1.0 - used / billed if billed else 0.0,
        wait_p95=wait.mean,
        unbounded=wait.unbounded,
        refused_share=figures.refused_share.mean or 0.0,
        strained_share=figures.strained_share.mean or 0.0,
        month=format(figures.cost.month, "f"),
        kept=figures.against(promise_of(plan, pool_id)).whole,
    )


def year_of(plan: Plan, pool_id: str, year: int) -> list[WeekOfYear]:
    """A pool's year, week by week, each simulated once; on two threads.

    Raises UnknownNameError for a pool that the plan lacks, TooMuchError beyond the bound of a call.
    """
    return in_threads(lambda monday: week_of_year(plan, pool_id, monday), mondays_of(year))
