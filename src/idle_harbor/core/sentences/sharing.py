"""What becomes of a schedule that several pools share."""

from __future__ import annotations

from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.lookup import called, find_pool
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
    changed = in_plan(plan, design)
    after = find_pool(changed, design.pool.id)
    if after.schedule == before.schedule:
        return ""
    go = [before.id, *design.together]
    stay = [p.id for p in plan.pools if p.schedule == before.schedule and p.id not in go]
    own = any(
        each.pool in go
        for schedule in plan.schedules
        if schedule.id == before.schedule
        for kind in schedule.day_types
        for _, thing in kind.things()
        for each in thing.exceptions
    )
    leaving, staying = ([called(plan.pools, each) for each in ids] for ids in (go, stay))
    alone = len(go) == 1
    leaves, gets = ("leaves", "gets its") if alone else ("leave", "get their")
    has = "has of its" if alone else "have of their"
    also = f" What {listed(leaving)} {has} own in it goes." if own else ""
    was = called(plan.schedules, before.schedule)
    own_name = called(changed.schedules, after.schedule)
    keeps = "keeps" if len(stay) == 1 else "keep"
    return (
        f"{listed(leaving)} {leaves} the schedule '{was}' and {gets} own, '{own_name}'; "
        f"{listed(staying)} {keeps} it as it is.{also}"
    )
