"""What follows from a plan's parts alone, by hand."""

from dataclasses import replace

from idle_harbor.core.plan import Access
from idle_harbor.core.plan.derived import patterns_for, profiles_in
from tests.core.plan.edits.test_edits import does, small


def two_groups():
    """People with the patterns day and late, and others with day alone who run another profile."""
    plan = does(small(), "copy-part", what="profile", part="office", name="heavy")
    people = plan.groups[0]
    others = replace(people, id="others", profile="heavy")
    plan = replace(plan, groups=(people, others))
    return does(plan, "copy-pattern", group="people", pattern="day", new="late")


def test_an_event_may_have_the_patterns_of_all_its_groups_or_of_any_where_it_is_for_everyone():
    plan = does(two_groups(), "add-part", what="event", name="Fair")
    event = plan.events[-1]
    assert patterns_for(plan, event) == ("day", "late")
    assert patterns_for(plan, replace(event, groups=("people",))) == ("day", "late")
    assert patterns_for(plan, replace(event, groups=("people", "others"))) == ("day",)
    assert patterns_for(plan, replace(event, groups=("gone",))) == ()


def test_a_pool_runs_the_profiles_of_its_uses_else_of_their_groups():
    plan = two_groups()
    uses = (Access("people", "main"), Access("people", "main", "apps", ("x",), profile="heavy"))
    plan = replace(plan, access=(*uses, Access("others", "main"), Access("gone", "main")))
    found = {"office": ["people"], "heavy": ["people", "others"]}
    assert profiles_in(plan, plan.pools[0]) == found
