"""A design: one pool with its schedule, which is what a search may change."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any, cast

from idle_harbor.core.plan import Band, DayType, Plan, Pool, Schedule
from idle_harbor.core.plan.lookup import find_pool, schedule_of, shared_schedule
from idle_harbor.core.plan.schedules import BandException, ReadyBy, ReadyByException

#: Seconds between the places at which a search lets bands begin.
QUARTER = 900


@dataclass(frozen=True, slots=True)
class Design:
    """A pool and its schedule, with the pool's own values of a shared schedule put in.

    Pools ``together`` with it share the schedule, and go on sharing it.
    """

    pool: Pool
    schedule: Schedule
    together: tuple[str, ...] = ()
    #: Cached, since searches look designs up thousands of times and each has some hundred values.
    _hash: int | None = field(default=None, init=False, repr=False, compare=False)

    def __hash__(self) -> int:
        if self._hash is None:
            object.__setattr__(self, "_hash", hash((self.pool, self.schedule, self.together)))
        return cast(int, self._hash)

    def __reduce__(self) -> tuple[Any, ...]:
        # Hashes of texts differ between processes.
        return Design, (self.pool, self.schedule, self.together)

    def kinds_changed(self, change: Callable[[DayType], DayType]) -> Design:
        """The design with another list of kinds of day."""
        kinds = tuple(change(kind) for kind in self.schedule.day_types)
        if all(a is b for a, b in zip(kinds, self.schedule.day_types, strict=True)):
            return self
        return replace(self, schedule=replace(self.schedule, day_types=kinds))


def design_of(plan: Plan, pool_id: str, together: tuple[str, ...] = ()) -> Design:
    """The design of a pool in a plan, with the pools that are to go on sharing its schedule. Raises
    UnknownNameError."""
    pool = find_pool(plan, pool_id)
    return Design(pool, schedule_of(plan, pool), together)


def _own_name(plan: Plan, pool: Pool) -> str:
    """An unused name for a schedule of a pool's own."""
    taken = {each.id for each in plan.schedules}
    wanted = f"{pool.schedule}-{pool.id}"[:60]
    names = (wanted if k == 1 else f"{wanted[:57]}-{k}" for k in range(1, len(taken) + 2))
    return next(name for name in names if name not in taken)


def band_within(band: Band, pool: Pool) -> Band:
    """The band without a value that asks for more than there can be in a pool."""
    most, limit = pool.hosts.most, pool.session_limit
    floor = min(band.floor, most)
    least = max(floor, band.least(pool.hosts.standing))
    lid = band.lid if band.lid is None else max(min(band.lid, most), least, 1)
    own = band.session_limit
    own = own if own is None else min(own, limit)
    headroom = min(band.headroom, most * limit)
    now = (band.floor, band.lid, band.session_limit, band.headroom)
    if (floor, lid, own, headroom) == now:
        return band
    return replace(band, floor=floor, lid=lid, session_limit=own, headroom=headroom)


def _excepting(schedule: Schedule, pool: Pool) -> Schedule:
    """The schedule with exceptions for a pool in which it asks for more than there can be."""
    names = ("floor", "lid", "session_limit", "headroom")

    def of(band: Band) -> Band:
        within = band_within(band, pool)
        if within is band:
            return band
        own = {n: getattr(within, n) for n in names if getattr(within, n) != getattr(band, n)}
        return replace(band, exceptions=(*band.exceptions, BandException(pool.id, **own)))

    def of_target(target: ReadyBy) -> ReadyBy:
        if target.hosts <= pool.hosts.most:
            return target
        own = ReadyByException(pool.id, hosts=pool.hosts.most)
        return replace(target, exceptions=(*target.exceptions, own))

    kinds = (
        replace(
            kind,
            bands=tuple(map(of, kind.bands)),
            ready_by=tuple(map(of_target, kind.ready_by)),
        )
        for kind in schedule.day_types
    )
    return replace(schedule, day_types=tuple(kinds))


def in_plan(plan: Plan, design: Design) -> Plan:
    """The plan with a design in place of its pool and schedule.

    A schedule that other pools use too stays as it is for them, and the pool gets one of its own,
    with those that are tuned together with it.
    """
    before = find_pool(plan, design.pool.id)
    if design == design_of(plan, before.id, design.together):
        return plan
    pool, schedule = design.pool, design.schedule
    shared = shared_schedule(plan, before)
    with_it = (pool.id, *design.together)
    others = [
        each.id for each in plan.pools if each.schedule == shared.id and each.id not in with_it
    ]
    changes = schedule != shared.for_pool(pool.id)
    own = _own_name(plan, pool) if others and changes else shared.id
    if changes:
        for name in design.together:
            schedule = _excepting(schedule, find_pool(plan, name))
    schedules = plan.schedules
    if own == shared.id:
        # Without a change the schedule keeps what others have of their own in it.
        if changes or not (others or design.together):
            schedules = tuple(schedule if each is shared else each for each in schedules)
    else:
        left = shared
        for name in with_it:
            left = left.without_pool(name)
        kept = (left if each is shared else each for each in schedules)
        name = f"{shared.called} for {before.called}"[:60]
        schedules = (*kept, replace(schedule, id=own, name=name))
    pools = tuple(
        replace(pool if each is before else each, schedule=own) if each.id in with_it else each
        for each in plan.pools
    )
    return replace(plan, pools=pools, schedules=schedules)


def kinds_in_force(design: Design, days: tuple[date, ...]) -> frozenset[str]:
    """The kinds of day that are in force on any of some dates."""
    return frozenset(design.schedule.day_type_of(day).id for day in days)
