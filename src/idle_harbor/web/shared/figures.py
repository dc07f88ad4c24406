"""Figures of simulated weeks as they are told, and the promise against them."""

from __future__ import annotations

from decimal import ROUND_HALF_UP, Decimal
from typing import Any

from idle_harbor.core.engine.kernel.codes import LostCause
from idle_harbor.core.figures.causes import LOST_CAUSES
from idle_harbor.core.plan import Promise
from idle_harbor.core.weeks.case import Case
from idle_harbor.core.weeks.summary import Figures
from idle_harbor.formats.reports.figures import values_of

_CENT = Decimal("0.01")


def _losses(figures: Figures) -> list[dict[str, Any]]:
    """What people lost who came back, by what had ended it; nothing where it ended nobody's."""
    found = ((cause, figures.returns.lost_by(cause).mean) for cause in LostCause)
    return [
        {
            "cause": cause.name.lower(),
            "text": LOST_CAUSES[cause][0],
            "mend": LOST_CAUSES[cause][1],
            "people": round(people, 2),
        }
        for cause, people in found
        if people
    ]


def verdicts_values(promise: Promise, figures: Figures, case: Case) -> dict[str, Any]:
    """What the plan promises the pool's people against the figures, with why returns were lost;
    efficiency, and what a month costs for each person."""
    promise = case.priced.pool.owed(promise)
    efficiency = figures.efficiency(promise)
    per_person = None
    if people := case.named:
        per_person = format((figures.cost.month / people).quantize(_CENT, ROUND_HALF_UP), "f")
    return {
        **{name: values_of(each) for name, each in figures.against(promise).parts.items()},
        "efficiency": None if efficiency.value is None else round(efficiency.value, 6),
        "efficiency_withheld": efficiency.withheld,
        "cost_per_person": per_person,
        "losses": _losses(figures),
    }
