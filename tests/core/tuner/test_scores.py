"""What a search is told of a week is what a whole simulation of it tells, to the last bit."""

from dataclasses import replace
from math import inf

import pytest

from idle_harbor.core.money.ledger import settable
from idle_harbor.core.plan.load_rules import LoadRule
from idle_harbor.core.tuner import ordinary
from idle_harbor.core.tuner.designs.design import design_of, in_plan
from idle_harbor.core.tuner.scoring.scores import Slot, Tried, score
from idle_harbor.core.weeks.case import case_of
from idle_harbor.core.weeks.week import week
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import plan_of
from tests.core.plans import document, plan

DEMO = plan_of(demo_plan())


def same(case, seed):
    short, whole = score(case, seed), week(case, seed, record=True)
    p95, p96, p99 = (
        inf if wait is None and whole.waits.arrivals else wait
        for wait in (whole.waits.p95, whole.waits.p96, whole.waits.p99)
    )
    worked = whole.run.tally.wanted / 3_600 * (365.25 / 12) / case.horizon.days
    spoiled = pytest.approx((1.0 - whole.sessions.comfort) * worked)
    promised = (
        p99,
        inf if whole.first.refused else whole.first.longest,
        whole.own_wait,
        whole.waits.refused_share,
        whole.sessions.strained_share,
        whole.returns.lost_share,
        whole.lost_work_share,
        whole.forced_share,
        whole.sessions.comfort,
    )
    money = (float(whole.month), float(settable(whole.ledger)), whole.hours.billed)
    assert short == (*money, spoiled, (p95, *promised), (p96, *promised))


@pytest.mark.parametrize("pool", [each.id for each in DEMO.pools])
def test_every_pool_of_the_demo(pool):
    case = case_of(DEMO, pool)
    for seed in (1, 7):
        same(case, seed)


def test_a_pool_with_load_rules_and_notice():
    values = document()
    schedule = values["schedules"][0]
    schedule["load_rules"] = [{"id": "busy", "signal": "slots in use", "asks_at": 0.5, "adds": 2}]
    for band in schedule["day_types"][0]["bands"]:
        band["load_rules"] = ["busy"]
        band["release"] = "drain with notice"
    case = case_of(plan_of(values), "main")
    assert isinstance(case.setting.schedule.load_rules[0], LoadRule)
    for seed in (1, 2, 3):
        same(case, seed)


def test_one_whose_waits_have_no_bound():
    values = document()
    values["pools"][0] |= {"hosts": {"standing": 1}, "patience_seconds": 60}
    for band in values["schedules"][0]["day_types"][0]["bands"]:
        band |= {"floor": 0, "headroom": 0}
    case = case_of(plan_of(values), "main")
    same(case, 1)
    assert score(case, 1).promised[0] == inf


def test_a_design_is_scored_in_its_place_in_the_plan():
    whole = plan()
    tried = Tried(whole, ordinary(whole))
    design = design_of(whole, "main")
    more = replace(design, pool=replace(design.pool, session_limit=4))
    slots = [Slot(0, 3), Slot(0, 4)]
    assert tried.scores(design, slots) == [score(case_of(whole, "main"), s) for s in (3, 4)]
    changed = case_of(in_plan(whole, more), "main")
    assert tried.scores(more, slots) == [score(changed, s) for s in (3, 4)]
    assert tried.scores(more, slots) != tried.scores(design, slots)


def test_a_schedule_that_others_have_is_left_to_them():
    values = document()
    values["pools"].append(values["pools"][0] | {"id": "other"})
    whole = plan_of(values)
    design = design_of(whole, "main")
    assert in_plan(whole, design) is whole
    kinds = design.schedule.day_types
    first = replace(kinds[0], bands=(replace(kinds[0].bands[0], floor=3), *kinds[0].bands[1:]))
    changed = in_plan(
        whole, replace(design, schedule=replace(design.schedule, day_types=(first, *kinds[1:])))
    )
    assert changed.schedules[0] == whole.schedules[0]
    assert [each.schedule for each in changed.pools] == ["main-main", "main"]
    assert changed.schedules[1].day_types[0].bands[0].floor == 3
    moved = in_plan(whole, replace(design, pool=replace(design.pool, session_limit=5)))
    assert moved.schedules == whole.schedules and moved.pools[0].session_limit == 5
