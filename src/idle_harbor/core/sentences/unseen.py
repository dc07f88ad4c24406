"""Savings that rest on people who do nothing of what a short timeout meets."""

from __future__ import annotations

from collections.abc import Iterable

from idle_harbor.core.plan import Headcount, Pattern, Plan
from idle_harbor.core.sentences.listed import listed
from idle_harbor.core.tuner.designs.changes import Change, Value

_SAID = {
    "long_call": "sits in a long call",
    "reading": "reads away from the screen",
    "works_late": "works late after a break",
}
#: Longer than any timeout, in seconds: stands for a session that no timeout ends.
_NEVER = 10**9


def _shorter(before: int | None, after: int | None) -> bool:
    return (_NEVER if after is None else after) < (_NEVER if before is None else before)


def _shortens(value: Value) -> bool:
    field = value.field
    if field.endswith("_timeout") or field.startswith("timeouts."):
        return _shorter(value.before, value.after)
    if field == "timeouts":
        return value.after is not None
    return False


def _patterns(plan: Plan, pool_id: str) -> list[Pattern]:
    """The patterns of the people who come to a pool."""
    groups = {access.group for access in plan.access if access.pool == pool_id}
    demands = (group.demand for group in plan.groups if group.id in groups)
    return [p for demand in demands if isinstance(demand, Headcount) for p in demand.patterns]


def rests_on(plan: Plan, pool_id: str, changes: Iterable[Change]) -> str:
    """Return a sentence about what the demand lacks that shorter timeouts would hurt, or nothing.

    Args:
        plan: the plan.
        pool_id: the pool.
        changes: the changes of a step; only shorter timeouts have such a sentence.
    """
    added = [change.after for change in changes if change.before is None]
    shortens = any(_shortens(value) for change in changes for value in change.values)
    if not shortens and not any(getattr(part, "timeouts", None) for part in added):
        return ""
    habits = [pattern.habits for pattern in _patterns(plan, pool_id)]
    lacking = [text for name, text in _SAID.items() if not any(getattr(h, name) for h in habits)]
    if not habits or not lacking:
        return ""
    return f"In this demand nobody {listed(lacking, 'or')}; a shorter timeout would meet them."
