"""Calendar files: their days, repeated ones included."""

from datetime import date

import pytest

from idle_harbor.core.errors import PlanError
from idle_harbor.core.policy.agenda import Moment
from idle_harbor.formats.calendar.agenda import agenda_calendar
from idle_harbor.formats.calendar.days import calendar_days

CALENDAR = """BEGIN:VCALENDAR
VERSION:2.0
PRODID:-//made up//
BEGIN:VEVENT
UID:1
DTSTART;VALUE=DATE:20270316
DTEND;VALUE=DATE:20270318
SUMMARY:Two days
END:VEVENT
BEGIN:VEVENT
UID:2
DTSTART;VALUE=DATE:20200624
RRULE:FREQ=YEARLY
EXDATE;VALUE=DATE:20280624
SUMMARY:Midsummer
END:VEVENT
BEGIN:VEVENT
UID:3
DTSTART:20270401T090000Z
DTEND:20270401T170000Z
SUMMARY:Stocktaking
END:VEVENT
BEGIN:VEVENT
UID:4
SUMMARY:Some day
END:VEVENT
END:VCALENDAR
"""


def test_a_calendar_names_its_days_repeated_ones_included():
    days, skipped = calendar_days(
        CALENDAR.replace("\n", "\r\n"), date(2027, 1, 1), date(2029, 12, 31)
    )
    assert [(d.day.isoformat(), d.name) for d in days] == [
        ("2027-03-16", "Two days"),
        ("2027-03-17", "Two days"),
        ("2027-04-01", "Stocktaking"),
        ("2027-06-24", "Midsummer"),
        ("2029-06-24", "Midsummer"),
    ]
    assert skipped == ["event 4, 'Some day': it has no start"]


def test_moments_of_one_instant_have_names_of_their_own():
    """Clocks of two sites may ask for hosts at once: a program that reads the file keeps both."""
    moments = [
        Moment("target", 1_800_000_000, 1_800_000_000, "ten hosts"),
        Moment("target", 1_800_000_000, 1_800_000_000, "two hosts"),
        Moment("band", 1_800_000_000, 1_800_003_600, "a floor"),
    ]
    text = agenda_calendar("office", moments)
    names = [line for line in text.splitlines() if line.startswith("UID:")]
    assert names == [
        "UID:office-target-1800000000@idle-harbor",
        "UID:office-target-1800000000-2@idle-harbor",
        "UID:office-band-1800000000@idle-harbor",
    ]


@pytest.mark.parametrize("text", ["", "hello", CALENDAR[:200]])
def test_what_is_no_calendar_is_refused_whole(text):
    with pytest.raises(PlanError, match="iCalendar"):
        calendar_days(text, date(2027, 1, 1), date(2027, 12, 31))
