"""Figures of simulated weeks as they are told, and the promise against them."""

from __future__ import annotations

from dataclasses import asdict, is_dataclass
from decimal import ROUND_HALF_UP, Decimal
from typing import Any, get_args, get_origin, get_type_hints

from pydantic import create_model

from idle_harbor.core.engine.kernel.codes import LostCause
from idle_harbor.core.figures.causes import LOST_CAUSES
from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.plan import Promise
from idle_harbor.core.weeks.summary import Figures
from idle_harbor.core.weeks.week import Case
from idle_harbor.web.shared.models import Interval, Model

_CENT = Decimal("0.01")


def _told(kind: Any) -> Any:
    """The type as which a value of the core is told."""
    if kind is Estimate:
        return Interval
    if kind is Decimal:
        return str
    if get_origin(kind) is tuple:
        return list[_told(get_args(kind)[0])]  # type: ignore[misc]
    return _model(kind) if isinstance(kind, type) and is_dataclass(kind) else kind


def _model(kind: type) -> type[Model]:
    """A model with the fields of one of the core's values."""
    hints = get_type_hints(kind)
    fields: dict[str, Any] = {name: (_told(hint), ...) for name, hint in hints.items()}
    return create_model(kind.__name__, __base__=Model, __doc__=kind.__doc__, **fields)


#: Figures of a week, over one or several seeds.
FiguresModel: Any = _model(Figures)


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
        **asdict(figures.against(promise)),
        "efficiency": None if efficiency.value is None else round(efficiency.value, 6),
        "efficiency_withheld": efficiency.withheld,
        "cost_per_person": per_person,
        "losses": _losses(figures),
    }
