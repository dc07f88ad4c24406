"""iCalendar files (RFC 5545): the dates they name, repeated ones included, within bounds.

Rules are followed in dates alone, by a library that looks for the next date for as long as the
calendar goes, which is the year 9999, and takes hours for some rules. So only what repeats by the
day or more slowly is followed; it is followed in the last years of that calendar, which repeats
exactly every 400 years, so that there is little left to look through; and a file has so much time.
"""

from __future__ import annotations

import time
from collections.abc import Iterator
from datetime import date, datetime, timedelta
from itertools import islice
from typing import Any

from dateutil.rrule import rrulestr
from icalendar import Calendar

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan import OwnDay
from idle_harbor.core.plan.declare import EARLIEST, LATEST

#: A rule that repeats more often than this between two dates is not about holidays.
_MOST_REPEATS = 2_000
_MOST_DAYS = 366
_MOST_EVENTS = 20_000
_MOST_NAMED = 20_000
_MOST_SKIPPED = 100
#: Seconds that the rules of one file may take together.
_SECONDS = 2.0
_CYCLE = 400
_SLOW = ("DAILY", "WEEKLY", "MONTHLY", "YEARLY")
#: What a rule in dates is made of; clock times within a date change nothing.
_PARTS = (
    "FREQ",
    "INTERVAL",
    "COUNT",
    "BYMONTH",
    "BYWEEKNO",
    "BYYEARDAY",
    "BYMONTHDAY",
    "BYDAY",
    "BYSETPOS",
    "WKST",
)
#: The begin of a rule may lie so far back: the steps from there are taken one by one.
_FIRST_YEAR = 1900


def calendar_days(text: str, first: date, last: date) -> tuple[list[OwnDay], list[str]]:
    """Dates named between two dates, each once and in order, and what could not be read.

    An event of several days names each of them (its end is exclusive); one with a clock time
    names its own date. Raises PlanError where the text is no calendar, or has too many dates.
    """
    try:
        calendar = Calendar.from_ical(text)
        events = list(islice(calendar.walk("VEVENT"), _MOST_EVENTS + 1))
    except Exception as error:
        # The library raises whatever broken lines make it raise.
        raise PlanError(
            [
                Fault(
                    "",
                    f"this is not an iCalendar file: {str(error)[:200]}",
                    "choose a file that begins with BEGIN:VCALENDAR and ends with END:VCALENDAR",
                )
            ]
        ) from error
    if len(events) > _MOST_EVENTS:
        raise _too_many(f"more than {_MOST_EVENTS:,} events")
    named: dict[date, str] = {}
    skipped: list[str] = []
    until = time.monotonic() + _SECONDS
    for number, event in enumerate(events, start=1):
        name = _name_of(event)
        try:
            if time.monotonic() > until:
                raise ValueError("the rules of the events before it took too long to follow")
            for day in _dates(event, first, last):
                named.setdefault(day, name)
        except Exception as error:
            said = str(error)[:200] if isinstance(error, ValueError) else "it cannot be read"
            skipped.append(f"event {number}, '{name}': {said}")
        if len(named) > _MOST_NAMED:
            raise _too_many(f"more than {_MOST_NAMED:,} dates")
    if len(skipped) > _MOST_SKIPPED:
        skipped[_MOST_SKIPPED:] = [f"and {len(skipped) - _MOST_SKIPPED:,} more events"]
    return [OwnDay(day, name) for day, name in sorted(named.items())], skipped


def _too_many(what: str) -> PlanError:
    return PlanError([Fault("", f"the calendar has {what}", "bring a calendar of holidays alone")])


def _name_of(event: Any) -> str:
    name = str(event.get("SUMMARY", "")).replace("\x00", "").strip()[:120]
    return name or "day off"


def _as_date(moment: object) -> date:
    """The date of a date or a moment; raises ValueError for a clock time and the like."""
    found = moment.date() if isinstance(moment, datetime) else moment
    if not isinstance(found, date):
        raise ValueError(f"'{moment}' is no date")
    return found


def _begin(event: Any) -> date:
    if "DTSTART" not in event:
        raise ValueError("it has no start")
    return _as_date(event.decoded("DTSTART"))


def _length(event: Any, begin: date) -> int:
    """Whole days that an event covers."""
    days = 1
    if "DTEND" in event:
        end = event.decoded("DTEND")
        days = (_as_date(end) - begin).days
        days += isinstance(end, datetime) and end.hour > 0
    elif "DURATION" in event:
        days = int(event.decoded("DURATION") / timedelta(days=1))
    if days > _MOST_DAYS:
        raise ValueError(f"it lasts {days} days, which no holiday does")
    return max(days, 1)


def _dates(event: Any, first: date, last: date) -> list[date]:
    begin = _begin(event)
    length = _length(event, begin)
    starts = (
        [begin]
        if "RRULE" not in event
        else list(_repeats(event["RRULE"], begin, first - timedelta(days=length), last))
    )
    taken_out = {_as_date(value) for value in _exceptions(event)}
    days = (
        start + timedelta(days=k)
        for start in starts
        if start not in taken_out
        for k in range(length)
    )
    return [day for day in days if first <= day <= last]


def _repeats(rule: Any, begin: date, first: date, last: date) -> Iterator[date]:
    """Begins of a rule from ``first`` to ``last``; raises ValueError where it is not followed."""
    if isinstance(rule, list):
        raise ValueError("it has two rules, which cannot be followed together")
    if str(rule.get("FREQ", [""])[0]).upper() not in _SLOW:
        raise ValueError("it repeats more often than by the day, which no holiday does")
    interval = rule.get("INTERVAL", [1])[0]
    if not isinstance(interval, int) or interval < 1:
        raise ValueError(f"it repeats every {interval}, which is never or for ever")
    if begin.year < _FIRST_YEAR:
        raise ValueError(f"it repeats since {begin.year}; begin with {_FIRST_YEAR} or later")
    parts = rule.to_ical().decode().split(";")
    kept = ";".join(part for part in parts if part.split("=")[0].upper() in _PARTS)
    ends = min([last, *(_as_date(value) for value in rule.get("UNTIL", []))])
    # The whole cycles of the calendar that bring it close to its last year.
    cycles = (9_999 - LATEST.year) // _CYCLE * _CYCLE
    found = rrulestr(kept, dtstart=_moved(begin, cycles))
    low, high = _moved(max(first, EARLIEST), cycles), _moved(min(ends, LATEST), cycles)
    for count, moment in enumerate(found.xafter(low, inc=True)):
        if moment > high:
            return
        if count >= _MOST_REPEATS:
            raise ValueError(f"it repeats more than {_MOST_REPEATS:,} times between the two dates")
        yield moment.date().replace(year=moment.year - cycles)


def _moved(day: date, years: int) -> datetime:
    return datetime(day.year + years, day.month, day.day)


def _exceptions(event: Any) -> list[Any]:
    found = event.get("EXDATE", [])
    listed = found if isinstance(found, list) else [found]
    return [entry.dt for each in listed for entry in each.dts]
