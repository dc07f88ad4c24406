"""People in several groups, several pools, desktops and apps: one session or two."""

from datetime import date

import numpy as np

from idle_harbor.core.calendar.clock import horizon_for
from idle_harbor.core.demand.crowd import crowd_horizon
from idle_harbor.core.demand.desktops import doubles_of, several_desktops
from idle_harbor.core.demand.spells import demand_of, pool_spells
from idle_harbor.core.weeks.summary import simulate
from idle_harbor.formats.plan.codec import plan_of
from tests.core.people import group, over, pattern
from tests.core.plans import document

DAY = over(date(2027, 1, 4), 1, "UTC")
UTC = [{"id": "here", "time_zone": "UTC"}]


def two_groups(overlap=0, **pool):
    """Two groups of ten: one works 09:00 to 17:00, the other 13:00 to 21:00."""
    whole = document(
        sites=UTC,
        groups=[group("a", 10), group("b", 10, [pattern(begin="13:00")])],
        access=[{"group": "a", "pool": "main"}, {"group": "b", "pool": "main"}],
    )
    whole["pools"][0].update(pool)
    if overlap:
        whole["overlaps"] = [{"groups": ["a", "b"], "people": overlap}]
    return whole


def main_spells(whole, horizon=DAY):
    return pool_spells(demand_of(plan_of(whole), "main"), horizon, 1)


def test_people_of_different_groups_are_different_people():
    found = main_spells(two_groups())
    assert len(found) == 20 and len(set(found.person.tolist())) == 20


def test_a_person_of_both_groups_has_one_spell_over_both_days():
    found = main_spells(two_groups(overlap=4))
    assert len(found) == 16
    long = found.end - found.start == 12 * 3600
    assert long.sum() == 4
    assert demand_of(plan_of(two_groups(overlap=4)), "main").named([date(2027, 3, 1)]) == 16


def test_adding_an_overlap_leaves_every_draw_as_it_was():
    apart, shared = main_spells(two_groups()), main_spells(two_groups(overlap=3))
    alone = shared.person[(shared.end - shared.start) == 8 * 3600]
    assert set(alone.tolist()) < set(apart.person.tolist())


def test_three_groups_share_exactly_the_people_said():
    whole = document(
        sites=UTC,
        groups=[group("a", 10), group("b", 10), group("c", 10)],
        access=[{"group": g, "pool": "main"} for g in "abc"],
        overlaps=[
            {"groups": ["a", "b"], "people": 2},
            {"groups": ["a", "c"], "people": 3},
            {"groups": ["a", "b", "c"], "people": 1},
        ],
    )
    # 30 places, less one for each pair and two for the one in all three.
    assert len(main_spells(whole)) == 30 - 2 - 3 - 2


def with_apps(together="one session", use=1.0):
    whole = document(
        sites=UTC,
        groups=[group("a", 10)],
        access=[
            {"group": "a", "pool": "main"},
            {"group": "a", "pool": "main", "as": "apps", "apps": ["Mail"], "use": use},
        ],
        images=[{"id": "image", "apps": ["Mail"]}],
    )
    whole["pools"][0].update(desktop_and_apps=together, image="image")
    return whole


def test_desktop_and_app_in_one_pool_are_one_session_or_two():
    one, two = main_spells(with_apps()), main_spells(with_apps("two sessions"))
    assert (len(one), len(two)) == (10, 20)
    assert len(set(two.person.tolist())) == 20
    plans = [plan_of(with_apps(t)) for t in ("one session", "two sessions")]
    peaks = [simulate(p, "main", 1).sessions.peak.mean for p in plans]
    assert peaks == [10, 20]


def test_apps_run_a_profile_of_their_own():
    for together, expected in (("two sessions", {0: 10, 1: 10}), ("one session", {0: 10})):
        whole = with_apps(together)
        whole["profiles"] = [{"id": "office"}, {"id": "light"}]
        whole["access"][1]["profile"] = "light"
        profiles, counts = np.unique(main_spells(whole).profile, return_counts=True)
        assert dict(zip(profiles.tolist(), counts.tolist(), strict=True)) == expected
    whole["access"].pop(0)
    assert set(main_spells(whole).profile.tolist()) == {1}


def test_use_is_the_share_of_days_on_which_it_is_opened():
    week = horizon_for("UTC", date(2027, 1, 4), 7, 0)
    found = main_spells(with_apps("two sessions", use=0.5), week)
    # 70 desktops, and 70 draws of a half: deviation 4.2.
    assert abs(len(found) - 105) < 17
    assert len(main_spells(with_apps("one session", use=0.5), week)) == 70


def test_apps_of_another_group_join_the_desktop_of_the_same_person():
    whole = two_groups(overlap=10)
    whole["groups"][1] = group("b", 10)
    whole["access"][1].update({"as": "apps", "apps": ["Mail"]})
    whole["images"] = [{"id": "image", "apps": ["Mail"]}]
    whole["pools"][0]["image"] = "image"
    assert len(main_spells(whole)) == 10
    whole["pools"][0]["desktop_and_apps"] = "two sessions"
    assert len(main_spells(whole)) == 20


def with_second_pool(whole):
    whole["pools"].append({**whole["pools"][0], "id": "other"})
    return whole


def test_people_with_two_pools_have_two_desktops_and_what_that_adds_is_told():
    whole = with_second_pool(two_groups(overlap=4))
    whole["access"] = [{"group": "a", "pool": "main"}, {"group": "b", "pool": "other"}]
    plan = plan_of(whole)
    kin = several_desktops(plan)
    assert [(k.people, k.groups, k.pools) for k in kin] == [(4, ("a", "b"), ("main", "other"))]
    told = doubles_of(plan, crowd_horizon("UTC", date(2027, 1, 4), 1), 1)
    # From 13:00 to 17:00 all twenty desktops are wanted, by sixteen people.
    assert (told.people, told.peak_sessions, told.peak_people) == (4, 20, 16)
    assert told.session_hours == 160 and told.people_hours == 160 - 4 * 4
    assert told.added_sessions == 4 and told.added_hours == 16


def test_a_group_with_two_pools_counts_whole():
    whole = with_second_pool(two_groups())
    whole["access"].append({"group": "a", "pool": "other"})
    plan = plan_of(whole)
    told = doubles_of(plan, crowd_horizon("UTC", date(2027, 1, 4), 1), 1)
    assert (told.people, told.peak_sessions, told.peak_people) == (10, 30, 20)
    assert np.isclose(told.session_hours - told.people_hours, 80)
