"""Splitting and merging groups without changing who comes when more than is asked."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from idle_harbor.core.errors import Fault, PlanError, UnknownNameError
from idle_harbor.core.plan import (
    Access,
    DropIn,
    Event,
    Group,
    Headcount,
    Overlap,
    Pattern,
    Plan,
)
from idle_harbor.core.plan.edits.finding import id_for, must_be_unique
from idle_harbor.core.plan.edits.groups import beside
from idle_harbor.core.plan.overlaps import counted_once, shared_by_group


def _find(plan: Plan, name: str) -> Group:
    for group in plan.groups:
        if group.id == name:
            return group
    raise UnknownNameError("group", name, [group.id for group in plan.groups])


def _refuse(message: str, remedy: str, pointer: str = "/groups") -> PlanError:
    return PlanError([Fault(pointer, message, remedy)])


def _check_new(plan: Plan, name: str, besides: Sequence[str] = ()) -> None:
    if any(group.id == name and name not in besides for group in plan.groups):
        raise _refuse(f"there is already a group '{name}'", "choose another name")


def split_group(plan: Plan, name: str, people: int, new_name: str) -> Plan:
    """Move so many people (or, of a drop-in group, that share in per mille) to a new group.

    Both keep the patterns, pools and events. People shared with other groups stay in the first.
    ``new_name`` is what people call the new group; its id is made from that. Raises
    UnknownNameError, or PlanError where the split cannot be.
    """
    group = _find(plan, name)
    must_be_unique(new_name, plan.groups, "/groups", "a group")
    new = id_for(new_name, [each.id for each in plan.groups])
    apart = replace(group, id=new, name=new_name)
    demand = group.demand
    if isinstance(demand, DropIn):
        if not 0 < people < 1000:
            raise _refuse(f"{people} per mille cannot be split off", "give 1 to 999 per mille")
        share = people / 1000.0
        return beside(
            plan,
            name,
            replace(apart, demand=_scaled(demand, share)),
            replace(group, demand=_scaled(demand, 1.0 - share)),
        )
    shared = shared_by_group(plan.overlaps).get(name, 0)
    most = demand.people - shared
    if not 0 < people < demand.people or people > most:
        raise _refuse(
            f"{people} of {demand.people} people cannot be split off"
            + (f": {shared} of them are in other groups too" if shared else ""),
            f"give 1 to {min(most, demand.people - 1)} people",
        )
    rest = replace(demand, people=demand.people - people, follows=None)
    moved = replace(demand, people=people, follows=None)
    return beside(plan, name, replace(apart, demand=moved), replace(group, demand=rest))


def _scaled(demand: DropIn, factor: float) -> DropIn:
    rates = tuple(tuple(rate * factor for rate in day) for day in demand.arrivals_per_hour)
    return replace(demand, arrivals_per_hour=rates)


def merge_groups(plan: Plan, names: Sequence[str], new_name: str) -> Plan:
    """One group of all people of several, each keeping their patterns by share.

    The groups have to be alike in site, profile, growth, holidays and pools, since one group has
    one of each. People in several of them are counted once. Raises UnknownNameError, or
    PlanError saying what differs.
    """
    if len(set(names)) < 2:
        raise _refuse("a merge needs two groups or more", "choose another group to merge with")
    groups = [_find(plan, name) for name in dict.fromkeys(names)]
    _check_new(plan, new_name, besides=names)
    _check_alike(plan, groups)
    first = groups[0]
    merged = replace(first, id=new_name, demand=_merged(plan, groups))
    kept = [group for group in plan.groups if group.id not in names or group is first]
    return replace(
        plan,
        groups=tuple(merged if group is first else group for group in kept),
        access=tuple(
            replace(each, group=new_name) if each.group == first.id else each
            for each in plan.access
            if each.group not in names or each.group == first.id
        ),
        events=tuple(_renamed(event, names, new_name) for event in plan.events),
        overlaps=_overlaps(plan.overlaps, names, new_name),
    )


def _uses(plan: Plan, group: Group) -> set[Access]:
    return {replace(e, group="") for e in plan.access if e.group == group.id}


def _check_alike(plan: Plan, groups: Sequence[Group]) -> None:
    first = groups[0]
    for group in groups[1:]:
        both = f"'{first.called}' and '{group.called}'"
        for what, one, other in (
            ("site", first.site, group.site),
            ("workload profile", first.profile, group.profile),
            ("growth", first.growth, group.growth),
            ("work on holidays", first.works_holidays, group.works_holidays),
            ("data rule", set(first.data_areas), set(group.data_areas)),
            ("kind of demand", type(first.demand), type(group.demand)),
            ("pools", _uses(plan, first), _uses(plan, group)),
        ):
            if one != other:
                raise _refuse(
                    f"{both} differ in their {what}", "make them alike first, or keep them apart"
                )
        for event in plan.events:
            if event.groups and (first.id in event.groups) != (group.id in event.groups):
                raise _refuse(
                    f"the event '{event.called}' is for one of {both} only",
                    "let it be for both, or keep them apart",
                )
    for group in groups:
        if isinstance(group.demand, Headcount) and group.demand.rotation is not None:
            raise _refuse(
                f"'{group.called}' works in a rotation, which one group cannot share",
                "keep it apart",
            )


def _merged(plan: Plan, groups: Sequence[Group]) -> Headcount | DropIn:
    demands = [group.demand for group in groups]
    visits = [demand for demand in demands if isinstance(demand, DropIn)]
    if visits:
        if len({visit.session for visit in visits}) > 1:
            raise _refuse("the groups' visits last differently", "keep them apart")
        rates = tuple(
            tuple(sum(v.arrivals_per_hour[day][hour] for v in visits) for hour in range(24))
            for day in range(7)
        )
        known = [v.different_people for v in visits if v.different_people is not None]
        different = sum(known) if len(known) == len(visits) else None
        return replace(visits[0], arrivals_per_hour=rates, different_people=different)
    counts = [demand for demand in demands if isinstance(demand, Headcount)]
    people = sum(count.people for count in counts)
    patterns: list[Pattern] = []
    taken: set[str] = set()
    for group, count in zip(groups, counts, strict=True):
        weight = count.people / people if people else 1.0 / len(counts)
        for pattern in _resting(count.patterns, counts):
            name = pattern.id if pattern.id not in taken else f"{group.id}-{pattern.id}"[:63]
            taken.add(name)
            patterns.append(replace(pattern, id=name, share=pattern.share * weight))
    return Headcount(counted_once(plan.overlaps, [g.id for g in groups], people), tuple(patterns))


def _resting(patterns: tuple[Pattern, ...], counts: Sequence[Headcount]) -> list[Pattern]:
    """Patterns that rest, listed with attendance 0, on weekdays on which only the others work."""
    result = list(patterns)
    working = [day for day in range(7) if any(p.attendance[day] is not None for p in patterns)]
    for day in range(7):
        others = any(p.attendance[day] is not None for c in counts for p in c.patterns)
        if day in working or not others or not working:
            continue
        like = working[0]
        result = [
            replace(p, attendance=_listed(p.attendance, day))
            if p.attendance[like] is not None
            else p
            for p in result
        ]
    return result


def _listed(attendance: tuple[float | None, ...], day: int) -> tuple[float | None, ...]:
    return tuple(0.0 if k == day else chance for k, chance in enumerate(attendance))


def _renamed(event: Event, names: Sequence[str], new_name: str) -> Event:
    if not any(name in names for name in event.groups):
        return event
    others = tuple(name for name in event.groups if name not in names)
    return replace(event, groups=(*others, new_name))


def _overlaps(
    overlaps: Sequence[Overlap], names: Sequence[str], new_name: str
) -> tuple[Overlap, ...]:
    found: dict[tuple[str, ...], int] = {}
    for overlap in overlaps:
        inside = any(name in names for name in overlap.groups)
        others = tuple(name for name in overlap.groups if name not in names)
        groups = (*others, new_name) if inside else others
        if len(groups) > 1:
            found[groups] = found.get(groups, 0) + overlap.people
    return tuple(Overlap(groups, people) for groups, people in found.items())
