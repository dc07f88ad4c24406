"""Events, and "what if" questions as events."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Annotated, Literal

from annotated_types import Interval

from idle_harbor.core.errors import UnknownNameError
from idle_harbor.core.plan import Dates, Event, MonthWorkdays, Plan
from idle_harbor.core.plan.declare import Day, Id, Ids, PartName
from idle_harbor.core.plan.edits.finding import id_for, must_be_unique
from idle_harbor.core.plan.people import Shift

_DAYS = 7
#: From the first to the last of five days.
_WORKING_WEEK = timedelta(days=4)


@dataclass(frozen=True, slots=True)
class AddWhatIf:
    """Add an event for a week: other attendance, growth of the company, or a shift in time.

    It applies to the named groups, or to all if none is named. ``attendance`` changes the share of
    people who come, ``growth`` the number of people (0.1: a tenth more).
    """

    verb: Literal["add-what-if"]
    name: PartName
    first: Day
    groups: Ids = ()
    attendance: Annotated[float, Interval(ge=0, le=3)] = 1.0
    growth: Annotated[float, Interval(ge=-1, le=2)] = 0.0
    shift_minutes: Shift = 0

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the event; growth and attendance multiply."""
        must_be_unique(self.name, plan.events, "/events", "an event")
        event = Event(
            id_for(self.name, [event.id for event in plan.events]),
            Dates(self.first, self.first + timedelta(days=_DAYS - 1)),
            self.groups,
            factor=round(self.attendance * (1.0 + self.growth), 4),
            shift_minutes=self.shift_minutes,
            name=self.name,
        )
        return replace(plan, events=(*plan.events, event))


def begun_event(event: str, week_of: date) -> Event:
    """Return an event for everyone: a fifth more people from Monday to Friday of a date's week."""
    first = week_of - timedelta(days=week_of.weekday())
    return Event(event, Dates(first, first + _WORKING_WEEK), factor=1.2)


@dataclass(frozen=True, slots=True)
class SetEventDays:
    """Set the days of an event: consecutive dates, or the first workdays of every month."""

    verb: Literal["set-event-days"]
    event: Id
    by: Literal["dates", "month-workdays"]
    first: Day

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the event on other days; nothing else of it changes."""
        if self.event not in (names := [event.id for event in plan.events]):
            raise UnknownNameError("event", self.event, names)
        dates = Dates(self.first, self.first + _WORKING_WEEK)
        when = dates if self.by == "dates" else MonthWorkdays(1, 4)
        events = tuple(replace(e, when=when) if e.id == self.event else e for e in plan.events)
        return replace(plan, events=events)
