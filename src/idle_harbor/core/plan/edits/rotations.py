"""Rotations and growth of a group: begin with small changes, and end."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan import Group, Headcount, Plan
from idle_harbor.core.plan.declare import Day, Id
from idle_harbor.core.plan.edits.finding import with_group
from idle_harbor.core.plan.people import Growth, Rotation

#: A turn lasts a week until the planner says otherwise.
_TURN_DAYS = 7
_GROWTH_PER_YEAR = 0.05


def headcount_of(group: Group) -> Headcount:
    """Return the group's headcount; raises PlanError for a drop-in group."""
    if not isinstance(group.demand, Headcount):
        what = f"people of '{group.called}' drop in and have no patterns"
        raise PlanError([Fault("/groups", what, "name a group with a headcount")])
    return group.demand


@dataclass(frozen=True, slots=True)
class BeginRotation:
    """Let crews take turns with a group's patterns and a rest, week by week from a date on."""

    verb: Literal["begin-rotation"]
    group: Id
    since: Day

    def done(self, plan: Plan) -> Plan:
        """Return the plan with a crew for each pattern and one that rests."""

        def begun(group: Group) -> Group:
            demand = headcount_of(group)
            order = (*(pattern.id for pattern in demand.patterns), None)
            turns = Rotation(order, self.since, _TURN_DAYS)
            return replace(group, demand=replace(demand, rotation=turns))

        return with_group(plan, self.group, begun)


@dataclass(frozen=True, slots=True)
class EndRotation:
    """End the turns of a group: everyone follows its first pattern."""

    verb: Literal["end-rotation"]
    group: Id

    def done(self, plan: Plan) -> Plan:
        """Return the plan without turns; shares can be edited again."""

        def ended(group: Group) -> Group:
            demand = headcount_of(group)
            patterns = tuple(
                replace(each, share=0.0 if k else 1.0) for k, each in enumerate(demand.patterns)
            )
            return replace(group, demand=replace(demand, rotation=None, patterns=patterns))

        return with_group(plan, self.group, ended)


@dataclass(frozen=True, slots=True)
class Grow:
    """Let a group grow by a twentieth a year from a date on."""

    verb: Literal["grow"]
    group: Id
    since: Day

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the growth."""
        growth = Growth(self.since, _GROWTH_PER_YEAR)
        return with_group(plan, self.group, lambda group: replace(group, growth=growth))
