"""Host sizes: taken away with what places ask for them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from idle_harbor.core.errors import UnknownNameError
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.declare import Id


@dataclass(frozen=True, slots=True)
class RemoveSize:
    """Take a host size away, with what places ask for it."""

    verb: Literal["remove-size"]
    size: Id

    def done(self, plan: Plan) -> Plan:
        """The plan without the size; a pool that uses it no longer fits."""
        names = [each.id for each in plan.sizes]
        if self.size not in names:
            raise UnknownNameError("size", self.size, names)
        return replace(
            plan,
            sizes=tuple(each for each in plan.sizes if each.id != self.size),
            places=tuple(
                replace(place, offers=tuple(o for o in place.offers if o.size != self.size))
                for place in plan.places
            ),
        )
