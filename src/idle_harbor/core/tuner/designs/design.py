"""A design: one pool with its schedule, which is what a search may change."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any, cast

from idle_harbor.core.plan import DayType, Plan, Pool, Schedule
from idle_harbor.core.plan.lookup import find_pool, schedule_of, shared_schedule

#: Seconds between the places at which a search lets bands begin.
QUARTER = 900


@dataclass(frozen=True, slots=True)
class Design:
    """A pool and its schedule, with the pool's own values of a shared schedule put in."""

    pool: Pool
    schedule: Schedule
    #: Cached, since searches look designs up thousands of times and each has some hundred values.
    _hash: int | None = field(default=None, init=False, repr=False, compare=False)

    def __hash__(self) -> int:
        if self._hash is None:
            object.__setattr__(self, "_hash", hash((self.pool, self.schedule)))
        return cast(int, self._hash)

    def __reduce__(self) -> tuple[Any, ...]:
        # Hashes of texts differ between processes.
        return Design, (self.pool, self.schedule)

    def kinds_changed(self, change: Callable[[DayType], DayType]) -> Design:
        """The design with another list of kinds of day."""
        kinds = tuple(change(kind) for kind in self.schedule.day_types)
        if all(a is b for a, b in zip(kinds, self.schedule.day_types, strict=True)):
            return self
        return replace(self, schedule=replace(self.schedule, day_types=kinds))


def design_of(plan: Plan, pool_id: str) -> Design:
    """The design of a pool in a plan. Raises UnknownNameError."""
    pool = find_pool(plan, pool_id)
    return Design(pool, schedule_of(plan, pool))


def _own_name(plan: Plan, pool: Pool) -> str:
    """An unused name for a schedule of a pool's own."""
    taken = {each.id for each in plan.schedules}
    wanted = f"{pool.schedule}-{pool.id}"[:60]
    names = (wanted if k == 1 else f"{wanted[:57]}-{k}" for k in range(1, len(taken) + 2))
    return next(name for name in names if name not in taken)


def in_plan(plan: Plan, design: Design) -> Plan:
    """The plan with a design in place of its pool and schedule.

    A schedule that other pools use too stays as it is for them, and the pool gets one of its own.
    """
    before = find_pool(plan, design.pool.id)
    if design == design_of(plan, before.id):
        return plan
    pool, schedule = design.pool, design.schedule
    shared = shared_schedule(plan, before)
    others = [each.id for each in plan.pools if each.schedule == shared.id and each.id != before.id]
    schedules = plan.schedules
    if not others:
        schedules = tuple(schedule if each is shared else each for each in schedules)
    elif schedule != shared.for_pool(pool.id):
        own = _own_name(plan, pool)
        pool = replace(pool, schedule=own)
        left = (each.without_pool(pool.id) if each is shared else each for each in schedules)
        schedules = (*left, replace(schedule, id=own))
    pools = tuple(pool if each is before else each for each in plan.pools)
    return replace(plan, pools=pools, schedules=schedules)


def kinds_in_force(design: Design, days: tuple[date, ...]) -> frozenset[str]:
    """The kinds of day that are in force on any of some dates."""
    return frozenset(design.schedule.day_type_of(day).id for day in days)
