"""A design taken over: what a study changed of a pool, put into the plan as it is by now."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from idle_harbor.core.plan import Plan
from idle_harbor.core.tuner.designs.design import Design, design_of, in_plan
from idle_harbor.formats.plan.codec import plan_of, to_values
from idle_harbor.formats.plan.merge import changes, merge
from idle_harbor.formats.reports.studies import design_in

#: The name under which the schedule stands that a pool has alone, while designs are compared.
_OWN = "own"


def _alone(plan: Plan, pool: str) -> dict[str, Any]:
    """A pool and its schedule as the pool alone has it, as a document has them."""
    design = design_of(plan, pool)
    own = replace(design.schedule, id=_OWN)
    told = to_values(replace(plan, pools=(replace(design.pool, schedule=_OWN),), schedules=(own,)))
    return {"pool": told["pools"][0], "schedule": told["schedules"][0]}


def _merged(plan: Plan, pool: str, values: Mapping[str, Any], together: Sequence[str]) -> Design:
    """The design that the merged values of a pool and its schedule come to."""
    document = {**to_values(plan), "pools": [values["pool"]], "schedules": [values["schedule"]]}
    # Access and prices may name other pools, which are not looked at here.
    document = {**document, "access": [], "prices": {**document["prices"], "licences": []}}
    design = design_of(plan_of(document), pool)
    named = design_of(plan, pool).pool.schedule
    sharing = [each.id for each in plan.pools if each.schedule == named]
    return Design(
        replace(design.pool, schedule=named),
        replace(design.schedule, id=named),
        tuple(each for each in together if each in sharing),
    )


def taken_over(
    plan: Plan,
    base: Mapping[str, Any],
    point: Mapping[str, Any],
    together: Sequence[str] = (),
) -> tuple[Plan, list[str]]:
    """Put what a study changed of a pool into a plan.

    Args:
        plan: the plan as it is by now.
        base: the document of the plan that the study was of.
        point: the design that is taken over: ``pool`` and ``schedule`` as a document has them.
        together: the pools that were tuned with it; those that still share its schedule go with it.

    Returns:
        The plan, and the fields that were changed in the plan since the study began and that the
        design now sets otherwise. All else that was changed since stays. Pools that share the
        schedule by now keep theirs.

    Raises:
        UnknownNameError: the pool is not in the plan any more.
        PlanError: the values of both do not fit each other.
    """
    pool = point["pool"]["id"]
    now = _alone(plan, pool)
    was = _alone(plan_of(base), pool)
    design = design_in(base, point, together)
    wished = _alone(in_plan(plan_of(base), design), pool)
    both = [each.path for each in changes(was, wished, now) if each.by == "both"]
    values = merge(was, wished, now, "yours")
    return in_plan(plan, _merged(plan, pool, values, together)), both
