"""Copy, split and merge of groups."""

from datetime import date

import numpy as np
import pytest

from idle_harbor.core.demand.regroup import merge_groups, split_group
from idle_harbor.core.errors import PlanError, UnknownNameError
from idle_harbor.core.plan.edits.groups import copied_group
from idle_harbor.core.rules.people import people_faults
from tests.core.people import by_day, drop_in, group, over, pattern, plan_with, spells_of

WEEK = over(date(2027, 1, 4), zone="UTC")
UTC = [{"id": "here", "time_zone": "UTC"}]


def plan(*groups, **more):
    return plan_with(*groups, sites=UTC, **more)


def shape(changed):
    return {g.id: getattr(g.demand, "people", None) for g in changed.groups}


def test_a_copy_is_entitled_to_the_same_and_shares_nobody():
    event = {
        "id": "e",
        "groups": ["a"],
        "when": {"kind": "dates", "from": "2027-01-04", "to": "2027-01-05"},
    }
    changed = copied_group(plan(group("a", 5), group("z", 3), events=[event]), "a", "b")
    assert list(shape(changed).items()) == [("a", 5), ("b", 5), ("z", 3)]
    assert [e.group for e in changed.access] == ["a", "b", "z"]
    assert changed.events[0].groups == ("a", "b")
    assert list(people_faults(changed)) == []


def test_a_split_keeps_the_number_of_people_and_what_they_do():
    changed = split_group(plan(group("a", 10)), "a", 3, "b")
    assert shape(changed) == {"a": 7, "b": 3}
    assert by_day(spells_of(changed, WEEK, 1), WEEK) == [3] * 7


def test_a_group_that_is_split_off_is_called_as_people_write():
    changed = split_group(plan(group("a", 10)), "a", 3, "Büro, part")
    assert [(each.id, each.name) for each in changed.groups] == [
        ("a", ""),
        ("buro-part", "Büro, part"),
    ]


def test_a_drop_in_group_is_split_by_its_rate():
    changed = split_group(plan(drop_in("a", 100.0)), "a", 250, "b")
    rates = [g.demand.arrivals_per_hour[0][0] for g in changed.groups]
    assert rates == [75.0, 25.0]
    back = merge_groups(changed, ["a", "b"], "a")
    assert back.groups[0].demand.arrivals_per_hour[0][0] == 100.0


@pytest.mark.parametrize("people", [0, 10, 11])
def test_a_split_that_leaves_nobody_is_refused(people):
    with pytest.raises(PlanError, match="cannot be split off"):
        split_group(plan(group("a", 10)), "a", people, "b")


def test_people_of_other_groups_stay_where_they_are_in_a_split():
    shared = [{"groups": ["a", "z"], "people": 4}]
    base = plan(group("a", 10), group("z", 5), overlaps=shared)
    with pytest.raises(PlanError, match="4 of them are in other groups too"):
        split_group(base, "a", 7, "b")
    assert list(people_faults(split_group(base, "a", 6, "b"))) == []


def test_a_merge_keeps_everybody_at_their_own_time():
    early = group("a", 30, [pattern("day", "07:00")])
    late = group("b", 10, [pattern("day", "13:00")])
    changed = merge_groups(plan(early, late), ["a", "b"], "all")
    assert shape(changed) == {"all": 40}
    assert [(p.id, p.share) for p in changed.groups[0].demand.patterns] == [
        ("day", 0.75),
        ("b-day", 0.25),
    ]
    assert list(people_faults(changed)) == []
    hours = np.bincount(spells_of(changed, WEEK).start % 86_400 // 3600, minlength=24)
    # 280 person-days, three quarters of them early: deviation 7.2.
    assert abs(hours[7] - 210) < 29 and hours[7] + hours[13] == 280


def test_a_merge_lets_one_rest_while_the_other_works():
    work = dict.fromkeys(("mon", "tue", "wed", "thu", "fri"), 1.0)
    office = group("a", 30, [pattern("office", attendance=work)])
    always = group("b", 30, [pattern("always")])
    changed = merge_groups(plan(office, always), ["a", "b"], "a")
    assert list(people_faults(changed)) == []
    counts = by_day(spells_of(changed, WEEK), WEEK)
    assert counts[:5] == [60] * 5 and abs(counts[5] - 30) < 16


def test_people_of_both_are_counted_once_in_a_merge():
    shared = [{"groups": ["a", "b"], "people": 4}, {"groups": ["a", "z"], "people": 2}]
    base = plan(group("a", 10), group("b", 10), group("z", 10), overlaps=shared)
    changed = merge_groups(base, ["a", "b"], "b")
    assert shape(changed) == {"b": 16, "z": 10}
    assert [(o.groups, o.people) for o in changed.overlaps] == [(("z", "b"), 2)]
    assert [e.group for e in changed.access] == ["b", "z"]


@pytest.mark.parametrize(
    ("changes", "what"),
    [
        ({"works_holidays": True}, "work on holidays"),
        ({"growth": {"per_year": 0.1, "since": "2027-01-01"}}, "growth"),
    ],
)
def test_unlike_groups_are_not_merged(changes, what):
    base = plan(group("a", 10), group("b", 10, **changes))
    with pytest.raises(PlanError, match=what):
        merge_groups(base, ["a", "b"], "c")


def test_names_that_are_taken_or_unknown():
    base = plan(group("a", 10), group("b", 10))
    with pytest.raises(PlanError, match="called 'b' already"):
        split_group(base, "a", 2, "b")
    with pytest.raises(UnknownNameError):
        split_group(base, "x", 2, "y")
    with pytest.raises(PlanError, match="two groups or more"):
        merge_groups(base, ["a", "a"], "c")
    turn = {"every_days": 7, "order": ["day", None], "since": "2027-01-04"}
    with pytest.raises(PlanError, match="rotation"):
        merge_groups(plan(group("a", 4, rotation=turn), group("b", 4)), ["a", "b"], "a")
