"""What follows from the parts of a plan alone: no week is simulated for it."""

from __future__ import annotations

from idle_harbor.core.plan import Access, Event, Group, Headcount, Plan, Pool


def pattern_names(group: Group) -> tuple[str, ...]:
    """The patterns of a group, in the plan's order; people who drop in have none."""
    demand = group.demand
    return tuple(each.id for each in demand.patterns) if isinstance(demand, Headcount) else ()


def patterns_for(plan: Plan, event: Event) -> tuple[str, ...]:
    """The patterns that an event may put people on: those that all its groups have; of an event
    for everyone those that any group has."""
    groups = [each for each in plan.groups if not event.groups or each.id in event.groups]
    lists = [pattern_names(each) for each in groups]
    found = dict.fromkeys(name for names in lists for name in names)
    if not event.groups:
        return tuple(found)
    return tuple(name for name in found if all(name in names for names in lists))


def profile_of(plan: Plan, use: Access) -> str | None:
    """The workload profile that a use has: its own, or the group's; None for a group that is not
    there."""
    groups = (each.profile for each in plan.groups if each.id == use.group)
    return use.profile or next(groups, None)


def profiles_in(plan: Plan, pool: Pool) -> dict[str, list[str]]:
    """The workload profiles that run in a pool, each with the groups that bring it."""
    found: dict[str, list[str]] = {}
    for use in plan.access:
        profile = profile_of(plan, use) if use.pool == pool.id else None
        if profile is not None and use.group not in found.setdefault(profile, []):
            found[profile].append(use.group)
    return found
