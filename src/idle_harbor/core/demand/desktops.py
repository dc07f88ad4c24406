"""Which pools people may open: who has two desktops, and how many sessions that adds."""

from __future__ import annotations

from dataclasses import dataclass

from idle_harbor.core.calendar.clock import Horizon
from idle_harbor.core.demand.crowd import STEP, drawn_presence
from idle_harbor.core.demand.spells import PoolDemand, comer_of, demand_of
from idle_harbor.core.plan import Headcount, Plan
from idle_harbor.core.plan.overlaps import shared_by_group


@dataclass(frozen=True, slots=True)
class Kinsfolk:
    """People with the same pools: how many, through which groups, to which pools."""

    people: int
    groups: tuple[str, ...]
    pools: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Doubles:
    """People with more than one desktop, and what they add to one drawn horizon.

    ``peak_sessions`` is the most desktops wanted at one moment, ``peak_people`` the most people;
    the hours are those of the counted horizon.
    """

    kin: tuple[Kinsfolk, ...]
    peak_sessions: int
    peak_people: int
    session_hours: float
    people_hours: float

    @property
    def people(self) -> int:
        """How many people have more than one desktop."""
        return sum(each.people for each in self.kin)

    @property
    def added_sessions(self) -> int:
        """Sessions at the peak beyond one for each person."""
        return self.peak_sessions - self.peak_people

    @property
    def added_hours(self) -> float:
        """Session-hours beyond those of the people counted once."""
        return self.session_hours - self.people_hours


def _pools_by_group(plan: Plan) -> dict[str, tuple[str, ...]]:
    found: dict[str, list[str]] = {}
    for each in plan.access:
        pools = found.setdefault(each.group, [])
        if each.pool not in pools:
            pools.append(each.pool)
    return {group: tuple(pools) for group, pools in found.items()}


def several_desktops(plan: Plan) -> tuple[Kinsfolk, ...]:
    """People who may open more than one pool, by the groups and pools that make it so."""
    pools = _pools_by_group(plan)
    kin: list[Kinsfolk] = []
    shared = shared_by_group(plan.overlaps)
    for overlap in plan.overlaps:
        theirs = tuple(dict.fromkeys(p for name in overlap.groups for p in pools.get(name, ())))
        if len(theirs) > 1:
            kin.append(Kinsfolk(overlap.people, overlap.groups, theirs))
    for group in plan.groups:
        theirs = pools.get(group.id, ())
        if isinstance(group.demand, Headcount) and len(theirs) > 1:
            alone = group.demand.people - shared.get(group.id, 0)
            if alone > 0:
                kin.append(Kinsfolk(alone, (group.id,), theirs))
    return tuple(kin)


def doubles_of(plan: Plan, horizon: Horizon, seed: int) -> Doubles:
    """What several desktops add: each pool on its own against the same people counted once."""
    kin = several_desktops(plan)
    by_pool = [drawn_presence(demand_of(plan, pool.id), horizon, seed) for pool in plan.pools]
    uses = {group.id: [e for e in plan.access if e.group == group.id] for group in plan.groups}
    comers = tuple(comer_of(plan, g, uses[g.id]) for g in plan.groups if uses[g.id])
    once = drawn_presence(PoolDemand(comers, plan.overlaps, False), horizon, seed)
    hour = STEP / 3600.0
    together = sum((p.highest for p in by_pool), start=0 * once.highest)
    return Doubles(
        kin,
        int(together.max(initial=0)),
        int(once.highest.max(initial=0)),
        float(sum(p.mean.sum() for p in by_pool)) * hour,
        float(once.mean.sum()) * hour,
    )
