"""Rules are looked at anew only where something that they read has changed.

A page sends its plan with every edit, and an edit changes one of its lists.
"""

from __future__ import annotations

from itertools import repeat
from typing import Any, cast

from idle_harbor.core.errors import PlanError
from idle_harbor.core.plan import Plan
from idle_harbor.core.rules.whole import FAMILIES, Family, faults_of
from idle_harbor.formats.plan.codec import Sent

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


def check_sent(sent: Sent) -> None:
    """Raise PlanError with everything that is wrong with a plan whose parts do not fit."""
    if not all(_finds_nothing(family, sent) for family in FAMILIES):
        raise PlanError(faults_of(sent.plan))


def _says(sent: Sent, fields: tuple[str, ...]) -> tuple[Any, ...]:
    return tuple(map(sent.says.get, fields, repeat(_ABSENT)))


def _finds_nothing(family: Family, sent: Sent) -> bool:
    known = _found_nothing.get(family, ())
    if any(_says(sent, fields) == says for fields, says in known):
        return True
    reading = _Reading(sent.plan)
    nothing = next(family(cast("Plan", reading)), None) is None
    if nothing:
        fields = tuple(sorted(reading.fields))
        # Another thread may put its own in its place: then one of them looks once more.
        _found_nothing[family] = ((fields, _says(sent, fields)), *known[: _MOST - 1])
    return nothing
