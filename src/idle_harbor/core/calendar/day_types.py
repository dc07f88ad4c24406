"""Which kind of day rules a date: by the date itself, a range of dates, an event, a holiday, the
end of a month or the weekday, in this order."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Literal, TypeAlias

from idle_harbor.core.calendar.occasions import falls_on, holiday_name, is_workday
from idle_harbor.core.plan import Event, Holidays, Plan, Schedule
from idle_harbor.core.plan.schedules import DayType

#: What puts a date under a kind of day.
By: TypeAlias = Literal["date", "range", "event", "holiday", "month end", "weekday"]


@dataclass(frozen=True, slots=True)
class Ruling:
    """The kind of day that rules a date, and by what; ``name`` is the event's or the holiday's."""

    day_type: DayType
    by: By
    name: str = ""


def workdays_left(resting: Holidays, day: date) -> int:
    """How many workdays a month has from this date on, itself included; 0 where it is none."""
    if not is_workday(resting, day):
        return 0
    found, each = 0, day
    while each.month == day.month:
        found += is_workday(resting, each)
        each += timedelta(days=1)
    return found


def ruling_on(schedule: Schedule, resting: Holidays, events: Sequence[Event], day: date) -> Ruling:
    """What rules a date for a site that rests on those holidays."""
    kinds = schedule.day_types
    for kind in kinds:
        if day in kind.dates:
            return Ruling(kind, "date")
    for kind in kinds:
        if any(stretch.first <= day <= stretch.last for stretch in kind.ranges):
            return Ruling(kind, "range")
    for event in events:
        for kind in kinds:
            if event.id in kind.events and falls_on(event.when, resting, day):
                return Ruling(kind, "event", event.id)
    if (holiday := holiday_name(resting, day)) is not None:
        for kind in kinds:
            if kind.holidays:
                return Ruling(kind, "holiday", holiday)
    for kind in kinds:
        if 0 < workdays_left(resting, day) <= kind.month_end:
            return Ruling(kind, "month end")
    return Ruling(schedule.day_type_of(day), "weekday")


def rulings_over(schedule: Schedule, plan: Plan, days: Iterable[date]) -> list[Ruling]:
    """What rules each of some dates, by the holidays of the schedule's site."""
    resting = next((s.holidays for s in plan.sites if s.id == schedule.site), Holidays())
    return [ruling_on(schedule, resting, plan.events, day) for day in days]


def _only_dates(schedule: Schedule) -> bool:
    return not any(k.ranges or k.events or k.holidays or k.month_end for k in schedule.day_types)


def resolved(schedule: Schedule, plan: Plan, days: Iterable[date]) -> Schedule:
    """The schedule in which each of some dates that has not the rules of its weekday is named by
    the kind of day that rules it: who uses it need not know events and holidays."""
    if _only_dates(schedule):
        return schedule
    dates = list(days)
    named: dict[str, list[date]] = {kind.id: [] for kind in schedule.day_types}
    for day, ruling in zip(dates, rulings_over(schedule, plan, dates), strict=True):
        if ruling.by != "weekday":
            named[ruling.day_type.id].append(day)
    kinds = tuple(replace(kind, dates=tuple(named[kind.id])) for kind in schedule.day_types)
    return replace(schedule, day_types=kinds)
