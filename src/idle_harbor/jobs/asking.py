"""What is asked for as a job: the wish that says it, alike for the same work."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any

from idle_harbor.core.weeks import DAYS
from idle_harbor.core.years import mondays_of
from idle_harbor.formats.plan.codec import content_hash
from idle_harbor.runtime import engine_version
from idle_harbor.store.jobs import Wish


def _wish(
    kind: str, title: str, owner: str, priority: int, parts: int, given: Mapping[str, Any]
) -> Wish:
    key = content_hash({"kind": kind, "engine": engine_version(), **given})
    return Wish(kind, key, title, owner, priority, given, parts)


def year_wish(plan: Mapping[str, Any], pool: str, year: int, owner: str, priority: int = 1) -> Wish:
    """A year of a pool of a checked plan (its values), week by week."""
    given = {"plan": dict(plan), "pool": pool, "year": year}
    title = f"{plan['name']}: the year {year} of {pool}"
    return _wish("year", title, owner, priority, len(mondays_of(year)), given)


def range_wish(
    plan: Mapping[str, Any],
    pool: str,
    seeds: int,
    *,
    owner: str,
    first: date | None = None,
    days: int = DAYS,
    priority: int = 0,
) -> Wish:
    """Figures of a pool of a checked plan (its values) over seeds 1 to ``seeds``."""
    begin = first and first.isoformat()
    given = {"plan": dict(plan), "pool": pool, "seeds": seeds, "first": begin, "days": days}
    title = f"{plan['name']}: {pool} over {seeds:,} weeks"
    return _wish("range", title, owner, priority, seeds, given)
