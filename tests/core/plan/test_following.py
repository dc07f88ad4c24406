"""Groups that follow the directory, by hand."""

from dataclasses import replace

from idle_harbor.core.plan import Overlap
from idle_harbor.core.plan.following import Behind, behind, caught_up, followed
from idle_harbor.formats.plan.codec import edited, plan_of
from tests.core.plans import document


def following():
    """Three groups: of two directory groups, and of none."""
    given = document()
    like = given["groups"][0]
    given["access"] = [each for each in given["access"] if each["group"] == like["id"]]
    given["groups"] = []
    for name, people, key in (("a", 10, "dir-a"), ("b", 20, "dir-b"), ("c", 30, None)):
        demand = {**like["demand"], "people": people, "follows": key}
        given["groups"].append({**like, "id": name, "demand": demand})
    given["access"] = [{**given["access"][0], "group": name} for name in "abc"]
    given["overlaps"] = [
        {"groups": ["c", "a"], "people": 2},
        {"groups": ["a", "b"], "people": 1, "source": "directory"},
    ]
    return plan_of(given)


def test_a_group_is_behind_where_the_directory_counts_otherwise():
    plan = following()
    assert followed(plan) == {"dir-a": "a", "dir-b": "b"}
    assert behind(plan, {"dir-a": 10, "dir-b": 20}) == []
    assert behind(plan, {"dir-a": 11, "other": 3}) == [
        Behind("a", "dir-a", 10, 11),
        Behind("b", "dir-b", 20, None),
    ]


def test_a_plan_catches_up_and_keeps_what_was_typed():
    plan = following()
    classes = [(("dir-a",), 7), (("dir-a", "dir-b"), 4), (("dir-b",), 18)]
    now = caught_up(plan, {"dir-a": 11, "dir-b": 22}, classes)
    assert [group.demand.people for group in now.groups] == [11, 22, 30]
    assert now.overlaps == (Overlap(("c", "a"), 2), Overlap(("a", "b"), 4, "directory"))
    assert edited(now) and behind(now, {"dir-a": 11, "dir-b": 22}) == []


def test_a_group_that_is_gone_keeps_its_number_and_typed_overlaps_win():
    plan = caught_up(following(), {"dir-b": 22}, [(("dir-a", "dir-b"), 3)])
    assert [group.demand.people for group in plan.groups] == [10, 22, 30]
    typed = Overlap(("b", "a"), 9)
    kept = caught_up(replace(plan, overlaps=(typed,)), {}, [(("dir-a", "dir-b"), 3)])
    assert kept.overlaps == (typed,)
