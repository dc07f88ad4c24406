"""Groups that follow the directory: which are behind it, and a plan that has caught up."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from idle_harbor.core.plan import Group, Headcount, Overlap, Plan

#: Where overlaps come from that a later look at the directory replaces.
SOURCE = "directory"
_TYPED = "typed"


@dataclass(frozen=True, slots=True)
class Behind:
    """A group whose headcount the directory tells otherwise: ``now`` is None where the directory
    has no such group any more."""

    group: str
    follows: str
    was: int
    now: int | None


def followed(plan: Plan) -> dict[str, str]:
    """The plan's group for each directory group that one of them follows."""
    return {
        group.demand.follows: group.id
        for group in plan.groups
        if isinstance(group.demand, Headcount) and group.demand.follows
    }


def behind(plan: Plan, people: Mapping[str, int]) -> list[Behind]:
    """The plan's groups that differ from the directory's ``people`` by group."""
    found: list[Behind] = []
    for group in plan.groups:
        demand = group.demand
        if isinstance(demand, Headcount) and demand.follows:
            now = people.get(demand.follows)
            if now != demand.people:
                found.append(Behind(group.id, demand.follows, demand.people, now))
    return found


def caught_up(
    plan: Plan, people: Mapping[str, int], classes: Iterable[tuple[Sequence[str], int]]
) -> Plan:
    """The plan with the directory's headcounts and overlaps.

    ``classes`` has the directory groups that people are in, and how many are in exactly these.
    Overlaps that were typed stay as they are.
    """
    names = followed(plan)
    typed = tuple(each for each in plan.overlaps if each.source == _TYPED)
    known = {frozenset(each.groups) for each in typed}
    shared = [
        Overlap(tuple(names.get(key, key) for key in keys), count, SOURCE)
        for keys, count in classes
        if len(keys) > 1
    ]
    return replace(
        plan,
        groups=tuple(_counted(group, people) for group in plan.groups),
        overlaps=typed + tuple(each for each in shared if frozenset(each.groups) not in known),
    )


def _counted(group: Group, people: Mapping[str, int]) -> Group:
    demand = group.demand
    if not isinstance(demand, Headcount) or demand.follows is None:
        return group
    now = people.get(demand.follows, demand.people)
    return replace(group, demand=replace(demand, people=now))
