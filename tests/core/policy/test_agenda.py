"""What a schedule does by the clock, moment by moment, by hand; and what rules a date."""

from datetime import UTC, date, datetime, timedelta

import pytest
from icalendar import Calendar

from idle_harbor.core.calendar.day_types import rulings_over
from idle_harbor.core.plan.lookup import find_pool
from idle_harbor.core.policy.agenda import agenda_for
from idle_harbor.core.policy.lead import STARTED, lead_table
from idle_harbor.formats.calendar.agenda import agenda_calendar
from idle_harbor.formats.plan.codec import plan_of
from tests.core.plans import document


def planned(**day):
    """The small plan, whose workday has more to say; its pool's clock is Dublin's."""
    given = document()
    workday = given["schedules"][0]["day_types"][0]
    workday["bands"][2] |= {"drain_steps": [{"by": "18:00", "share": 0.25}]}
    workday |= {"ready_by": [{"at": "06:45", "hosts": 6, "until": "09:00"}]} | day
    return plan_of(given)


def agenda(plan, first=date(2027, 3, 1), days=1):
    return agenda_for(plan, find_pool(plan, "main"), first, days)


def at(text):
    return int(datetime.fromisoformat(text).replace(tzinfo=UTC).timestamp())


def test_targets_releases_and_drain_steps_of_a_day_in_order():
    monday = [(m.kind, m.start, m.end, m.what) for m in agenda(planned())]
    assert (
        "ready-by",
        at("2027-03-01T06:45"),
        at("2027-03-01T09:00"),
        "6 hosts are ready",
    ) in monday
    assert (
        "drain-step",
        at("2027-03-01T18:00"),
        at("2027-03-02T00:00"),
        "25 % of the hosts take nobody new",
    ) in monday
    releases = [m for m in monday if m[0] == "release"]
    assert [(m[1], m[3]) for m in releases] == [
        (at("2027-03-01T00:00"), "the least used hosts drain, down to 0"),
        (at("2027-03-01T17:00"), "the least used hosts drain, down to 0"),
    ]
    assert [m[1] for m in monday] == sorted(m[1] for m in monday)


def test_floors_and_starts_of_a_day_say_how_many_hosts_and_when():
    """The floor is 0, then 4 from 07:30, then 0; a target asks for 6 by 06:45."""
    monday = agenda(planned())
    floors = [(m.start, m.what) for m in monday if m.kind == "floor"]
    assert [start for start, _ in floors] == [
        at(f"2027-03-01T{clock}") for clock in ("00:00", "07:30", "17:00")
    ]
    assert floors[1][1] == (
        "at least 4 hosts on; the next one starts when they are 80% full or fewer than 6 slots are "
        "free"
    )
    target, morning = (m for m in monday if m.kind == "start")
    assert (morning.start, morning.what) == (at("2027-03-01T07:30"), "up to 4 hosts start")
    assert target.what == "up to 6 hosts start" and target.end == at("2027-03-01T06:45")
    plan = planned()
    lead = int(lead_table(plan.pools[0], 300)[STARTED][6])
    assert target.end - target.start == lead + plan.schedules[0].tick_seconds


def test_summer_time_moves_them_and_rest_days_have_none_of_a_workday():
    plan = planned()
    (target,) = (m for m in agenda(plan, date(2027, 3, 29)) if m.kind == "ready-by")
    assert target.start == at("2027-03-29T05:45")
    assert not [m for m in agenda(plan, date(2027, 3, 6)) if m.kind == "ready-by"]
    # Without a first date it is the plan's week, and none is of the day after the last.
    week = agenda(plan, None, 7)
    assert [m.start for m in week if m.kind == "ready-by"] == [
        at(f"2027-03-0{k}T06:45") for k in range(1, 6)
    ]


def test_the_calendar_file_says_the_same_and_the_same_each_time():
    moments = agenda(planned(), days=7)
    text = agenda_calendar("main", moments)
    assert text == agenda_calendar("main", moments)
    events = Calendar.from_ical(text).walk("VEVENT")
    assert len(events) == len(moments)
    assert len({str(event["UID"]) for event in events}) == len(events)
    for event, moment in zip(events, moments, strict=True):
        assert event.decoded("DTSTART").timestamp() == moment.start
        assert event.decoded("DTEND").timestamp() == moment.end
        assert str(event["SUMMARY"]) == f"main: {moment.what}"


def test_a_release_goes_on_into_a_band_that_lets_go_alike():
    bands = [
        {"from": "00:00", "floor": 2, "release": "drain"},
        {"from": "06:00", "floor": 2, "rule": "fill", "release": "drain"},
        {"from": "09:00", "floor": 1, "release": "drain"},
        {"from": "12:00", "release": "keep all"},
    ]
    told = [m for m in agenda(planned(bands=bands, ready_by=[])) if m.kind == "release"]
    assert [(m.start, m.end, m.what) for m in told] == [
        (at("2027-03-01T00:00"), at("2027-03-01T09:00"), "the least used hosts drain, down to 2"),
        (at("2027-03-01T09:00"), at("2027-03-01T12:00"), "the least used hosts drain, down to 1"),
    ]


def test_two_clocks_may_ask_for_hosts_at_one_instant():
    given = document()
    given["sites"].append({"id": "away", "time_zone": "America/Halifax"})
    given["schedules"][0]["day_types"][0]["ready_by"] = [
        {"at": "04:00", "hosts": 2, "clock_of": "away"},
        {"at": "08:00", "hosts": 6},
    ]
    moments = [m for m in agenda(plan_of(given)) if m.kind == "ready-by"]
    assert {m.start for m in moments} == {at("2027-03-01T08:00")} and len(moments) == 2
    events = Calendar.from_ical(agenda_calendar("main", moments)).walk("VEVENT")
    assert len({str(event["UID"]) for event in events}) == 2


@pytest.mark.parametrize(
    ("day", "by"),
    [(date(2027, 3, 3), "range"), (date(2027, 3, 8), "weekday"), (date(2027, 3, 6), "weekday")],
)
def test_each_date_of_a_stretch_is_told_with_what_rules_it(day, by):
    plan = planned(ranges=[{"from": "2027-03-01", "to": "2027-03-05"}])
    (ruling,) = rulings_over(plan.schedules[0], plan, [day])
    assert ruling.by == by
    assert rulings_over(plan.schedules[0], plan, [day, day + timedelta(1)])[0] == ruling
