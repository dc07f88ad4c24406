"""A plan with more or fewer people."""

from __future__ import annotations

from dataclasses import replace

from idle_harbor.core.plan import DropIn, Group, Plan


def with_people(plan: Plan, factor: float) -> Plan:
    """Return the plan with the people and visits of all its groups multiplied.

    Args:
        plan: any plan.
        factor: for example 1.1 for 10 % more people; people are rounded to whole ones.
    """
    if factor == 1.0:
        return plan
    return replace(plan, groups=tuple(_scaled(group, factor) for group in plan.groups))


def _scaled(group: Group, factor: float) -> Group:
    demand = group.demand
    if not isinstance(demand, DropIn):
        return replace(group, demand=replace(demand, people=round(demand.people * factor)))
    rates = tuple(tuple(rate * factor for rate in day) for day in demand.arrivals_per_hour)
    people = demand.different_people
    return replace(
        group,
        demand=replace(
            demand,
            arrivals_per_hour=rates,
            different_people=None if people is None else round(people * factor),
        ),
    )
