"""Which kind of day rules which date, and what comes before what."""

from dataclasses import replace
from datetime import date

import pytest

from idle_harbor.core.calendar.day_types import resolved, ruling_on, workdays_left
from idle_harbor.core.plan import DayType, Event, Holidays, Schedule
from idle_harbor.core.plan.people import Dates, MonthWorkdays, OwnDay
from idle_harbor.core.plan.schedules import Stretch
from idle_harbor.formats.plan.codec import plan_of
from tests.builders import band
from tests.changes import changed
from tests.core.plans import document

BAND = (band(),)
RESTING = Holidays(own=(OwnDay(date(2027, 3, 17), "Quay day"),))
STORM = Event("storm", Dates(date(2027, 3, 15), date(2027, 3, 18)))
CLOSE = Event("close", MonthWorkdays(11, 12))  # 15 and 16 March 2027
EVENTS = (STORM, CLOSE)
WORK = DayType("work", (0, 1, 2, 3, 4), BAND)
REST = DayType("rest", (5, 6), BAND)


def rule(day, *kinds, resting=RESTING, events=EVENTS):
    found = ruling_on(Schedule("x", (WORK, REST, *kinds)), resting, events, day)
    return found.day_type.id, found.by, found.name


def kind(name, **how):
    return DayType(name, (), BAND, **how)


WEDNESDAY = date(2027, 3, 17)
ALL = {
    "date": kind("date", dates=(WEDNESDAY,)),
    "range": kind("range", ranges=(Stretch(date(2027, 3, 10), date(2027, 3, 17)),)),
    "event": kind("event", events=("storm",)),
    "holiday": kind("holiday", holidays=True),
}


@pytest.mark.parametrize("first", range(4))
def test_each_comes_before_those_after_it_wherever_they_stand(first):
    names = list(ALL)[first:]
    for order in (names, names[::-1]):
        got = rule(WEDNESDAY, *(ALL[name] for name in order))
        assert got[:2] == (names[0], names[0])


def test_the_weekday_where_nothing_else_claims_the_date():
    assert rule(date(2027, 3, 9), *ALL.values()) == ("work", "weekday", "")
    assert rule(date(2027, 3, 20), *ALL.values()) == ("rest", "weekday", "")


def test_a_range_holds_both_its_ends():
    assert [rule(date(2027, 3, day), ALL["range"])[0] for day in (9, 10, 17, 18)] == [
        "work",
        "range",
        "range",
        "work",
    ]


def test_of_two_events_the_plans_first_one_counts():
    kinds = kind("by-close", events=("close",)), kind("by-storm", events=("storm",))
    monday = date(2027, 3, 15)
    assert rule(monday, *kinds) == ("by-storm", "event", "storm")
    assert rule(monday, *kinds, events=(CLOSE, STORM)) == ("by-close", "event", "close")


def test_a_holiday_has_its_name_and_one_of_the_weekend_is_one_too():
    assert rule(WEDNESDAY, ALL["holiday"]) == ("holiday", "holiday", "Quay day")
    saturday = Holidays(own=(OwnDay(date(2027, 3, 20), "Fair"),))
    assert rule(date(2027, 3, 20), ALL["holiday"], resting=saturday)[0] == "holiday"
    assert rule(WEDNESDAY, ALL["holiday"], resting=Holidays())[0] == "work"


def test_the_last_workdays_of_a_month_pass_over_weekends_and_holidays():
    # April 2027 ends on a Friday; with a holiday on the 29th the last two are the 28th and 30th.
    resting = Holidays(own=(OwnDay(date(2027, 4, 29), "Fair"),))
    left = [workdays_left(resting, date(2027, 4, day)) for day in (27, 28, 29, 30)]
    assert left == [3, 2, 0, 1]
    end = kind("end", month_end=2)
    ruled = [rule(date(2027, 4, day), end, resting=resting)[0] for day in (27, 28, 29, 30)]
    assert ruled == ["work", "end", "work", "end"]
    # May ends on a Monday: Friday the 28th is the one before.
    assert rule(date(2027, 5, 28), end)[1] == "month end"
    assert rule(date(2027, 5, 30), end)[1] == "weekday"


def test_a_resolved_schedule_names_its_dates():
    own = {"own": [{"day": "2027-03-17", "name": "Quay day"}]}
    plan = plan_of(changed(document(), f"/sites/0/holidays = {own}"))
    plain = plan.schedules[0]
    days = [date(2027, 3, day) for day in range(15, 22)]
    assert resolved(plain, plan, days) is plain
    work, rest = plain.day_types
    with_holidays = replace(plain, site="here", day_types=(work, replace(rest, holidays=True)))
    found = resolved(with_holidays, plan, days)
    assert found.day_types[1].dates == (WEDNESDAY,)
    assert [found.day_type_of(day).id for day in days[:3]] == ["workday", "workday", "rest-day"]
