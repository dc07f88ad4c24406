"""Kinds of day: copied, renamed, taken away, and the days that they are for."""

from datetime import date

import pytest

from idle_harbor.core.errors import PlanError, UnknownNameError
from idle_harbor.core.plan.edits import changed
from idle_harbor.core.rules.whole import faults_of
from idle_harbor.formats.plan.codec import plan_of, read_edit
from tests.core.plans import document


def does(plan, verb, **values):
    return changed(plan, read_edit({"verb": verb, "schedule": "main", **values}))


def small(**workday):
    given = document()
    given["schedules"][0]["day_types"][0] |= workday
    return plan_of(given)


def kinds(plan):
    return {kind.id: kind for kind in plan.schedules[0].day_types}


def test_a_copy_has_the_rules_and_no_day_and_changes_no_date():
    plan = small(ready_by=[{"at": "08:00", "hosts": 3}], dates=["2027-03-06"])
    both = does(plan, "copy-day-type", day_type="workday")
    made, like = kinds(both)["workday-2"], kinds(plan)["workday"]
    assert (made.bands, made.ready_by) == (like.bands, like.ready_by)
    assert not made.rules_any and not faults_of(both)
    assert "busy" in kinds(does(plan, "copy-day-type", day_type="workday", new="busy"))
    with pytest.raises(PlanError, match="called 'rest-day' already"):
        does(plan, "copy-day-type", day_type="workday", new="rest-day")
    with pytest.raises(UnknownNameError, match="gone"):
        does(plan, "copy-day-type", day_type="gone")


def test_a_kind_of_day_has_a_name_and_keeps_its_id():
    plan = does(small(), "name-day-type", day_type="workday", name="Office day")
    assert [(k, each.called) for k, each in kinds(plan).items()] == [
        ("workday", "Office day"),
        ("rest-day", "Rest day"),
    ]
    with pytest.raises(PlanError, match="called 'Rest day' already"):
        does(plan, "name-day-type", day_type="workday", name="Rest day")


def test_one_with_weekdays_stays_until_they_are_anothers():
    plan = small()
    with pytest.raises(PlanError, match="'Rest day' is for sat, sun"):
        does(plan, "remove-day-type", day_type="rest-day")
    for weekday in ("sat", "sun"):
        plan = does(plan, "give-weekday", day_type="workday", weekday=weekday)
    assert kinds(plan)["workday"].weekdays == tuple(range(7))
    assert kinds(plan)["rest-day"].weekdays == ()
    left = does(plan, "remove-day-type", day_type="rest-day")
    assert list(kinds(left)) == ["workday"] and not faults_of(left)


def test_a_weekday_is_in_one_kind_of_day():
    plan = does(small(), "give-weekday", day_type="rest-day", weekday="wed")
    assert kinds(plan)["rest-day"].weekdays == (2, 5, 6)
    assert kinds(plan)["workday"].weekdays == (0, 1, 3, 4)
    assert does(plan, "give-weekday", day_type="rest-day", weekday="wed") == plan


@pytest.mark.parametrize(
    ("taken", "first", "last"),
    [
        ([], "2027-03-01", "2027-03-07"),
        ([("2027-03-03", "2027-03-04")], "2027-03-05", "2027-03-11"),
        # The gap between the two is too short for a week.
        ([("2027-03-02", "2027-03-02"), ("2027-03-06", "2027-03-20")], "2027-03-21", "2027-03-27"),
        ([("2027-02-01", "2027-02-28"), ("2027-03-08", "2027-03-09")], "2027-03-01", "2027-03-07"),
    ],
)
def test_a_stretch_is_the_first_week_that_none_touches(taken, first, last):
    # Those of the other kind of day count too.
    given = document()
    given["schedules"][0]["day_types"][1]["ranges"] = [{"from": a, "to": b} for a, b in taken]
    plan = does(plan_of(given), "add-stretch", day_type="workday", first="2027-03-01")
    (made,) = kinds(plan)["workday"].ranges
    assert (made.first, made.last) == (date.fromisoformat(first), date.fromisoformat(last))
    assert not faults_of(plan)
    again = does(plan, "add-stretch", day_type="workday", first="2027-03-01")
    assert len(kinds(again)["workday"].ranges) == 2 and not faults_of(again)


def test_a_stretch_ends_with_all_dates():
    plan = does(small(), "add-stretch", day_type="workday", first="2199-12-30")
    (made,) = kinds(plan)["workday"].ranges
    assert (made.first, made.last) == (date(2199, 12, 30), date(2199, 12, 31))


def test_a_date_begins_with_the_rules_that_it_has():
    given = document()
    storm = {
        "id": "storm",
        "weekdays": [],
        "bands": [{"from": "00:00", "floor": 9}],
        "ranges": [{"from": "2027-03-01", "to": "2027-03-07"}],
    }
    given["schedules"][0]["day_types"].append(storm)
    plan = does(plan_of(given), "give-date-rules", date="2027-03-03", like="storm")
    assert kinds(plan)["day-2027-03-03"].bands[0].floor == 9
    with pytest.raises(UnknownNameError, match="gone"):
        does(plan_of(given), "give-date-rules", date="2027-03-03", like="gone")


def test_taking_a_dates_rules_away_leaves_kinds_of_day_that_are_for_no_day_yet():
    plan = does(small(), "copy-day-type", day_type="workday", new="draft")
    plan = does(plan, "give-date-rules", date="2027-03-03")
    left = does(plan, "drop-date-rules", date="2027-03-03")
    assert list(kinds(left)) == ["workday", "rest-day", "draft"]
