"""Dates with rules of their own."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date
from typing import Literal

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.declare import Day, Id
from idle_harbor.core.plan.edits.finding import day_type_named, free_name, with_schedule
from idle_harbor.core.plan.schedules import DayType, Schedule


def _like(schedule: Schedule, name: str | None, day: date) -> DayType:
    """Return the day type of that name, or that of the date's weekday."""
    if name is not None:
        return day_type_named(schedule, name)
    try:
        return schedule.day_type_of(day)
    except LookupError as error:
        remedy = "put every weekday in a day type first"
        raise PlanError([Fault("/schedules", str(error), remedy)]) from error


@dataclass(frozen=True, slots=True)
class GiveDateRules:
    """Give a date its own rules, copied from a day type (by default that of its weekday)."""

    verb: Literal["give-date-rules"]
    schedule: Id
    date: Day
    like: Id | None = None

    def done(self, plan: Plan) -> Plan:
        """Return the plan with a day type for the date."""

        def give(schedule: Schedule) -> Schedule:
            for kind in schedule.day_types:
                if self.date in kind.dates:
                    what = f"{self.date} has rules of its own already, '{kind.called}'"
                    raise PlanError([Fault("/schedules", what, "change those")])
            like = _like(schedule, self.like, self.date)
            name = free_name(f"day-{self.date}", [each.id for each in schedule.day_types])
            own = DayType(name, (), like.bands, dates=(self.date,), ready_by=like.ready_by)
            return replace(schedule, day_types=(*schedule.day_types, own))

        return with_schedule(plan, self.schedule, give)


@dataclass(frozen=True, slots=True)
class DropDateRules:
    """Remove a date's own rules, and the day type if no day uses it any more."""

    verb: Literal["drop-date-rules"]
    schedule: Id
    date: Day

    def done(self, plan: Plan) -> Plan:
        """Return the plan in which the date follows the rules of its weekday."""

        def drop(schedule: Schedule) -> Schedule:
            def less(kind: DayType) -> DayType:
                return replace(kind, dates=tuple(d for d in kind.dates if d != self.date))

            # A day type that had no day before is a draft and stays.
            now = [(less(k) if self.date in k.dates else k, k) for k in schedule.day_types]
            left = tuple(kind for kind, was in now if kind is was or kind.rules_any)
            return replace(schedule, day_types=left)

        return with_schedule(plan, self.schedule, drop)
