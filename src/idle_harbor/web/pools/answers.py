"""From simulated pools to response values."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from decimal import Decimal
from typing import Any

from idle_harbor.core.checks import Checked
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.workload import zones_of
from idle_harbor.core.weeks.case import Case, case_of
from idle_harbor.core.weeks.side_by_side import PoolView
from idle_harbor.core.weeks.summary import Figures
from idle_harbor.formats.reports.figures import figures_values
from idle_harbor.web.shared.figures import verdicts_values


def _pool_row(
    plan: Plan, case: Case, figures: Figures, peak: float, findings: int
) -> dict[str, Any]:
    pool = case.priced.pool
    return {
        "id": pool.id,
        "kind": pool.kind,
        "groups": list(dict.fromkeys(comer.group.id for comer in case.demand.comers)),
        "people": case.named,
        "peak": peak,
        "session_limit": pool.session_limit,
        "standing": pool.hosts.standing,
        "surge": pool.hosts.surge,
        "holds": pool.hosts.most * pool.session_limit,
        "size": pool.size,
        "place": pool.place,
        "zones": list(zones_of(plan, pool)),
        "figures": figures_values(figures),
        "verdicts": verdicts_values(plan.promise, figures, case),
        "findings": findings,
    }


def pool_rows(
    plan: Plan, views: Mapping[str, PoolView], found: Sequence[Checked]
) -> list[dict[str, Any]]:
    """A row of the table for each pool that is simulated, by its id, with how many of the findings
    are about it."""
    places = {pool.id: place for place, pool in enumerate(plan.pools)}
    rows = []
    for pool_id, view in views.items():
        about = f"/pools/{places[pool_id]}/"
        own = sum(f.finding.pointer.startswith(about) for f in found)
        rows.append(_pool_row(plan, case_of(plan, pool_id), view.figures, view.peak, own))
    return rows


def pools_answer(
    plan: Plan, views: Mapping[str, PoolView], found: Sequence[Checked], weeks: int
) -> dict[str, Any]:
    """Every pool side by side over so many weeks, with how long the plan's credits last."""
    month = sum((each.figures.cost.month for each in views.values()), Decimal("0.00"))
    credits = plan.prices.credits
    rows = pool_rows(plan, views, found)
    return {
        "currency": plan.currency,
        "month": format(month, "f"),
        "weeks": weeks,
        "credit_months": round(float(credits / month), 2) if credits and month else None,
        "pools": rows,
    }
