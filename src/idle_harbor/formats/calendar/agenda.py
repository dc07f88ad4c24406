"""What a schedule does by the clock, as an iCalendar file (RFC 5545)."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from datetime import UTC, datetime

from icalendar import Calendar, Event

from idle_harbor.core.policy.agenda import Moment


def agenda_calendar(pool: str, moments: Sequence[Moment]) -> str:
    """A calendar with an event for each moment, in UTC, so that every program shows it at the same
    time; the same plan gives the same file."""
    calendar = Calendar()
    calendar.add("prodid", "-//Idle Harbor//schedule//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", f"Pool {pool}")
    alike: Counter[tuple[str, int]] = Counter()
    for moment in moments:
        # Clocks of two sites may ask for hosts at one instant.
        alike[moment.kind, moment.start] += 1
        number = alike[moment.kind, moment.start]
        name = f"{pool}-{moment.kind}-{moment.start}" + (f"-{number}" if number > 1 else "")
        event = Event()
        event.add("uid", f"{name}@idle-harbor")
        event.add("dtstamp", _utc(moment.start))
        event.add("dtstart", _utc(moment.start))
        event.add("dtend", _utc(max(moment.end, moment.start)))
        event.add("summary", f"{pool}: {moment.what}")
        event.add("categories", [moment.kind])
        event.add("transp", "TRANSPARENT")
        calendar.add_component(event)
    text: str = calendar.to_ical().decode()
    return text


def _utc(instant: int) -> datetime:
    return datetime.fromtimestamp(instant, UTC)
