"""What becomes of a schedule that several pools share."""

from __future__ import annotations

from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.lookup import find_pool
from idle_harbor.core.sentences.listed import listed
from idle_harbor.core.tuner.designs.design import Design, in_plan


def leaves_shared(plan: Plan, design: Design) -> str:
    """Say that a pool leaves a schedule that others use too, and who stays with it; empty where it
    does not.

    Args:
        plan: the plan before the design is put into it.
        design: the design of one of its pools.
    """
    before = find_pool(plan, design.pool.id)
    after = find_pool(in_plan(plan, design), design.pool.id)
    if after.schedule == before.schedule:
        return ""
    others = [each.id for each in plan.pools if each.schedule == before.schedule]
    stay = [name for name in others if name != before.id]
    own = any(
        each.pool == before.id
        for schedule in plan.schedules
        if schedule.id == before.schedule
        for kind in schedule.day_types
        for _, thing in kind.things()
        for each in thing.exceptions
    )
    also = f" What {before.id} has of its own in it goes." if own else ""
    return (
        f"{before.id} leaves the schedule '{before.schedule}' and gets its own, "
        f"'{after.schedule}'; {listed(stay)} {'keeps' if len(stay) == 1 else 'keep'} "
        f"it as it is.{also}"
    )
