"""iCalendar files (RFC 5545): the dates they name, repeated ones included."""

from __future__ import annotations

from datetime import date, datetime, timedelta

from dateutil.rrule import rrulestr
from icalendar import Calendar
from icalendar.cal import Component

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan import OwnDay

#: A rule that repeats more often than this between two dates is not about holidays.
_MOST_REPEATS = 2000
_MOST_DAYS = 366


def calendar_days(text: str, first: date, last: date) -> tuple[list[OwnDay], list[str]]:
    """Dates named between two dates, each once and in order, and what could not be read.

    An event of several days names each of them (its end is exclusive); one with a clock time
    names its own date. Raises PlanError where the text is no calendar.
    """
    try:
        calendar = Calendar.from_ical(text)
    except (ValueError, IndexError, KeyError) as error:
        raise PlanError(
            [Fault("", f"this is not an iCalendar file: {error}",
                   "choose a file that begins with BEGIN:VCALENDAR and ends with END:VCALENDAR")]
        ) from error  # fmt: skip
    named: dict[date, str] = {}
    skipped: list[str] = []
    for number, event in enumerate(calendar.walk("VEVENT"), start=1):
        name = str(event.get("SUMMARY", "")).strip()[:120] or "day off"
        try:
            for day in _dates(event, first, last):
                named.setdefault(day, name)
        except (ValueError, TypeError, KeyError) as error:
            skipped.append(f"event {number}, '{name}': {error}")
    return [OwnDay(day, name) for day, name in sorted(named.items())], skipped


def _as_date(moment: date | datetime) -> date:
    return moment.date() if isinstance(moment, datetime) else moment


def _length(event: Component) -> int:
    """Whole days that an event covers."""
    begin = event.decoded("DTSTART")
    if "DTEND" in event:
        end = event.decoded("DTEND")
        days = (_as_date(end) - _as_date(begin)).days
        return max(days if not isinstance(end, datetime) else days + (end.hour > 0), 1)
    if "DURATION" in event:
        return max(int(event.decoded("DURATION") / timedelta(days=1)), 1)
    return 1


def _dates(event: Component, first: date, last: date) -> list[date]:
    if "DTSTART" not in event:
        raise ValueError("it has no start")
    begin, length = _as_date(event.decoded("DTSTART")), _length(event)
    if length > _MOST_DAYS:
        raise ValueError(f"it lasts {length} days, which no holiday does")
    starts = [begin]
    if "RRULE" in event:
        rule = event["RRULE"].to_ical().decode()  # type: ignore[union-attr]
        # The rule is followed in dates alone: a time zone in UNTIL would not fit them.
        rule = ";".join(p if not p.startswith("UNTIL=") else p[:14] for p in rule.split(";"))
        repeats = rrulestr(rule, dtstart=datetime.combine(begin, datetime.min.time()))
        window = (
            datetime.combine(first - timedelta(days=length), datetime.min.time()),
            datetime.combine(last, datetime.min.time()),
        )
        starts = []
        for moment in repeats.xafter(window[0], inc=True):
            if moment > window[1] or len(starts) > _MOST_REPEATS:
                break
            starts.append(moment.date())
    taken_out = {_as_date(value) for value in _exceptions(event)}
    days = [
        start + timedelta(days=k) for start in starts if start not in taken_out
        for k in range(length)
    ]  # fmt: skip
    return [day for day in days if first <= day <= last]


def _exceptions(event: Component) -> list[date | datetime]:
    found = event.get("EXDATE", [])
    listed = found if isinstance(found, list) else [found]
    return [entry.dt for each in listed for entry in each.dts]
