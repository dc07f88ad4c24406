"""Groups: remove and rename, everywhere in the plan."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from idle_harbor.core.errors import UnknownNameError
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.declare import Id
from idle_harbor.core.plan.edits.finding import must_be_free


def _known(plan: Plan, group: str) -> list[str]:
    names = [each.id for each in plan.groups]
    if group not in names:
        raise UnknownNameError("group", group, names)
    return names


@dataclass(frozen=True, slots=True)
class RemoveGroup:
    """Remove a group with its access, its overlaps, its assigned hosts, and events for it alone."""

    verb: Literal["remove-group"]
    group: Id

    def done(self, plan: Plan) -> Plan:
        """Return the plan without the group."""
        _known(plan, self.group)
        gone = self.group

        def others(names: tuple[str, ...]) -> tuple[str, ...]:
            return tuple(name for name in names if name != gone)

        return replace(
            plan,
            groups=tuple(each for each in plan.groups if each.id != gone),
            access=tuple(each for each in plan.access if each.group != gone),
            overlaps=tuple(each for each in plan.overlaps if gone not in each.groups),
            # An event without groups is for everyone: one that was for this group alone is not.
            events=tuple(
                replace(each, groups=others(each.groups))
                for each in plan.events
                if each.groups != (gone,)
            ),
            pools=tuple(
                replace(pool, assigned=tuple(a for a in pool.assigned if a.group != gone))
                for pool in plan.pools
            ),
        )


@dataclass(frozen=True, slots=True)
class RenameGroup:
    """Rename a group everywhere in the plan."""

    verb: Literal["rename-group"]
    group: Id
    to: Id

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the group's new name."""
        names = _known(plan, self.group)
        others = [each for each in names if each != self.group]
        must_be_free(self.to, others, "/groups", "a group")

        def name(before: str) -> str:
            return self.to if before == self.group else before

        return replace(
            plan,
            groups=tuple(replace(each, id=name(each.id)) for each in plan.groups),
            access=tuple(replace(each, group=name(each.group)) for each in plan.access),
            overlaps=tuple(
                replace(each, groups=tuple(name(n) for n in each.groups)) for each in plan.overlaps
            ),
            events=tuple(
                replace(each, groups=tuple(name(n) for n in each.groups)) for each in plan.events
            ),
            pools=tuple(
                replace(
                    pool, assigned=tuple(replace(a, group=name(a.group)) for a in pool.assigned)
                )
                for pool in plan.pools
            ),
        )
