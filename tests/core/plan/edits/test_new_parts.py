"""Parts that are added with values to begin from, and changes that take others with them."""

from dataclasses import replace
from datetime import date
from itertools import pairwise

import pytest

from idle_harbor.core.errors import PlanError, UnknownNameError
from idle_harbor.core.plan import Dates, MonthWorkdays
from idle_harbor.core.plan.edits.profiles import with_measured
from idle_harbor.core.plan.hosts import Request
from idle_harbor.core.plan.patterns import Histogram
from idle_harbor.core.rules.whole import faults_of
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import plan_of, to_values
from tests.core.plan.edits.test_edits import does, small

DEMO = plan_of(demo_plan())
MONDAY = "2027-03-01"
ADDING = [
    ("add-use", {"group": DEMO.groups[0].id}, "access"),
    ("add-image", {"pool": DEMO.pools[0].id, "new": "fresh"}, "images"),
]


@pytest.mark.parametrize(("verb", "values", "where"), ADDING)
def test_one_more_stands_last_and_leaves_a_plan_that_can_be(verb, values, where):
    plans = [DEMO]
    for k in range(2):
        more = {name: f"{text}-{k}" if name == "new" else text for name, text in values.items()}
        plans.append(does(plans[-1], verb, **more))
    for before, after in pairwise(plans):
        assert getattr(after, where)[:-1] == getattr(before, where)
        assert not faults_of(after)


def test_an_event_is_for_five_days_or_for_workdays_of_a_month():
    plan = does(small(), "add-part", what="event", name="Fair")
    event = plan.events[-1]
    assert event.when == Dates(date(2027, 3, 1), date(2027, 3, 5))
    monthly = does(plan, "set-event-days", event=event.id, by="month-workdays", first=MONDAY)
    assert monthly.events[-1].when == MonthWorkdays(1, 4)
    assert does(monthly, "set-event-days", event=event.id, by="dates", first=MONDAY) == plan
    with pytest.raises(UnknownNameError, match="gone"):
        does(plan, "set-event-days", event="gone", by="dates", first=MONDAY)


def test_a_region_goes_with_its_country_and_rest_days_stay_in_order():
    site = DEMO.sites[0].id
    plan = does(DEMO, "set-country", site=site, country="DE")
    assert (plan.sites[0].holidays.country, plan.sites[0].holidays.region) == ("DE", None)
    for day in ("2027-06-02", "2027-06-01", "2027-06-01"):
        plan = does(plan, "add-rest-day", site=site, day=day)
    days = [own.day for own in plan.sites[0].holidays.own]
    assert days == sorted(days)
    # The second one on a day that rests already is the next that does not.
    assert {date(2027, 6, day) for day in (1, 2, 3)} <= set(days)


def test_days_of_a_calendar_join_those_of_the_site_which_keep_their_names():
    site = DEMO.sites[0].id
    plan = does(DEMO, "add-rest-day", site=site, day="2027-06-02")
    named = [("2027-06-03", "third"), ("2027-06-02", "again"), ("2027-06-03", "twice")]
    days = [{"day": day, "name": name} for day, name in named]
    kept = plan.sites[0].holidays.own
    own = does(plan, "take-rest-days", site=site, days=days).sites[0].holidays.own
    fresh = [(each.day, each.name) for each in own if each not in kept]
    assert fresh == [(date(2027, 6, 3), "third")]
    assert set(kept) <= set(own) and [each.day for each in own] == sorted(each.day for each in own)


def test_groups_follow_a_profile_that_was_measured():
    like = DEMO.groups[0].profile
    plan = with_measured(DEMO, like, "fresh", lambda old: replace(old, disk_ops=7.0))
    old = {group.id: group.profile for group in DEMO.groups}
    assert all(
        group.profile == ("fresh" if old[group.id] == like else old[group.id])
        for group in plan.groups
    )
    assert (plan.profiles[-1].id, plan.profiles[-1].disk_ops) == ("fresh", 7.0)
    with pytest.raises(PlanError, match="already"):
        with_measured(DEMO, like, like, lambda old: old)
    with pytest.raises(UnknownNameError, match="gone"):
        with_measured(DEMO, "gone", "fresh", lambda old: old)


def test_access_begins_where_it_is_free_and_a_desktop_has_no_apps():
    plan = small()
    use = does(plan, "add-use", group="people").access[-1]
    assert (use.pool, use.use_as, use.apps) == ("main", "apps", ("name of the app",))
    both = does(plan, "add-use", group="people")
    with pytest.raises(PlanError, match="every pool already"):
        does(both, "add-use", group="people")
    mine = {"group": "people", "pool": "main", "use_as": "desktop"}
    apps = does(plan, "set-use", **mine, to="apps")
    assert apps.access[0].apps == ("name of the app",)
    again = does(apps, "set-use", **mine | {"use_as": "apps"}, to="desktop")
    assert again == plan


def test_a_moved_pool_names_no_zone_and_a_place_gets_each_line_once():
    pool = next(each for each in DEMO.pools if each.zones or each.place)
    place = next(each.id for each in DEMO.places if each.id != pool.place)
    moved = does(DEMO, "move-pool", pool=pool.id, place=place)
    found = next(each for each in moved.pools if each.id == pool.id)
    assert (found.place, found.zones) == (place, ())
    with pytest.raises(UnknownNameError, match="gone"):
        does(DEMO, "move-pool", pool=pool.id, place="gone")
    fresh = does(DEMO, "add-part", what="place", name="There")
    line = {"place": fresh.places[-1].id, "site": DEMO.sites[0].id}
    joined = does(fresh, "add-line", **line)
    assert joined.places[-1].lines[0].round_trip_ms == 50.0
    assert does(joined, "add-line", **line) == joined


def test_patterns_are_copied_for_nobody_and_the_last_is_everybodys():
    plan = small()
    group, like = plan.groups[0].id, plan.groups[0].demand.patterns[0]
    of = {"group": group, "pattern": like.id}
    both = does(plan, "copy-pattern", **of, new="late")
    assert [each.share for each in both.groups[0].demand.patterns] == [like.share, 0.0]
    left = does(both, "remove-pattern", **of).groups[0].demand.patterns
    assert [(each.id, each.share) for each in left] == [("late", 1.0)]
    with pytest.raises(PlanError, match="no other pattern"):
        does(plan, "remove-pattern", **of)


def test_a_rotation_has_a_crew_for_each_pattern_and_one_at_rest():
    plan = does(small(), "copy-pattern", group="people", pattern="day", new="late")
    turns = does(plan, "begin-rotation", group="people", since=MONDAY)
    rotation = turns.groups[0].demand.rotation
    assert (rotation.order, rotation.every_days) == (("day", "late", None), 7)
    ended = does(turns, "end-rotation", group="people").groups[0].demand
    assert ended.rotation is None
    assert [each.share for each in ended.patterns] == [1.0, 0.0]
    grown = does(small(), "grow", group="people", since=MONDAY).groups[0].growth
    assert (grown.since, grown.per_year) == (date(2027, 3, 1), 0.05)


def test_observed_starts_become_a_spread_of_the_same_mean_and_deviation():
    # Half at 08:00 to 08:30, half at 08:30 to 09:00: mean 08:30, deviation 60/√12 minutes.
    observed = {"kind": "histogram", "from": "08:00", "step_minutes": 30, "weights": [1, 1]}
    values = to_values(small())
    values["groups"][0]["demand"]["patterns"][0]["start"] = observed
    plan = small(groups=values["groups"])
    spread = plan.groups[0].demand.patterns[0].start.spread
    assert isinstance(spread, Histogram)
    assert spread.sd / 60 == pytest.approx(60 / 12**0.5)
    plain = does(plan, "plain-pattern", group="people", pattern="day", which="start")
    start = plain.groups[0].demand.patterns[0].start
    assert (start.mean, start.sd_minutes) == (8.5 * 3600, 17)


def test_a_break_keeps_its_time_whichever_way_that_is_said():
    plan = does(small(), "add-break", group="people", pattern="day")
    of = {"group": "people", "pattern": "day", "pause": 1}

    def begins(found):
        pattern = found.groups[0].demand.patterns[0]
        return pattern.break_start(pattern.breaks[0])

    after = does(plan, "set-break-time", **of, by="after")
    assert after.groups[0].demand.patterns[0].breaks[0].at is None
    assert begins(after) == begins(plan) == begins(does(after, "set-break-time", **of, by="at"))
    with pytest.raises(UnknownNameError):
        does(plan, "set-break-time", **of | {"pause": 8}, by="at")


def test_an_app_and_a_promise_of_a_pools_own():
    plan = does(does(small(), "add-app", pool="main"), "add-app", pool="main")
    assert [each.app for each in plan.pools[0].apps_at_logon] == ["another app", "another app 2"]
    own = does(plan, "give-own-promise", pool="main", own=True)
    assert own.pools[0].promise.wait_p95_seconds == plan.promise.wait_p95_seconds
    assert own.pools[0].owed(plan.promise) == plan.promise
    assert does(own, "give-own-promise", pool="main", own=False) == plan


def test_a_quota_is_asked_for_before_it_is_there():
    size = DEMO.sizes[0].id
    asked = does(DEMO, "ask-quota", size=size, vcpu=472)
    assert asked.sizes[0].quota == DEMO.sizes[0].quota
    assert asked.sizes[0].quota_asked == Request(472.0, due=DEMO.week_of)
    owned = replace(asked.sizes[0], quota_asked=Request(472.0, "cloud desk", date(2027, 1, 4)))
    more = does(replace(asked, sizes=(owned, *asked.sizes[1:])), "ask-quota", size=size, vcpu=500)
    assert more.sizes[0].quota_asked == Request(500.0, "cloud desk", date(2027, 1, 4))
    granted = does(more, "grant-quota", size=size)
    assert (granted.sizes[0].quota, granted.sizes[0].quota_asked) == (500.0, None)
    with pytest.raises(PlanError, match="no quota"):
        does(granted, "grant-quota", size=size)
