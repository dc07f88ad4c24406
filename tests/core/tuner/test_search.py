"""The search: toy pools whose best design is known from trying all of them; honesty; by hand."""

from dataclasses import replace
from itertools import product
from math import inf

import numpy as np
import pytest

from idle_harbor.core.plan import Promise
from idle_harbor.core.tuner import Question, ordinary, tune
from idle_harbor.core.tuner.designs.design import design_of
from idle_harbor.core.tuner.designs.knobs import Bounds, knobs_of, put
from idle_harbor.core.tuner.guesses.theory import ahead, growth, segments
from idle_harbor.core.tuner.scoring.judge import MONEY, Measured, missed, report_on, slack, weighted
from idle_harbor.core.tuner.scoring.scores import Counted, Slot, Tried
from idle_harbor.core.tuner.search.effort import LEAST_EACH, effort_for
from idle_harbor.core.tuner.search.racing import SURE
from idle_harbor.core.tuner.search.search import Search
from idle_harbor.core.tuner.study import SEARCHED_FROM
from idle_harbor.demo.scenario import demo_plan
from tests.core.plans import document, plan, plan_of
from tests.core.tuner.driving import scored
from tests.sizes import LONG, only_long


def toy(**promise):
    """One kind of day with three bands, of which floors and open slots may be turned."""
    values = document()
    values["promise"] = {
        "wait_p95_seconds": 60,
        "refused_share": 0.02,
        "lost_returns": 1,
        **promise,
    }
    kind = values["schedules"][0]["day_types"][0]
    kind["weekdays"] = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
    kind["bands"] = [
        {"from": "00:00", "floor": 1, "release": "drain", "fill_ceiling": 1.0},
        {"from": "07:30", "floor": 5, "headroom": 2, "fill_ceiling": 1.0},
        {"from": "17:30", "floor": 1, "release": "drain", "fill_ceiling": 1.0},
    ]
    values["schedules"][0]["day_types"] = [kind]
    return plan_of(values)


def space(whole):
    """Floors of two bands and open slots of one: everything else is locked."""
    design = design_of(whole, "main")
    every = Bounds(within={}, kinds=frozenset(("workday",)))
    paths = {
        f"schedules.day_types.bands.{name}"
        for name in (
            "from",
            "fill_ceiling",
            "rule",
            "release",
            "margin",
            "least_run_minutes",
            "draining_share",
            "knock",
            "notice.minutes",
            "notice.who",
        )
    }
    bounds = replace(
        every,
        locked=frozenset((*paths, "schedules.day_types.ready_by.at")),
        within={
            "schedules.day_types.bands.floor": (0, 8),
            "schedules.day_types.bands.headroom": (0, 5),
        },
    )
    return design, bounds


@pytest.mark.parametrize(
    "promise", [{"wait_p95_seconds": 200}, pytest.param({}, marks=only_long)], ids=str
)
def test_the_best_of_all_is_found(promise):
    """All 9 × 9 × 6 × … designs of a toy pool, and the search on the same weeks."""
    whole = toy(**promise)
    design, bounds = space(whole)
    weeks = ordinary(whole)
    tried = Tried(whole, weeks)
    rungs = (1, 2)
    search = Search(weeks, [whole.promise], bounds, 1, SEARCHED_FROM, design, rungs)

    where = ("schedule", "day_types", 0, "bands")
    found = {}
    for floors in product(range(4), range(3, 9)):
        for slots in range(6):
            each = put(design, (*where, 0, "floor"), floors[0])
            each = put(each, (*where, 1, "floor"), floors[1])
            each = put(each, (*where, 1, "headroom"), slots)
            each = put(each, (*where, 2, "floor"), 0)
            found[each] = Measured(search.slots, tuple(tried.scores(each, search.slots)))
    kept = {
        d: weighted(m, weeks, MONEY)
        for d, m in found.items()
        if missed(m, weeks, whole.promise, SURE) == 0.0
    }
    least = min(kept.values())

    def drive(asking):
        scores = None
        try:
            while True:
                trials = asking.send(scores)
                scores = [tried.scores(t.design, t.slots) for t in trials]
        except StopIteration:
            pass

    drive(search.race([design]))
    drive(search.go_on(900))
    best = search.aims[0].best[0]
    assert search.keeps(best, search.aims[0])
    assert weighted(search.known[best], weeks, MONEY) <= least + 1e-6
    assert all(
        b.start == t.start
        for b, t in zip(
            best.schedule.day_types[0].bands, design.schedule.day_types[0].bands, strict=True
        )
    )


@pytest.fixture(scope="module")
def answer():
    whole = plan()
    return whole, tune(
        whole, Question("main", ordinary(whole), ("schedule", "timeouts"), budget=1_000)
    )


def test_the_same_question_has_the_same_answer(answer):
    whole, found = answer
    question = Question("main", ordinary(whole), ("schedule", "timeouts"), budget=1_000)
    assert tune(whole, question) == found


def test_what_is_told_is_better_than_today_and_than_simple_rules(answer):
    _, found = answer
    assert found.tuned is not None and found.tuned.report.standing == "kept"
    tuned = found.tuned.report.money.mean
    kept = [
        p.report.money.mean for p in (found.current, *found.rules) if p.report.standing == "kept"
    ]
    assert kept and tuned < min(kept)
    assert found.ideal < tuned
    assert not found.early and found.weeks <= 1_150


def test_figures_told_are_of_weeks_that_nobody_searched(answer):
    """What a whole simulation of fresh seeds says is what is told of what is taken."""
    from idle_harbor.core.tuner.report.fresh import SURE_FROM

    whole, found = answer
    tried = Tried(whole, ordinary(whole))
    told, many = [], effort_for(1_000, 1).confirmed
    for first in range(SURE_FROM, SURE_FROM + 40_000, 10_000):
        slots = tuple(Slot(0, first + k) for k in range(many))
        measured = Measured(slots, tuple(tried.scores(found.tuned.design, slots)))
        told.append(report_on(measured, tried.weeks, whole.promise))
    assert found.tuned.report in told


def test_the_changes_add_up_and_give_the_tuned_plan(answer):
    from idle_harbor.core.tuner.designs.changes import Between

    whole, found = answer
    told = found.explained
    assert sum(step.saves for step in told.steps) == pytest.approx(told.before - told.after)
    between = Between(design_of(whole, "main"), found.tuned.design)
    order = [each.number for step in told.steps for each in step.changes]
    assert sorted(order) == list(range(len(between.changes)))
    assert between.made(order) == found.tuned.design
    # On quarter hours, and within what was free.
    for kind in found.tuned.design.schedule.day_types:
        assert all(band.start % 900 == 0 for band in kind.bands)
    before = design_of(whole, "main").pool
    assert (
        replace(
            found.tuned.design.pool,
            idle_timeout=before.idle_timeout,
            disconnected_timeout=before.disconnected_timeout,
        )
        == before
    )


def test_a_pool_whose_hosts_are_each_one_persons_has_an_answer():
    whole = plan_of(demo_plan())
    question = Question("control", ordinary(whole), ("schedule", "hosts", "size"), budget=200)
    found = tune(whole, question)
    assert found.tuned is not None
    assert found.tuned.report.money.mean <= found.current.report.money.mean
    assert found.tuned.design.pool.hosts == found.current.design.pool.hosts


def test_one_that_is_ended_early_says_so():
    """The search has most of the weeks, and the report no more than its usual share of them."""
    whole, searched = plan(), []

    def told(study):
        if study.stage == "the search" and not study.early:
            study.took(70)
            searched.append(study.so_far().used)

    asked = Question("main", ordinary(whole), budget=100_000, seconds=100)
    found = tune(whole, asked, told=told)
    assert found.early and len(searched) == 1
    assert searched[0] < found.weeks < 2 * searched[0]


def test_a_search_that_is_done_in_time_is_not_called_early():
    whole = plan()

    def told(study):
        study.took(50 if study.stage != "fresh weeks" else 90)

    assert not tune(
        whole, Question("main", ordinary(whole), budget=400, seconds=100), told=told
    ).early


def test_what_even_the_safest_misses_is_excused():
    def weeks_of(*refused):
        slots = tuple(Slot(0, k) for k in range(len(refused)))
        return Measured(slots, tuple(scored(100, each, wait=40) for each in refused))

    safe, other = weeks_of(0.012, 0.012), weeks_of(0.012, 0.016)
    assert missed(safe, WEEKS[:1], PROMISE) == pytest.approx(0.2)
    assert missed(safe, WEEKS[:1], PROMISE, safest=safe) == 0.0
    assert missed(other, WEEKS[:1], PROMISE, safest=safe) == pytest.approx(0.2)
    # By the weeks that both went through.
    assert missed(other.first(1), WEEKS[:1], PROMISE, safest=safe) == 0.0
    # Who serves hardly anybody is no measure for others.
    bad = weeks_of(0.5, 0.5)
    assert missed(other, WEEKS[:1], PROMISE, safest=bad) == pytest.approx(0.4)
    assert missed(bad, WEEKS[:1], PROMISE, safest=bad) > 10.0


def test_where_nobody_can_keep_it_the_cheapest_of_the_best_is_found():
    """Too few hosts for the peak: some are refused whatever is done."""
    few = document()["pools"][0] | {"hosts": {"standing": 7}, "patience_seconds": 120}
    promise = {
        "lost_returns": 1,
        "forced_share": 1,
        "refused_share": 0.005,
        "strained_share": 1,
        "comfort": 0,
    }
    whole = plan(pools=[few], promise=promise)
    found = tune(whole, Question("main", ordinary(whole), budget=700))
    always = next(rule for rule in found.rules if rule.name == "always on").report
    assert found.tuned is None and always.promised["refused_share"].mean > 0.005
    nearest = found.nearest.report
    assert nearest.promised["refused_share"].mean <= 1.02 * always.promised["refused_share"].mean
    assert nearest.money.mean < 0.4 * always.money.mean


# By hand -----------------------------------------------------------------------------------------

WEEKS = (
    Counted("a", ordinary(plan())[0].monday, 3.0),
    Counted("b", ordinary(plan())[0].monday, 1.0),
)
PROMISE = Promise(wait_p95_seconds=60, wait_p99_seconds=None, refused_share=0.01)


def test_money_goes_by_weight_and_the_promise_by_the_worst_kind_of_week():
    measured = Measured(
        (Slot(0, 1), Slot(1, 1), Slot(0, 2), Slot(1, 2)),
        tuple(
            scored(money, wait=wait) for money, wait in ((100, 40), (200, 70), (120, 50), (220, 80))
        ),
    )
    assert weighted(measured, WEEKS, MONEY) == pytest.approx((3 * 110 + 210) / 4)
    assert missed(measured, WEEKS, PROMISE) == pytest.approx(15 / 60)
    assert slack(measured, WEEKS, PROMISE) == pytest.approx(60 / 75)
    # One standard error of 70 and 80 is 5.
    assert missed(measured, WEEKS, PROMISE, 1.0) == pytest.approx(20 / 60)
    told = report_on(measured, WEEKS, PROMISE)
    assert told.standings["wait_p95_seconds"] == "at risk" and told.standing == "at risk"
    assert told.money.mean == pytest.approx(135.0)


def test_to_be_sure_the_figures_near_the_limits_count():
    bare = scored(100, wait=40)
    near = bare._replace(near=(90.0, *bare.near[1:]))
    measured = Measured((Slot(0, 1), Slot(0, 2)), (near, near))
    assert missed(measured, WEEKS[:1], PROMISE) == 0.0
    assert missed(measured, WEEKS[:1], PROMISE, 1.0) == pytest.approx(30 / 60)


def test_a_wait_without_bound_breaks_the_promise():
    measured = Measured((Slot(0, 1), Slot(0, 2)), tuple(scored(1, wait=wait) for wait in (40, inf)))
    assert missed(measured, WEEKS[:1], PROMISE) == 20.0
    assert report_on(measured, WEEKS[:1], PROMISE).standing == "broken"


def test_steps_above_a_curve_have_the_least_area():
    curve = np.array([1.0, 1, 5, 5, 2, 2, 2, 1])
    assert segments(curve, 1) == [(0, 5.0)]
    assert segments(curve, 4) == [(0, 1.0), (2, 5.0), (4, 2.0), (7, 1.0)]
    assert segments(curve, 3) in ([(0, 1.0), (2, 5.0), (4, 2.0)],)
    assert ahead(curve, 2).tolist() == [5, 5, 5, 5, 2, 2, 2, 1]
    assert growth(curve, 1).tolist() == [0, 4, 0, 0, 0, 0, 0, 0]


def test_a_knob_goes_as_far_as_its_bounds():
    whole = toy()
    design, bounds = space(whole)
    knobs = {knob.where[-2:]: knob for knob in knobs_of(design, bounds)}
    floor = knobs[(1, "floor")]
    assert floor.turned(design, 100).schedule.day_types[0].bands[1].floor == 8
    assert floor.turned(design, -100).schedule.day_types[0].bands[1].floor == 0
    assert floor.turned(floor.turned(design, 100), 1) is None
    assert set(knobs) == {(k, name) for k in range(3) for name in ("floor", "headroom")}


def test_more_is_told_where_nothing_of_the_first_is_kept():
    """Nobody is to wait a second, which no plan can keep: all that weeks reach for is told."""
    document = demo_plan()
    field = next(pool for pool in document["pools"] if pool["id"] == "field")
    field["promise"] = {"comfort": 1.0}
    whole = plan_of(document)
    found = tune(whole, Question("field", ordinary(whole), ("schedule", "limit"), budget=500))
    assert found.tuned is None
    assert all(point.report.standing != "kept" for point in found.front)
    assert len(found.front) > effort_for(500, 1).points
    assert found.weeks <= 550


@pytest.mark.parametrize("budget", [LEAST_EACH, 449, 450, 899, 900, 1_999, 2_000, 2_799, 2_800])
def test_weeks_are_left_for_every_try_and_an_explanation(budget):
    """What is told of today, of three rules and along the front, all tries to find one of these
    kept, and a short explanation of twenty changes."""
    effort = effort_for(budget, 1)
    told = effort.fresh * (effort.points + 4) + effort.confirmed * effort.tries + 2 * 20 + 1
    assert told <= (1.0 - effort.simple) * budget


@pytest.mark.parametrize("budget", [LEAST_EACH, 450, *((300, 900) if LONG else ())])
def test_a_budget_is_kept(budget):
    """Also where there are many changes to explain: each host of this pool is one person's."""
    whole = plan_of(demo_plan())
    free = ("schedule", "timeouts", "hosts", "size")
    found = tune(whole, Question("control", ordinary(whole), free, budget=budget))
    assert found.tuned is not None and found.explained is not None
    assert len(found.explained.steps) > 3 and found.weeks <= 1.2 * budget


def _with_pool_limits(schedule):
    """The schedule without session limits of its bands."""
    kinds = (
        replace(kind, bands=tuple(replace(band, session_limit=None) for band in kind.bands))
        for kind in schedule.day_types
    )
    return replace(schedule, day_types=tuple(kinds))


@pytest.mark.parametrize("free", [("timeouts",), ("limit",), ("hosts",), ("size",)])
def test_a_single_freedom_has_an_answer(free):
    whole = plan_of(demo_plan())
    found = tune(whole, Question("office", ordinary(whole), free, budget=150))
    assert found.front and found.weeks <= 220
    schedules = {point.design.schedule for point in found.front}
    if free != ("timeouts",):
        assert {_with_pool_limits(each) for each in schedules} == {found.current.design.schedule}
