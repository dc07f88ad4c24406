"""Parts of a plan by their names."""

from __future__ import annotations

from collections.abc import Iterable

from idle_harbor.core.errors import UnknownNameError
from idle_harbor.core.plan import Group, Plan, Pool, Promise, Schedule
from idle_harbor.core.plan.declare import Named


def called(things: Iterable[Named], thing_id: str) -> str:
    """What the thing of an id is called, for a text; an id that no thing has stands for itself."""
    return next((each.called for each in things if each.id == thing_id), thing_id)


def find_pool(plan: Plan, pool_id: str) -> Pool:
    """The pool of that id; raises UnknownNameError."""
    for pool in plan.pools:
        if pool.id == pool_id:
            return pool
    raise UnknownNameError("pool", pool_id, [pool.id for pool in plan.pools])


def find_group(plan: Plan, group_id: str) -> Group:
    """The group of that id; raises UnknownNameError."""
    for group in plan.groups:
        if group.id == group_id:
            return group
    raise UnknownNameError("group", group_id, [group.id for group in plan.groups])


def shared_schedule(plan: Plan, pool: Pool) -> Schedule:
    """A pool's schedule as all that have it share it; raises UnknownNameError."""
    for schedule in plan.schedules:
        if schedule.id == pool.schedule:
            return schedule
    raise UnknownNameError("schedule", pool.schedule, [each.id for each in plan.schedules])


def schedule_of(plan: Plan, pool: Pool) -> Schedule:
    """A pool's schedule with what the pool has otherwise in its place; raises UnknownNameError."""
    return shared_schedule(plan, pool).for_pool(pool.id)


def promise_of(plan: Plan, pool_id: str) -> Promise:
    """What the people of a pool are owed; raises UnknownNameError."""
    return find_pool(plan, pool_id).owed(plan.promise)
