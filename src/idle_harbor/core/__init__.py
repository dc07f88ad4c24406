"""The front door: what a notebook imports. Values in, values out.

>>> from idle_harbor.core import read, simulate
>>> figures = simulate(read(text), "office", seeds=8)

docs/library.md goes from a plan file to a picture and a tuned plan.
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Any

from idle_harbor.core.errors import Fault, HarborError, PlanError, TooMuchError, UnknownNameError

if TYPE_CHECKING:
    from idle_harbor.core.checks import findings_of as check
    from idle_harbor.core.plan import Plan
    from idle_harbor.core.sizing.hosts import size_pool as size
    from idle_harbor.core.sizing.peak import Wish
    from idle_harbor.core.tuner import Question, in_plan, ordinary, tune
    from idle_harbor.core.weeks.drills import Failure
    from idle_harbor.core.weeks.drills import drill_week as drill
    from idle_harbor.core.weeks.picture import picture_of as picture
    from idle_harbor.core.weeks.summary import Figures, simulate
    from idle_harbor.core.weeks.years import year_of as year
    from idle_harbor.formats.plan.codec import read, write

__all__ = [
    "Failure",
    "Fault",
    "Figures",
    "HarborError",
    "Plan",
    "PlanError",
    "Question",
    "TooMuchError",
    "UnknownNameError",
    "Wish",
    "check",
    "drill",
    "in_plan",
    "ordinary",
    "picture",
    "read",
    "simulate",
    "size",
    "tune",
    "write",
    "year",
]

#: Where each name stands. It is fetched when it is first asked for: importing it takes long, or
#: compiles the engine. Plans are read by the formats, above the core: the door alone reaches there.
_LATE = {
    "Failure": "core.weeks.drills:Failure",
    "Figures": "core.weeks.summary:Figures",
    "Plan": "core.plan:Plan",
    "Question": "core.tuner:Question",
    "Wish": "core.sizing.peak:Wish",
    "check": "core.checks:findings_of",
    "drill": "core.weeks.drills:drill_week",
    "in_plan": "core.tuner:in_plan",
    "ordinary": "core.tuner:ordinary",
    "picture": "core.weeks.picture:picture_of",
    "read": "formats.plan.codec:read",
    "simulate": "core.weeks.summary:simulate",
    "size": "core.sizing.hosts:size_pool",
    "tune": "core.tuner:tune",
    "write": "formats.plan.codec:write",
    "year": "core.weeks.years:year_of",
}


def __getattr__(name: str) -> Any:
    if name not in _LATE:
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    module, _, attribute = _LATE[name].partition(":")
    return getattr(import_module(f"idle_harbor.{module}"), attribute)


def __dir__() -> list[str]:
    return __all__
