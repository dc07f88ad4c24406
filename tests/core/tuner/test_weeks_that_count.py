"""Weeks that may count: the plan's own, those of events, and those in which the clock changes."""

from datetime import date

from idle_harbor.core.tuner.designs.possible import weeks_that_may_count
from tests.core.plans import plan


def test_clock_changes_are_two_and_have_names_of_their_own():
    found = weeks_that_may_count(plan(), "main")
    assert [(w.name, w.monday) for w in found] == [
        ("ordinary", date(2027, 3, 1)),
        ("clock forward", date(2027, 3, 22)),
        ("clock back", date(2027, 10, 25)),
    ]
    assert found[1].why == "the clock changes on 2027-03-28"
    assert len({w.name for w in found}) == len(found)


def test_an_event_of_the_own_week_counts_where_it_comes_next():
    monthly = {"kind": "month-workdays", "from": 1, "to": 4}
    once = {"kind": "dates", "from": "2027-03-02", "to": "2027-03-03"}
    found = weeks_that_may_count(
        plan(
            events=[
                {"id": "billing", "when": monthly, "factor": 2},
                {"id": "fair", "when": once, "factor": 2},
            ]
        ),
        "main",
    )
    assert (
        found[0].why == "the week of the plan, with days of the event billing, with days of "
        "the event fair"
    )
    assert found[1].name == "billing" and found[1].monday == date(2027, 3, 29)
    assert "fair" not in [week.name for week in found]
