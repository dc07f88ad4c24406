"""Targets of a schedule as instants: zones, clock changes, ends."""

from dataclasses import replace
from datetime import UTC, date, datetime

from idle_harbor.core.calendar.clock import horizon_for
from idle_harbor.core.calendar.targets import targets_of
from idle_harbor.core.plan import DayType, Schedule
from idle_harbor.core.plan.schedules import ReadyBy
from tests.builders import band

HOUR = 3_600
ZONES = {"far": "America/Halifax"}


def instants(*targets, first=date(2027, 3, 3), days=1, zone="Europe/Dublin", bands=()):
    """(from, until) in UTC of every target of some days."""
    every = DayType("every-day", tuple(range(7)), bands or (band(),), ready_by=targets)
    found = targets_of(Schedule("x", (every,)), horizon_for(zone, first, days, 0), ZONES)
    return [
        tuple(f"{datetime.fromtimestamp(t, UTC):%d %H:%M}" for t in (each.at, each.until))
        for each in found
    ]


def test_they_end_with_the_band_that_holds_them_and_one_is_of_the_day_after():
    bands = (band(), band(start=9 * HOUR), band(start=17 * HOUR))
    got = instants(ReadyBy(8 * HOUR, 1), ReadyBy(9 * HOUR, 2), bands=bands)
    assert got == [
        ("03 08:00", "03 09:00"),
        ("03 09:00", "03 17:00"),
        ("04 08:00", "04 09:00"),
        ("04 09:00", "04 17:00"),
    ]


def test_the_last_band_ends_at_midnight():
    assert instants(ReadyBy(20 * HOUR, 1))[0] == ("03 20:00", "04 00:00")


def test_an_end_of_their_own_and_one_on_the_next_day():
    got = instants(ReadyBy(22 * HOUR, 1, until=6 * HOUR), ReadyBy(8 * HOUR, 1, until=10 * HOUR))
    assert got[:2] == [("03 08:00", "03 10:00"), ("03 22:00", "04 06:00")]


def test_by_the_clock_of_a_site():
    target = ReadyBy(8 * HOUR, 1, until=9 * HOUR, clock_of="far")
    assert instants(target)[0] == ("03 12:00", "03 13:00")
    # Its own end is on its own clock; without one the pool's band ends it.
    assert instants(replace(target, until=None))[0] == ("03 12:00", "04 00:00")


def test_in_a_skipped_hour_and_in_a_doubled_one():
    # In Dublin 01:00 to 02:00 is skipped on 28 March; on 31 October it comes twice.
    at_half_past = ReadyBy(HOUR + 1_800, 1, until=3 * HOUR)
    assert instants(at_half_past, first=date(2027, 3, 28))[0] == ("28 01:00", "28 02:00")
    assert instants(at_half_past, first=date(2027, 10, 31))[0] == ("31 00:30", "31 03:00")


def test_no_targets():
    assert instants() == []
