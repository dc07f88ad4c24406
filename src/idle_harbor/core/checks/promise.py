"""Checks of whether simulated weeks keep what people are promised."""

from __future__ import annotations

from collections.abc import Iterator

from idle_harbor.core.checks.finding import Family, Finding
from idle_harbor.core.figures.promise import PARTS, Part, Verdict
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.lookup import promise_of
from idle_harbor.core.weeks.case import case_of
from idle_harbor.core.weeks.side_by_side import amount_for, weeks_of_pool
from idle_harbor.core.weeks.summary import Figures, figures_of


def nothing(_: Plan) -> Iterator[Finding]:
    """No finding about the plan as a whole: promises are kept pool by pool."""
    yield from ()


def promise_findings(plan: Plan, place: int) -> Iterator[Finding]:
    """Parts of the promise that a pool of the plan breaks, or keeps by chance only.

    The weeks are those that the table of all pools shows.
    """
    pool = plan.pools[place]
    case = case_of(plan, pool.id)
    if not case.demand.comers:
        return
    figures = figures_of(case, weeks_of_pool(case, amount_for(plan)))
    verdicts = figures.against(promise_of(plan, pool.id))
    missed = [part for part in PARTS if verdicts[part.field].standing != "kept"]
    if not missed:
        return
    worst = [part for part in missed if not verdicts[part.field].kept]
    broken, missed = bool(worst), worst or missed
    told = "; ".join(_told(part, verdicts[part.field]) for part in missed)
    yield Finding(
        "promise-broken" if broken else "promise-at-risk",
        "harm" if broken else "doubt",
        f"/pools/{place}/schedule",
        f"'{pool.called}' {'breaks' if broken else 'hardly keeps'} its promise in simulated weeks: "
        f"{told}",
        _matters(figures),
        "look at its week on the Board, have the Tuner search its schedule, or promise less",
    )


def _figure(part: Part, value: float | None) -> str:
    return "without bound" if value is None else part.text(value)


def _told(part: Part, verdict: Verdict) -> str:
    """A part with its figure and what is promised of it."""
    found = verdict.figure
    interval = ""
    if verdict.standing == "at risk" and found.half_width is not None:
        interval = f" ± {_figure(part, found.half_width)}"
    limit = _figure(part, verdict.limit)
    return f"{part.spoken} {_figure(part, found.mean)}{interval} ({limit} promised)"


def _matters(figures: Figures) -> str:
    refused = (figures.refused.mean or 0.0) + (figures.still_waiting.mean or 0.0)
    waited = figures.wait_seconds.mean.mean or 0.0
    asked = figures.arrivals.mean or 0.0
    if refused >= 1.0:
        return f"of {asked:,.0f} logons a week {refused:,.0f} get no desktop"
    return f"{asked:,.0f} logons a week wait {waited:,.0f} s on average"


FAMILY = Family("promise", "Whether people get what they are promised", nothing, promise_findings)
