"""Dates with rules of their own."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.declare import Day, Id
from idle_harbor.core.plan.edits.finding import with_schedule
from idle_harbor.core.plan.schedules import DayType, Schedule


def free_id(wish: str, taken: list[str]) -> str:
    """The wished id, with a number behind it where it is taken."""
    names = (wish, *(f"{wish}-{k}" for k in range(2, len(taken) + 3)))
    return next(name for name in names if name not in taken)


@dataclass(frozen=True, slots=True)
class GiveDateRules:
    """Give a date rules of its own, at first those of the day type that it has."""

    verb: Literal["give-date-rules"]
    schedule: Id
    date: Day

    def done(self, plan: Plan) -> Plan:
        """The plan with a day type for the date."""

        def give(schedule: Schedule) -> Schedule:
            try:
                like = schedule.day_type_of(self.date)
            except LookupError as error:
                remedy = "put every weekday in a day type first"
                raise PlanError([Fault("/schedules", str(error), remedy)]) from error
            if self.date in like.dates:
                what = f"{self.date} has rules of its own already, '{like.id}'"
                raise PlanError([Fault("/schedules", what, "change those")])
            name = free_id(f"day-{self.date}", [each.id for each in schedule.day_types])
            own = DayType(name, (), like.bands, dates=(self.date,), ready_by=like.ready_by)
            return replace(schedule, day_types=(*schedule.day_types, own))

        return with_schedule(plan, self.schedule, give)


@dataclass(frozen=True, slots=True)
class DropDateRules:
    """Take a date's own rules away; a day type that no day is left for goes with them."""

    verb: Literal["drop-date-rules"]
    schedule: Id
    date: Day

    def done(self, plan: Plan) -> Plan:
        """The plan with the date back under the rules of its weekday."""

        def drop(schedule: Schedule) -> Schedule:
            types = (
                replace(each, dates=tuple(d for d in each.dates if d != self.date))
                for each in schedule.day_types
            )
            left = tuple(each for each in types if each.rules_any)
            return replace(schedule, day_types=left)

        return with_schedule(plan, self.schedule, drop)
