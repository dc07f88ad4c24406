"""The heart: values in, values out. What a notebook imports stands here, and nothing else.

from idle_harbor.core.weeks import simulate

figures = simulate(plan, "office", seeds=8)
"""

from __future__ import annotations

from idle_harbor.core.errors import Fault, HarborError, PlanError, TooMuchError, UnknownNameError
from idle_harbor.core.plan import Plan

__all__ = ["Fault", "HarborError", "Plan", "PlanError", "TooMuchError", "UnknownNameError"]
