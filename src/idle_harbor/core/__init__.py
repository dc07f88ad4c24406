"""The heart: values in, values out. What a notebook imports stands here, and nothing else.

from idle_harbor.core import simulate
from idle_harbor.formats.plan.codec import parse_plan, checked

figures = simulate(checked(parse_plan(text)), "office", seeds=8)
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Any

from idle_harbor.core.errors import Fault, HarborError, PlanError, TooMuchError, UnknownNameError

if TYPE_CHECKING:
    from idle_harbor.core.checks import findings_of
    from idle_harbor.core.plan import Plan
    from idle_harbor.core.sizing.hosts import sizing_of
    from idle_harbor.core.tuner import tune
    from idle_harbor.core.weeks.drills import drill_week
    from idle_harbor.core.weeks.summary import Figures, simulate

__all__ = [
    "Fault",
    "Figures",
    "HarborError",
    "Plan",
    "PlanError",
    "TooMuchError",
    "UnknownNameError",
    "drill_week",
    "findings_of",
    "simulate",
    "sizing_of",
    "tune",
]

#: What is fetched when it is first asked for: importing it takes long, or compiles the engine.
_LATE = {
    "Figures": "weeks.summary",
    "Plan": "plan",
    "drill_week": "weeks.drills",
    "findings_of": "checks",
    "simulate": "weeks.summary",
    "sizing_of": "sizing.hosts",
    "tune": "tuner",
}


def __getattr__(name: str) -> Any:
    if name not in _LATE:
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    return getattr(import_module(f"{__name__}.{_LATE[name]}"), name)
