"""What is asked for as a job: the wish that says it, alike for the same work."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

from idle_harbor.core.checks import steps_of
from idle_harbor.core.demand.crowd import stretches_of
from idle_harbor.core.plan import Plan
from idle_harbor.core.tuner import Question
from idle_harbor.core.weeks.kinds import KINDS as DESKTOPS
from idle_harbor.core.weeks.week import DAYS
from idle_harbor.core.weeks.years import mondays_of
from idle_harbor.formats.plan.codec import content_hash, to_values
from idle_harbor.formats.reports.studies import question_values
from idle_harbor.runtime import engine_version
from idle_harbor.store.jobs import Wish


@dataclass(frozen=True, slots=True)
class Asker:
    """Who asks, and for what place of the application (a path of its pages) it is shown."""

    owner: str
    link: str = ""


#: Whoever asks on the command line or from a notebook.
NOBODY = Asker("")
#: What somebody looks at goes before what goes on beside.
_LOOKED_AT, _BESIDE = 1, 0


def _wish(
    kind: str, title: str, by: Asker, priority: int, parts: int, given: Mapping[str, Any]
) -> Wish:
    engine = engine_version()
    key = content_hash({"kind": kind, "engine": engine, **given})
    return Wish(kind, key, title, by.owner, priority, given, parts, by.link, engine)


def year_wish(plan: Plan, pool: str, year: int, by: Asker = NOBODY) -> Wish:
    """A year of a pool of a checked plan, week by week."""
    given = {"plan": to_values(plan), "pool": pool, "year": year}
    title = f"{plan.name}: the year {year} of {pool}"
    return _wish("year", title, by, _LOOKED_AT, len(mondays_of(year)), given)


def range_wish(
    plan: Plan,
    pool: str,
    seeds: int,
    by: Asker = NOBODY,
    *,
    first: date | None = None,
    days: int = DAYS,
    urgent: bool = False,
) -> Wish:
    """Figures of a pool of a checked plan over seeds 1 to ``seeds``."""
    begin = first and first.isoformat()
    given = {"plan": to_values(plan), "pool": pool, "seeds": seeds, "first": begin, "days": days}
    title = f"{plan.name}: {pool} over {seeds:,} weeks"
    return _wish("range", title, by, _LOOKED_AT if urgent else _BESIDE, seeds, given)


def pools_wish(plan: Plan, by: Asker = NOBODY) -> Wish:
    """Every pool of a checked plan side by side."""
    parts = len(plan.pools) + len(steps_of(plan))
    title = f"{plan.name}: all {len(plan.pools):,} pools"
    return _wish("pools", title, by, _LOOKED_AT, parts, {"plan": to_values(plan)})


def checks_wish(plan: Plan, by: Asker = NOBODY) -> Wish:
    """Everything that would go wrong with a checked plan."""
    given = {"plan": to_values(plan)}
    return _wish("checks", f"{plan.name}: checks", by, _BESIDE, len(steps_of(plan)), given)


def desktops_wish(plan: Plan, pool: str, group: str, by: Asker = NOBODY) -> Wish:
    """A group of a pool of a checked plan as each kind of desktop."""
    given = {"plan": to_values(plan), "pool": pool, "group": group}
    title = f"{plan.name}: {group} of {pool} as each kind"
    return _wish("desktops", title, by, _LOOKED_AT, len(DESKTOPS), given)


def study_wish(
    plan: Plan, question: Question, by: Asker = NOBODY, plan_id: int | None = None
) -> Wish:
    """The best settings of a pool of a checked plan."""
    given = {
        "plan": to_values(plan),
        "question": question_values(question),
        "plan_id": plan_id,
    }
    title = f"{plan.name}: the best settings of {question.pool}"
    # As many parts as it turns out to have; until then about so many.
    return _wish("study", title, by, _LOOKED_AT, max(question.budget // 12, 8), given)


def crowd_wish(plan: Plan, zone: str, first: date, days: int, by: Asker = NOBODY) -> Wish:
    """Who is at work over many days of a checked plan, by the hour."""
    given = {"plan": to_values(plan), "zone": zone, "first": first.isoformat(), "days": days}
    title = f"{plan.name}: people over {days:,} days from {first.isoformat()}"
    return _wish("crowd", title, by, _LOOKED_AT, len(stretches_of(first, days)), given)
