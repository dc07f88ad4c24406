"""Day types: copy, name, remove, and the days that they apply to."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import timedelta
from typing import Literal

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan import WEEKDAYS, Plan
from idle_harbor.core.plan.declare import LATEST, Day, Id, PartName, Weekday
from idle_harbor.core.plan.edits.finding import (
    day_type_named,
    free_name,
    must_be_free,
    must_be_unique,
    with_schedule,
)
from idle_harbor.core.plan.schedules import DayType, Schedule, Stretch

_WEEK = timedelta(days=6)


def _ids(schedule: Schedule) -> list[str]:
    return [each.id for each in schedule.day_types]


@dataclass(frozen=True, slots=True)
class CopyDayType:
    """Copy a day type with its bands and targets; the copy applies to no day yet."""

    verb: Literal["copy-day-type"]
    schedule: Id
    day_type: Id
    new: Id | None = None

    def done(self, plan: Plan) -> Plan:
        """Return the plan with both day types."""

        def copy(schedule: Schedule) -> Schedule:
            like, taken = day_type_named(schedule, self.day_type), _ids(schedule)
            if self.new is not None:
                must_be_free(self.new, taken, "/schedules", "a kind of day")
            name = self.new or free_name(like.id, taken)
            new = DayType(name, (), like.bands, ready_by=like.ready_by)
            return replace(schedule, day_types=(*schedule.day_types, new))

        return with_schedule(plan, self.schedule, copy)


@dataclass(frozen=True, slots=True)
class NameDayType:
    """Name a day type."""

    verb: Literal["name-day-type"]
    schedule: Id
    day_type: Id
    name: PartName

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the new name; the id stays."""

        def named(schedule: Schedule) -> Schedule:
            now = day_type_named(schedule, self.day_type)
            others = [each for each in schedule.day_types if each is not now]
            must_be_unique(self.name, others, "/schedules", "a kind of day")
            kinds = (
                replace(now, name=self.name) if each is now else each for each in schedule.day_types
            )
            return replace(schedule, day_types=tuple(kinds))

        return with_schedule(plan, self.schedule, named)


@dataclass(frozen=True, slots=True)
class RemoveDayType:
    """Remove a day type that has no weekdays."""

    verb: Literal["remove-day-type"]
    schedule: Id
    day_type: Id

    def done(self, plan: Plan) -> Plan:
        """Return the plan without it; its dates follow the next matching day type."""

        def remove(schedule: Schedule) -> Schedule:
            gone = day_type_named(schedule, self.day_type)
            if gone.weekdays:
                days = ", ".join(WEEKDAYS[day] for day in gone.weekdays)
                remedy = "give its weekdays to another kind of day first"
                raise PlanError([Fault("/schedules", f"'{gone.called}' is for {days}", remedy)])
            left = tuple(each for each in schedule.day_types if each is not gone)
            return replace(schedule, day_types=left)

        return with_schedule(plan, self.schedule, remove)


@dataclass(frozen=True, slots=True)
class GiveWeekday:
    """Assign a weekday to another day type."""

    verb: Literal["give-weekday"]
    schedule: Id
    day_type: Id
    weekday: Weekday

    def done(self, plan: Plan) -> Plan:
        """Return the plan in which only that day type has the weekday."""
        day = WEEKDAYS.index(self.weekday)

        def give(schedule: Schedule) -> Schedule:
            to = day_type_named(schedule, self.day_type)

            def now(kind: DayType) -> DayType:
                days = {each for each in kind.weekdays if each != day}
                if kind is to:
                    days.add(day)
                return replace(kind, weekdays=tuple(sorted(days)))

            return replace(schedule, day_types=tuple(now(each) for each in schedule.day_types))

        return with_schedule(plan, self.schedule, give)


@dataclass(frozen=True, slots=True)
class AddStretch:
    """Add a range of seven dates to a day type: the first one from a date on that no range of the
    schedule touches."""

    verb: Literal["add-stretch"]
    schedule: Id
    day_type: Id
    first: Day

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the range among those of the day type, in order."""

        def first_free(schedule: Schedule) -> Stretch:
            taken = sorted(
                (each.first, each.last) for kind in schedule.day_types for each in kind.ranges
            )
            begin = self.first
            for first, last in taken:
                if first <= begin + _WEEK and last >= begin:
                    begin = min(last + timedelta(days=1), LATEST)
            return Stretch(begin, min(begin + _WEEK, LATEST))

        def add(schedule: Schedule) -> Schedule:
            new = first_free(schedule)
            kind = day_type_named(schedule, self.day_type)
            ranges = tuple(sorted((*kind.ranges, new), key=lambda each: each.first))
            kinds = (replace(k, ranges=ranges) if k is kind else k for k in schedule.day_types)
            return replace(schedule, day_types=tuple(kinds))

        return with_schedule(plan, self.schedule, add)
