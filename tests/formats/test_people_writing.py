"""Plans of people go from document to core and back without a change; calendar files."""

from __future__ import annotations

from datetime import date

import pytest

from idle_harbor.core.errors import PlanError
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.calendar_file import calendar_days
from idle_harbor.formats.people_writing import with_people
from idle_harbor.formats.plan_reading import document_of, plan_from, to_values
from tests.core.people import LEAVES, drop_in, group, pattern
from tests.core.plans import document


def round_trip(whole):
    values = to_values(document_of(whole))
    plan = plan_from(document_of(values))
    again = with_people(values, plan)
    assert plan_from(document_of(again)) == plan
    return values, to_values(document_of(again))


def test_the_demo_comes_back_as_it_was():
    values, again = round_trip(demo_plan())
    assert again["events"] == values["events"] and again["overlaps"] == values["overlaps"]
    assert again["entitlements"] == values["entitlements"]
    assert [g["id"] for g in again["groups"]] == [g["id"] for g in values["groups"]]


def test_every_kind_of_field_comes_back():
    pause = {"probability": 0.5, "after_minutes": 200.5, "leaving": LEAVES}
    seen = {"kind": "histogram", "from": "05:30", "step_minutes": 20, "weights": [1, 2.5]}
    lengths = {"kind": "histogram", "from_minutes": 90, "step_minutes": 45, "weights": [3]}
    turn = {"every_days": 3, "order": ["a", None], "since": "2027-01-04"}
    whole = document(
        groups=[
            group("a", 7, [pattern("a", breaks=[pause])], rotation=turn, works_holidays=True,
                  growth={"per_year": -0.1, "since": "2027-02-01"}),
            group("b", 5, [pattern("b", start=seen, length=lengths)]),
            drop_in("c", 12.5),
        ],
        events=[{"id": "e", "groups": ["a"], "when": {"kind": "month-workdays", "from": 2, "to": 3},
                 "factor": 0.5, "shift_minutes": -30, "pattern": "a"}],
        overlaps=[{"groups": ["a", "b"], "people": 2, "source": "a list"}],
        images=[{"id": "image", "apps": ["Mail"]}],
        entitlements=[{"group": "a", "pool": "main", "as": "apps", "apps": ["Mail"], "use": 0.25,
                       "profile": "office"}],
    )  # fmt: skip
    values, again = round_trip(whole)
    assert again["groups"][0]["demand"]["patterns"][0]["breaks"][0]["after_minutes"] == 200.5
    assert {**again, "groups": None} == {**values, "groups": None}


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
        ("2027-03-16", "Two days"), ("2027-03-17", "Two days"), ("2027-04-01", "Stocktaking"),
        ("2027-06-24", "Midsummer"), ("2029-06-24", "Midsummer")]  # fmt: skip
    assert skipped == ["event 4, 'Some day': it has no start"]


@pytest.mark.parametrize("text", ["", "hello", CALENDAR[:200]])
def test_what_is_no_calendar_is_refused_whole(text):
    with pytest.raises(PlanError, match="iCalendar"):
        calendar_days(text, date(2027, 1, 1), date(2027, 12, 31))
