"""Local time becomes seconds in one place: gaps, folds, days of 23 and 25 hours."""

from datetime import UTC, date, datetime

import numpy as np
import pytest

from idle_harbor.core.calendar.clock import band_edges, horizon_for, local_to_instant, zone_exists
from idle_harbor.core.calendar.walls import local_to_instants
from tests.builders import band, schedule

DUBLIN = "Europe/Dublin"
SPRING, AUTUMN = date(2027, 3, 28), date(2027, 10, 31)


def utc(*parts: int) -> int:
    return int(datetime(*parts, tzinfo=UTC).timestamp())


@pytest.mark.parametrize(
    ("day", "clock", "expected"),
    [
        (date(2027, 3, 1), 9 * 3600, utc(2027, 3, 1, 9)),
        (date(2027, 7, 1), 9 * 3600, utc(2027, 7, 1, 8)),
        # 01:00–02:00 does not exist: the first instant after the gap
        (SPRING, 3600, utc(2027, 3, 28, 1)),
        (SPRING, 5400, utc(2027, 3, 28, 1)),
        (SPRING, 2 * 3600, utc(2027, 3, 28, 1)),
        (SPRING, 3 * 3600, utc(2027, 3, 28, 2)),
        # 01:00–02:00 comes twice: the first of the two
        (AUTUMN, 5400, utc(2027, 10, 31, 0, 30)),
        (AUTUMN, 2 * 3600, utc(2027, 10, 31, 2)),
        # before midnight and past it
        (SPRING, -3600, utc(2027, 3, 27, 23)),
        (date(2027, 3, 27), 27 * 3600, utc(2027, 3, 28, 2)),
    ],
)
def test_local_times(day, clock, expected):
    assert local_to_instant(DUBLIN, day, clock) == expected


@pytest.mark.parametrize("zone", [DUBLIN, "America/Halifax", "Australia/Lord_Howe", "Asia/Kolkata"])
def test_every_quarter_of_a_year_agrees_with_the_library(zone):
    from datetime import timedelta
    from zoneinfo import ZoneInfo

    for offset in range(365):
        day = date(2027, 1, 1) + timedelta(days=offset)
        clocks = np.arange(0, 86_400, 900)
        got = local_to_instants(zone, day, clocks)
        for clock, instant in zip(clocks[::7].tolist(), got[::7].tolist(), strict=True):
            assert local_to_instant(zone, day, clock) == instant
            naive = datetime(day.year, day.month, day.day) + timedelta(seconds=clock)
            back = datetime.fromtimestamp(instant, ZoneInfo(zone)).replace(tzinfo=None)
            if back != naive:  # skipped: the first instant after the gap
                before = datetime.fromtimestamp(instant - 1, ZoneInfo(zone)).replace(tzinfo=None)
                assert before < naive < back
            else:  # the first of two
                assert instant == int(naive.replace(tzinfo=ZoneInfo(zone), fold=0).timestamp())


@pytest.mark.parametrize(("monday", "hours"), [(date(2027, 3, 22), 167), (date(2027, 10, 25), 169)])
def test_clock_change_weeks_are_whole_local_days(monday, hours):
    horizon = horizon_for(DUBLIN, monday, 7, 1)
    assert horizon.end - horizon.counted == hours * 3600
    assert horizon.counted - horizon.start == 86_400
    assert len(horizon.dates) == 8


def test_band_edges_become_instants_once():
    rules = schedule(band(), band(start=5400), band(start=7200))
    horizon = horizon_for(DUBLIN, SPRING, 1, 0)
    edges = band_edges(rules, horizon)
    # 01:30 is skipped and falls on 02:00: one instant, and the later band of the two wins.
    assert [(e.instant, e.band) for e in edges] == [
        (utc(2027, 3, 28, 0), 0),
        (utc(2027, 3, 28, 1), 2),
    ]


def test_a_date_of_its_own_comes_before_the_weekday():
    from dataclasses import replace

    from idle_harbor.core.plan import DayType
    from tests.builders import BAND, schedule

    week = schedule()
    fair = DayType("fair", (), (BAND,), (date(2027, 3, 3), date(2027, 12, 24)))
    rules = replace(week, day_types=(*week.day_types, fair))
    days = [date(2027, 3, day) for day in range(1, 6)]
    assert [rules.day_type_of(day).id for day in days] == [
        "every-day",
        "every-day",
        "fair",
        "every-day",
        "every-day",
    ]


def test_more_kinds_of_day_than_weekdays():
    """Thirty of them, each with a date: every band comes from its own."""
    from datetime import timedelta

    from idle_harbor.core.calendar.clock import band_edges, horizon_for
    from idle_harbor.core.plan import DayType
    from tests.builders import BAND, schedule

    first = date(2027, 3, 1)
    own = tuple(DayType(f"day-{k}", (), (BAND,), (first + timedelta(days=k),)) for k in range(30))
    rules = schedule()
    rules = type(rules)(rules.id, (*rules.day_types, *own), rules.tick_seconds)
    edges = band_edges(rules, horizon_for("UTC", first, 31, 0))
    assert [edge.day_type for edge in edges] == [*range(1, 31), 0]


def test_zones():
    assert zone_exists(DUBLIN)
    assert not zone_exists("Europe/Quillmoor")
    assert not zone_exists("../etc/passwd")
