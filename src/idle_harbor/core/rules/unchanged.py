"""Rules are checked again only where something that they read has changed.

A page sends its plan with every edit, and an edit changes one of its lists.
"""

from __future__ import annotations

from collections.abc import Mapping
from itertools import repeat
from typing import Any, cast

from idle_harbor.core.errors import PlanError
from idle_harbor.core.plan import Plan
from idle_harbor.core.rules.whole import FAMILIES, Family, faults_of

#: Plans side by side of which it is known what a family of rules read when it found nothing: the
#: fields, and what they said.
_MOST = 8
_found_nothing: dict[Family, tuple[tuple[tuple[str, ...], tuple[Any, ...]], ...]] = {}
_ABSENT = object()


class _Reading:
    """A plan that notes which of its fields are read."""

    def __init__(self, plan: Plan) -> None:
        self._plan = plan
        self.fields: set[str] = set()

    def __getattr__(self, field: str) -> Any:
        self.fields.add(field)
        return getattr(self._plan, field)


def check_changed(plan: Plan, says: Mapping[str, Any]) -> None:
    """Raise PlanError with everything that is wrong with a plan whose parts do not fit.

    ``says`` has, for each field of the plan, its value or a hash of it: two plans whose fields say
    the same are the same.
    """
    if not all(_finds_nothing(family, plan, says) for family in FAMILIES):
        raise PlanError(faults_of(plan))


def _said(says: Mapping[str, Any], fields: tuple[str, ...]) -> tuple[Any, ...]:
    return tuple(map(says.get, fields, repeat(_ABSENT)))


def _finds_nothing(family: Family, plan: Plan, says: Mapping[str, Any]) -> bool:
    known = _found_nothing.get(family, ())
    if any(_said(says, fields) == before for fields, before in known):
        return True
    reading = _Reading(plan)
    nothing = next(family(cast("Plan", reading)), None) is None
    if nothing:
        fields = tuple(sorted(reading.fields))
        # Another thread may put its own in its place: then one of them looks once more.
        _found_nothing[family] = ((fields, _said(says, fields)), *known[: _MOST - 1])
    return nothing
