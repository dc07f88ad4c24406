"""Events: what a question "what if" comes to in a plan."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import timedelta
from typing import Annotated, Literal

from annotated_types import Interval

from idle_harbor.core.plan import Dates, Event, Plan
from idle_harbor.core.plan.declare import Day, Id, Ids
from idle_harbor.core.plan.edits.finding import must_be_free
from idle_harbor.core.plan.people import Shift

_DAYS = 7


@dataclass(frozen=True, slots=True)
class AddWhatIf:
    """Let more or fewer people come for a week, the company have grown, and everyone be earlier or
    later: an event for some groups, or for all where none is named.

    ``attendance`` is of those who come now, ``growth`` of those there are (0.1: a tenth more).
    """

    verb: Literal["add-what-if"]
    event: Id
    first: Day
    groups: Ids = ()
    attendance: Annotated[float, Interval(ge=0, le=3)] = 1.0
    growth: Annotated[float, Interval(ge=-1, le=2)] = 0.0
    shift_minutes: Shift = 0

    def done(self, plan: Plan) -> Plan:
        """The plan with the event; who comes of a grown company multiplies."""
        must_be_free(self.event, [event.id for event in plan.events], "/events", "an event")
        event = Event(
            self.event,
            Dates(self.first, self.first + timedelta(days=_DAYS - 1)),
            self.groups,
            factor=round(self.attendance * (1.0 + self.growth), 4),
            shift_minutes=self.shift_minutes,
        )
        return replace(plan, events=(*plan.events, event))
