"""Groups: copy and remove, everywhere in the plan."""

from __future__ import annotations

from dataclasses import replace

from idle_harbor.core.plan import Access, Group, Plan
from idle_harbor.core.plan.lookup import find_group


def beside(plan: Plan, group: str, new: Group, old: Group) -> Plan:
    """Return the plan with ``old`` in place of a group and ``new`` after it; the new group may open
    what the first may, and the same events are for both."""
    groups: list[Group] = []
    for each in plan.groups:
        groups += [old, new] if each.id == group else [each]
    access: list[Access] = []
    for use in plan.access:
        access += [use, replace(use, group=new.id)] if use.group == group else [use]
    events = tuple(
        replace(event, groups=(*event.groups, new.id)) if group in event.groups else event
        for event in plan.events
    )
    return replace(plan, groups=tuple(groups), access=tuple(access), events=events)


def copied_group(plan: Plan, group: str, new: str) -> Plan:
    """Return the plan with a copy beside a group; nobody is in both."""
    like = find_group(plan, group)
    return beside(plan, group, replace(like, id=new), like)


def without_group(plan: Plan, group: str) -> Plan:
    """Return the plan without a group, its access, its overlaps, its assigned hosts, and events for
    it alone."""

    def others(names: tuple[str, ...]) -> tuple[str, ...]:
        return tuple(name for name in names if name != group)

    return replace(
        plan,
        groups=tuple(each for each in plan.groups if each.id != group),
        access=tuple(each for each in plan.access if each.group != group),
        overlaps=tuple(each for each in plan.overlaps if group not in each.groups),
        # An event without groups is for everyone: one that was for this group alone is not.
        events=tuple(
            replace(each, groups=others(each.groups))
            for each in plan.events
            if each.groups != (group,)
        ),
        pools=tuple(
            replace(pool, assigned=tuple(a for a in pool.assigned if a.group != group))
            for pool in plan.pools
        ),
    )
