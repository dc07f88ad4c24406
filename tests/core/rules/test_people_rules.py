"""What cannot be said about people, each with its place and its remedy."""

import pytest

from idle_harbor.core.checks.people import people_findings
from idle_harbor.core.errors import PlanError
from tests.core.people import LEAVES, drop_in, group, pattern, plan_with


def pause(at, minutes=30, **more):
    return {"probability": 1, "at": at, "mean_minutes": minutes, "leaving": LEAVES, **more}


def dates(first, last):
    return {"kind": "dates", "from": first, "to": last}


WRONG = [
    ([group(patterns=[pattern("a", share=0.5), pattern("b", share=0.4)])], {},
     "/groups/0/demand/patterns", "add up to 0.9"),
    ([group(patterns=[pattern("a", share=0.5, attendance={"mon": 1}),
                      pattern("b", share=0.5)])], {},
     "/groups/0/demand/patterns", "Tuesday, Wednesday"),
    ([group(patterns=[pattern(breaks=[pause("12:00", 90), pause("13:00")])])], {},
     "/groups/0/demand/patterns/0/breaks/1/at", "before the one above it is over at 13:30"),
    ([group(patterns=[pattern(breaks=[pause("12:00"), pause(None, after_minutes=60)])])], {},
     "/groups/0/demand/patterns/0/breaks/1/after_minutes", "10:00 begins before"),
    ([group(patterns=[pattern(minutes=1441)])], {},
     "/groups/0/demand/patterns/0/length/mean_minutes", "1441"),
    ([group(patterns=[pattern(start={"kind": "histogram", "weights": [0, 0]})])], {},
     "/groups/0/demand/patterns/0/start/weights", "every weight"),
    ([group(patterns=[pattern(length={"kind": "histogram", "step_minutes": 240,
                                      "weights": [1] * 7})])], {},
     "/groups/0/demand/patterns/0/length/weights", "longer than a day"),
    ([group(rotation={"order": ["night"], "since": "2027-01-04"})], {},
     "/groups/0/demand/rotation/order/0", "no pattern 'night'"),
    ([group(rotation={"order": [None], "since": "2027-01-04"})], {},
     "/groups/0/demand/rotation/order", "no shift"),
    ([group()], {"sites": [{"id": "here", "time_zone": "UTC", "holidays": {"country": "QQ"}}]},
     "/sites/0/holidays/country", "'QQ'"),
    ([group()], {"sites": [{"id": "here", "time_zone": "UTC",
                            "holidays": {"country": "CA", "region": "XX"}}]},
     "/sites/0/holidays/region", "no region 'XX'"),
    ([group()], {"events": [{"id": "e", "when": dates("2027-03-02", "2027-03-01")}]},
     "/events/0/when/to", "before the first"),
    ([group()], {"events": [{"id": "e", "when": dates("2027-03-01", "2027-03-01"),
                             "groups": ["nobody"]}]},
     "/events/0/groups/0", "no group 'nobody'"),
    ([group()], {"events": [{"id": "e", "when": dates("2027-03-01", "2027-03-01"),
                             "pattern": "night"}]},
     "/events/0/pattern", "no group has a pattern 'night'"),
    ([group("a"), group("b")], {"overlaps": [{"groups": ["a", "b"], "people": 11}]},
     "/overlaps/0/people", "11 people are shared"),
    ([group("a"), drop_in("b")], {"overlaps": [{"groups": ["a", "b"], "people": 1}]},
     "/overlaps/0/groups/1", "drop-in"),
    ([group("a"), group("b")], {"overlaps": [{"groups": ["a", "b"], "people": 1},
                                             {"groups": ["b", "a"], "people": 1}]},
     "/overlaps/1/groups", "twice"),
]  # fmt: skip


@pytest.mark.parametrize(("groups", "more", "pointer", "says"), WRONG)
def test_what_cannot_be_is_said_with_its_place(groups, more, pointer, says):
    with pytest.raises(PlanError) as caught:
        plan_with(*groups, **more)
    faults = [fault for fault in caught.value.faults if fault.pointer == pointer]
    assert faults, [fault.line() for fault in caught.value.faults]
    assert says in faults[0].message and faults[0].remedy


def test_a_pattern_that_rests_on_a_day_is_listed_with_0():
    rests = {"mon": 1, "tue": 0, "wed": 0, "thu": 0, "fri": 0, "sat": 0, "sun": 0}
    plan_with(group(patterns=[pattern("a", share=0.5, attendance=rests), pattern("b", share=0.5)]))


def found(plan):
    return {finding.check: finding for finding in people_findings(plan)}


def test_findings_name_what_no_figure_shows():
    patterns = [pattern(breaks=[pause("18:00")]), pattern("spare", share=0.0)]
    plan = plan_with(group("a", 12, patterns), images=[{"id": "image", "apps": ["Mail"]}])
    assert set(found(plan)) == {"break-after-end", "pattern-unused"}
    assert found(plan)["break-after-end"].pointer == "/groups/0/demand/patterns/0/breaks/0"
    assert "12 people" in found(with_uses(plan, []))["no-pool"].matters


def with_uses(plan, uses):
    from dataclasses import replace

    from idle_harbor.core.plan import Access

    access = tuple(Access("a", "main", "apps", tuple(apps)) for apps in uses)
    return replace(plan, access=access)


def test_an_app_that_is_not_in_the_image_is_found():
    from dataclasses import replace

    plan = plan_with(group("a", 12), images=[{"id": "image", "apps": ["Mail"]}])
    without = with_uses(plan, [["Mail"]])
    assert "app-without-image" in found(without)
    pool = replace(plan.pools[0], image="image")
    good = replace(without, pools=(pool,))
    assert found(good) == {}
    bad = replace(with_uses(plan, [["Mail", "Maps"]]), pools=(pool,))
    assert found(bad)["app-not-in-image"].pointer == "/access/0/apps/1"
