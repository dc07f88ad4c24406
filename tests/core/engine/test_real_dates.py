"""Rules of a schedule on real dates, by hand: a clock change inside a band, a holiday's target that
is met on the evening before."""

from datetime import UTC, date, datetime

from idle_harbor.core.policy.codes import Action
from idle_harbor.core.weeks.case import case_of
from idle_harbor.core.weeks.week import week
from idle_harbor.formats.plan.codec import plan_of
from tests.core.plans import document


def done(bands, first, days=1, holiday=(), **kind):
    """(time in UTC, action) of every host action of some days in which nobody comes, in Dublin;
    ``holiday`` are bands and targets of holidays."""
    given = document(week_of=first.isoformat())
    given["groups"][0]["demand"]["patterns"][0]["attendance"] = {}
    given["pools"][0] |= {"start": {"mean_seconds": 120, "cv": 0}, "stop_seconds": 60}
    kinds = [
        {
            "id": "every-day",
            "weekdays": ["mon", "tue", "wed", "thu", "fri", "sat", "sun"],
            "bands": bands,
            **kind,
        }
    ]
    if holiday:
        given["sites"][0]["holidays"] = {"own": [{"day": "2027-03-04", "name": "Quay day"}]}
        kinds.append({"id": "holiday", "weekdays": [], "holidays": True, **dict(holiday)})
    given["schedules"] = [{"id": "main", "site": "here", "day_types": kinds}]
    case = case_of(plan_of(given), "main", first=first, days=days)
    run = week(case, 1, record=True).run
    return [
        (
            f"{datetime.fromtimestamp(run.horizon.start + int(row['time']), UTC):%d %H:%M}",
            Action(int(row["action"])).name,
        )
        for row in run.actions
        if row["time"] >= run.counted_from
    ]


QUIET = {"from": "00:00", "release": "when empty"}
BANDS = [
    QUIET,
    {"from": "00:30", "floor": 1, "release": "when empty"},
    {"from": "04:00", "release": "when empty"},
]


class TestClockChangeInsideABand:
    """In Dublin 01:00 to 02:00 is skipped on 28 March 2027, and comes twice on 31 October."""

    def test_the_band_is_an_hour_shorter_in_spring(self):
        assert done(BANDS, date(2027, 3, 28)) == [("28 00:30", "START"), ("28 03:00", "STOP")]

    def test_and_an_hour_longer_in_autumn(self):
        assert done(BANDS, date(2027, 10, 31)) == [("30 23:30", "START"), ("31 04:00", "STOP")]

    def test_a_least_run_goes_by_seconds_and_not_by_the_clock(self):
        bands = [
            QUIET,
            BANDS[1],
            {"from": "03:00", "release": "when empty", "least_run_minutes": 120},
        ]
        # Ready at 00:32 UTC; 03:00 on the clock is 02:00 UTC, two hours of running end at 02:32.
        assert done(bands, date(2027, 3, 28)) == [("28 00:30", "START"), ("28 02:35", "STOP")]

    def test_a_target_is_met_on_the_clock_that_has_changed(self):
        got = done(
            [QUIET], date(2027, 3, 28), ready_by=[{"at": "06:00", "hosts": 1, "until": "07:00"}]
        )
        assert got == [("28 04:55", "START"), ("28 06:00", "STOP")]


def test_a_holidays_target_is_met_on_the_evening_before():
    # 4 March is a holiday: two hosts by five past midnight until 01:00, whatever the evening says.
    holiday = {"bands": [QUIET], "ready_by": [{"at": "00:05", "hosts": 2, "until": "01:00"}]}
    assert done([QUIET], date(2027, 3, 3), days=2, holiday=holiday.items()) == [
        ("04 00:00", "START"),
        ("04 00:00", "START"),
        ("04 01:00", "STOP"),
        ("04 01:00", "STOP"),
    ]
    # A minute earlier the look at midnight would be too late.
    holiday["ready_by"][0]["at"] = "00:01"
    assert done([QUIET], date(2027, 3, 3), days=2, holiday=holiday.items())[:2] == [
        ("03 23:55", "START"),
        ("03 23:55", "START"),
    ]


def test_no_other_day_has_a_holidays_target():
    holiday = {"bands": [QUIET], "ready_by": [{"at": "00:05", "hosts": 2, "until": "01:00"}]}
    assert done([QUIET], date(2027, 3, 5), days=2, holiday=holiday.items()) == []
