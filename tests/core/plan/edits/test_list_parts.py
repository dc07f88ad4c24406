"""Things of the plan's lists are added, copied, named and removed."""

from dataclasses import replace
from typing import get_args

import pytest

from idle_harbor.core.errors import PlanError
from idle_harbor.core.plan.edits.parts import What
from idle_harbor.core.rules.whole import faults_of
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import edited, plan_of, to_values
from tests.core.plan.edits.test_edits import does, small

DEMO = plan_of(demo_plan())
EMPTY = plan_of({"name": "Empty", "week_of": "2027-03-01"})
EVERY = pytest.mark.parametrize("what", get_args(What))


def things(plan, what):
    return plan.prices.licences if what == "licence" else getattr(plan, f"{what}s")


def copied(plan, what, part, name):
    return does(plan, "copy-part", what=what, part=part, name=name)


@EVERY
@pytest.mark.parametrize("plan", [DEMO, EMPTY], ids=["demo", "empty"])
def test_one_is_added_by_name_copied_named_and_removed(plan, what):
    more = does(plan, "add-part", what=what, name="Zürich Süd 2")
    made = things(more, what)[-1]
    assert (made.id, made.name) == ("zurich-sud-2", "Zürich Süd 2")
    assert not faults_of(more)
    both = copied(more, what, made.id, "Zürich, Süd 2")
    copy = things(both, what)[-1]
    assert (copy.id, copy.called) == ("zurich-sud-2-2", "Zürich, Süd 2")
    assert not faults_of(both)
    named = does(both, "name-part", what=what, part=copy.id, name="Genève")
    assert (things(named, what)[-1].id, things(named, what)[-1].name) == (copy.id, "Genève")
    with pytest.raises(PlanError, match="called 'GENÈVE' already"):
        does(named, "add-part", what=what, name="GENÈVE")
    left = does(named, "remove-part", what=what, part=copy.id)
    assert things(does(left, "remove-part", what=what, part=made.id), what) == things(plan, what)


#: Lists of the demo of which nothing uses any thing.
FREE = ("pool", "group", "licence", "event")


@EVERY
def test_of_the_demo_each_goes_with_what_is_about_it_or_says_who_uses_it(what):
    gone = [each.id for each in things(DEMO, what) if goes(what, each.id)]
    if what in FREE:
        assert len(gone) == len(things(DEMO, what))
    else:
        assert len(gone) < len(things(DEMO, what))


def goes(what, part):
    """Whether a thing of the demo can be removed; what is left then is a plan."""
    try:
        left = does(DEMO, "remove-part", what=what, part=part)
    except PlanError as error:
        return "is used by" not in str(error)
    assert not faults_of(left)
    return True


def test_what_is_used_says_by_what_and_what_to_do():
    with pytest.raises(PlanError, match=r"'Office' is used by group 'People'; .*another profile"):
        does(small(), "remove-part", what="profile", part=small().profiles[0].id)


def test_a_schedule_that_is_called_as_its_pool_goes_on_so():
    plan = does(DEMO, "add-part", what="pool", name="Night")
    plan = does(plan, "name-part", what="pool", part="night", name="Night desk")
    assert (plan.schedules[-1].id, plan.schedules[-1].name) == ("night", "Night desk")
    plan = does(plan, "name-part", what="schedule", part="night", name="Nights")
    plan = does(plan, "name-part", what="pool", part="night", name="Desk at night")
    assert plan.schedules[-1].name == "Nights"


def test_a_name_without_a_letter_of_ours_has_an_id_too():
    plan = does(small(), "add-part", what="site", name="東京")
    assert (plan.sites[-1].id, plan.sites[-1].name) == ("new", "東京")


def test_a_group_goes_with_everything_that_is_about_it():
    plan = plan_of(demo_plan())
    for group in plan.groups:
        left = does(plan, "remove-part", what="group", part=group.id)
        assert f'"{group.id}"' not in str(to_values(left)).replace("'", '"')
        alone = sum(event.groups == (group.id,) for event in plan.events)
        assert len(left.events) == len(plan.events) - alone


def test_a_pool_is_copied_with_a_schedule_of_its_own_and_without_peoples_own_hosts():
    plan = plan_of(demo_plan())
    like = next(pool for pool in plan.pools if pool.assigned)
    both = copied(plan, "pool", like.id, "Beside")
    made = both.pools[-1]
    assert made == replace(like, id="beside", name="Beside", schedule="beside", assigned=())
    assert both.schedules[-1].id == "beside" and both.access == plan.access
    assert edited(both)
    # Its schedule gets a free name where its own is taken.
    taken = does(both, "remove-part", what="pool", part="beside")
    taken = replace(taken, schedules=(*taken.schedules, both.schedules[-1]))
    again = copied(taken, "pool", like.id, "Beside")
    assert again.pools[-1].schedule == "beside-2"


def test_a_pool_goes_with_what_was_for_it_alone():
    values = demo_plan()
    first, second = values["pools"][0], values["pools"][1]
    licence = {"id": "a", "monthly": "5", "pools": [first["id"]]}
    values["prices"]["licences"] = [
        licence,
        licence | {"id": "b", "pools": [first["id"], second["id"]]},
        licence | {"id": "c", "pools": []},
    ]
    plan = plan_of(values)
    left = does(plan, "remove-part", what="pool", part=first["id"])
    assert edited(left)
    assert first["id"] not in [pool.id for pool in left.pools]
    assert first["id"] not in [each.pool for each in left.access]
    # One for this pool alone would be for every pool, were it kept without a name.
    assert [(each.id, each.pools) for each in left.prices.licences] == [
        ("b", (second["id"],)),
        ("c", ()),
    ]
    shared = replace(plan, pools=(plan.pools[0], replace(plan.pools[1], schedule="office")))
    assert plan.pools[0].schedule == "office"
    assert "office" in [
        s.id for s in does(shared, "remove-part", what="pool", part="office").schedules
    ]
    assert "office" not in [s.id for s in left.schedules]


def test_a_copy_of_a_size_is_had_where_the_size_is():
    plan = plan_of(demo_plan())
    place = next(each for each in plan.places if each.offers)
    size = place.offers[0].size
    both = copied(plan, "size", size, "Like it")
    assert edited(both)
    like = {each.id: each for each in both.sizes}
    assert replace(like["like-it"], id=size, name="", source=like[size].source) == like[size]
    for before, after in zip(plan.places, both.places, strict=True):
        had = [each for each in before.offers if each.size == size]
        assert [e for e in after.offers if e.size == "like-it"] == [
            replace(each, size="like-it") for each in had
        ]
