"""Edits of a plan that change more than one value, by hand."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest

from idle_harbor.core.errors import PlanError, UnknownNameError
from idle_harbor.core.plan.edits import changed
from idle_harbor.core.plan.edits.bands import reach_of
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import edited, plan_of, read_edit, to_values
from tests.core.plans import document

DAY = {"schedule": "main", "day_type": "workday"}


def does(plan, verb, **values):
    return changed(plan, read_edit({"verb": verb, **values}))


def small(**changes):
    return plan_of(document(**changes))


def starts(plan):
    return [band["from"] for band in to_values(plan)["schedules"][0]["day_types"][0]["bands"]]


def floors_of(plan):
    return [band.floor for band in plan.schedules[0].day_types[0].bands]


@pytest.mark.parametrize(
    ("band", "to", "begins"),
    [
        ("07:30", "06:58", ["00:00", "07:00", "17:00"]),  # on the grid
        ("07:30", "23:00", ["00:00", "16:55", "17:00"]),  # before the one after it
        ("07:30", "00:01", ["00:00", "00:05", "17:00"]),  # after the one before it
        ("17:00", "23:59", ["00:00", "07:30", "23:55"]),
        ("00:00", "03:00", ["00:00", "07:30", "17:00"]),  # a day begins at midnight
    ],
)
def test_a_band_moves_as_far_as_its_neighbours_allow(band, to, begins):
    moved = does(small(), "move-band", **DAY, band=band, to=to)
    assert starts(moved) == begins
    assert edited(moved)


def test_a_band_is_split_in_two_alike():
    plan = does(small(), "split-band", **DAY, at="12:02")
    assert starts(plan) == ["00:00", "07:30", "12:00", "17:00"]
    bands = plan.schedules[0].day_types[0].bands
    assert replace(bands[2], start=bands[1].start) == bands[1]
    assert starts(does(small(), "split-band", **DAY, at="23:59"))[-1] == "23:55"
    with pytest.raises(PlanError, match="begins at 07:30 already"):
        does(small(), "split-band", **DAY, at="07:31")


def test_a_band_that_goes_leaves_its_time_to_the_one_before_it():
    plan = does(small(), "remove-band", **DAY, band="17:00")
    assert (starts(plan), floors_of(plan)) == (["00:00", "07:30"], [0, 4])
    plan = does(plan, "remove-band", **DAY, band="00:00")
    assert (starts(plan), floors_of(plan)) == (["00:00"], [4])
    with pytest.raises(PlanError, match="at least one band"):
        does(plan, "remove-band", **DAY, band="00:00")


def test_what_is_not_there_is_told():
    with pytest.raises(UnknownNameError, match=r"called '09:00'.*: 00:00, 07:30, 17:00"):
        does(small(), "remove-band", **DAY, band="09:00")
    with pytest.raises(UnknownNameError, match="no day type called 'holiday'"):
        does(small(), "split-band", schedule="main", day_type="holiday", at="09:00")
    with pytest.raises(UnknownNameError, match="no schedule called 'other'"):
        does(small(), "give-date-rules", schedule="other", date="2027-03-03")
    for verb, values in (("remove-group", {"group": "x"}), ("remove-size", {"size": "x"}),
                         ("rename-group", {"group": "x", "to": "y"})):  # fmt: skip
        with pytest.raises(UnknownNameError, match="called 'x'"):
            does(small(), verb, **values)
    with pytest.raises(PlanError, match="move-band"):
        read_edit({"verb": "paint-band"})
    with pytest.raises(PlanError, match="/to"):
        read_edit({"verb": "move-band", **DAY, "band": "07:30", "to": "half past"})


def test_a_date_is_given_rules_of_its_own_and_they_are_taken_away():
    own = does(small(), "give-date-rules", schedule="main", date="2027-03-03")
    schedule = own.schedules[0]
    day = date(2027, 3, 3)
    assert schedule.day_type_of(day).id == "day-2027-03-03"
    assert schedule.day_type_of(day).bands == small().schedules[0].day_type_of(day).bands
    assert schedule.day_type_of(date(2027, 3, 10)).id == "workday"
    assert edited(own)
    with pytest.raises(PlanError, match="has rules of its own already"):
        does(own, "give-date-rules", schedule="main", date="2027-03-03")
    assert does(own, "drop-date-rules", schedule="main", date="2027-03-03") == small()
    assert does(small(), "drop-date-rules", schedule="main", date="2027-03-03") == small()
    # A day type that weekdays are left for stays without the date.
    types = list(document()["schedules"][0]["day_types"])
    types[0] = {**types[0], "dates": ["2027-03-06"]}
    fair = small(schedules=[{"id": "main", "day_types": types}])
    assert does(fair, "drop-date-rules", schedule="main", date="2027-03-06") == small()


def test_a_group_goes_with_everything_that_is_about_it():
    plan = plan_of(demo_plan())
    for group in plan.groups:
        left = does(plan, "remove-group", group=group.id)
        assert f'"{group.id}"' not in str(to_values(left)).replace("'", '"')
        alone = sum(event.groups == (group.id,) for event in plan.events)
        assert len(left.events) == len(plan.events) - alone


def test_a_group_is_called_otherwise_everywhere():
    plan = plan_of(demo_plan())
    for group in plan.groups:
        named = does(plan, "rename-group", group=group.id, to="other-name")
        assert edited(named)
        assert f'"{group.id}"' not in _names_of_groups(named)
        assert does(named, "rename-group", group="other-name", to=group.id) == plan
    assert does(plan, "rename-group", group=plan.groups[0].id, to=plan.groups[0].id) == plan
    with pytest.raises(PlanError, match=r"called '.*' already"):
        does(plan, "rename-group", group=plan.groups[0].id, to=plan.groups[1].id)


def _names_of_groups(plan):
    values = to_values(plan)
    names = [group["id"] for group in values["groups"]]
    names += [each["group"] for each in values["access"]]
    names += [name for key in ("events", "overlaps") for each in values[key]
              for name in each["groups"]]  # fmt: skip
    names += [each["group"] for pool in values["pools"] for each in pool["assigned"]]
    return {f'"{name}"' for name in names}


def test_a_size_goes_with_what_places_ask_for_it():
    plan = plan_of(demo_plan())
    free = next(s.id for s in plan.sizes if all(pool.size != s.id for pool in plan.pools))
    left = does(plan, "remove-size", size=free)
    assert edited(left)
    assert all(offer.size != free for place in left.places for offer in place.offers)
    used = does(plan, "remove-size", size=plan.pools[0].size)
    with pytest.raises(PlanError):
        edited(used)


def test_a_pool_is_copied_with_a_schedule_of_its_own_and_without_peoples_own_hosts():
    plan = plan_of(demo_plan())
    like = next(pool for pool in plan.pools if pool.assigned)
    both = does(plan, "copy-pool", pool=like.id, new="beside")
    made = both.pools[-1]
    assert made == replace(like, id="beside", schedule="beside", assigned=())
    assert both.schedules[-1].id == "beside" and both.access == plan.access
    assert edited(both)
    # Its schedule gets a free name where its own is taken.
    taken = does(both, "remove-pool", pool="beside")
    taken = replace(taken, schedules=(*taken.schedules, both.schedules[-1]))
    again = does(taken, "copy-pool", pool=like.id, new="beside")
    assert again.pools[-1].schedule == "beside-2"
    with pytest.raises(PlanError, match="called 'office' already"):
        does(plan, "copy-pool", pool=like.id, new="office")


def test_a_pool_goes_with_what_was_for_it_alone():
    values = demo_plan()
    first, second = values["pools"][0], values["pools"][1]
    licence = {"id": "a", "monthly": "5", "pools": [first["id"]]}
    values["prices"]["licences"] = [
        licence, licence | {"id": "b", "pools": [first["id"], second["id"]]},
        licence | {"id": "c", "pools": []},
    ]  # fmt: skip
    plan = plan_of(values)
    left = does(plan, "remove-pool", pool=first["id"])
    assert edited(left)
    assert first["id"] not in [pool.id for pool in left.pools]
    assert first["id"] not in [each.pool for each in left.access]
    # One for this pool alone would be for every pool, were it kept without a name.
    assert [(each.id, each.pools) for each in left.prices.licences] == [
        ("b", (second["id"],)), ("c", ()),
    ]  # fmt: skip
    shared = replace(plan, pools=(plan.pools[0], replace(plan.pools[1], schedule="office")))
    assert plan.pools[0].schedule == "office"
    assert "office" in [s.id for s in does(shared, "remove-pool", pool="office").schedules]
    assert "office" not in [s.id for s in left.schedules]


def test_a_pool_takes_a_size_with_its_limit_and_the_hosts_that_surge_does_not_bring():
    plan = plan_of(demo_plan())
    office = plan.pools[0]
    taken = does(plan, "take-size", pool="office", size="ketch", session_limit=29, hosts=42)
    pool = taken.pools[0]
    assert (pool.size, pool.session_limit, pool.hosts.standing) == ("ketch", 29, 42)
    assert edited(taken) and taken.pools[1:] == plan.pools[1:]
    surging = replace(office, hosts=replace(office.hosts, surge=50))
    few = does(replace(plan, pools=(surging, *plan.pools[1:])), "take-size", pool="office",
               size="ketch", session_limit=29, hosts=42)  # fmt: skip
    assert (few.pools[0].hosts.standing, few.pools[0].hosts.surge) == (0, 50)
    with pytest.raises(UnknownNameError, match="pool"):
        does(plan, "take-size", pool="x", size="ketch", session_limit=1, hosts=1)
    with pytest.raises(PlanError, match="session_limit"):
        does(plan, "take-size", pool="office", size="ketch", session_limit=0, hosts=1)


def test_reach_is_between_the_neighbours():
    bands = small().schedules[0].day_types[0].bands
    assert [reach_of(bands, k) for k in range(3)] == [
        (0, 0), (300, 17 * 3600 - 300), (7 * 3600 + 2100, 86_400 - 300),
    ]  # fmt: skip
