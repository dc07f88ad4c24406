"""As simple as it can be: what does nothing is taken out, and what is not worth its place."""

from dataclasses import replace

import pytest

from idle_harbor.core.plan import Promise
from idle_harbor.core.tuner import Question, ordinary, tune
from idle_harbor.core.tuner.designs.changes import Between
from idle_harbor.core.tuner.designs.design import design_of
from idle_harbor.core.tuner.designs.knobs import Bounds
from idle_harbor.core.tuner.designs.shapes import fitted
from idle_harbor.core.tuner.designs.simpler import much, ways
from idle_harbor.core.tuner.report.fresh import SURE_FROM, Fresh
from idle_harbor.core.tuner.report.needless import Needless
from idle_harbor.core.tuner.report.simplify import simplified
from idle_harbor.core.tuner.scoring.judge import Measured, report_on
from idle_harbor.core.tuner.scoring.scores import Slot, Tried
from idle_harbor.core.tuner.search.effort import effort_for
from idle_harbor.core.tuner.search.search import Search
from idle_harbor.core.tuner.study import SEARCHED_FROM
from idle_harbor.demo.scenario import demo_plan
from tests.core.plans import plan, plan_of
from tests.core.tuner.driving import driven, scored

WHOLE = plan()
WEEKS = ordinary(WHOLE)
TODAY = design_of(WHOLE, "main")
KINDS = frozenset(("workday",))
BOUNDS = Bounds(free=frozenset(("schedule", "timeouts")), kinds=KINDS)
PROMISE = Promise(wait_p95_seconds=60, refused_share=0.01)


def banded(design, *changes):
    """The design with some values of the bands of a work day changed, one after the other."""

    def of(kind):
        if kind.id not in KINDS:
            return kind
        bands = (replace(b, **c) for b, c in zip(kind.bands, changes, strict=True))
        return replace(kind, bands=tuple(bands))

    return design.kinds_changed(of)


def timed(design, idle, gone):
    pool = replace(design.pool, idle_timeout=idle, disconnected_timeout=gone)
    return replace(design, pool=pool)


CHANGED = timed(
    banded(TODAY, {"knock": True}, {"headroom": 9, "rule": "fill"}, {"margin": 3}), 600, 1_500
)


class Made:
    """Designs whose weeks are made up by a rule, and how many were asked for."""

    def __init__(self, scores, promise=PROMISE):
        self.scores, self.asked = scores, 0
        self.search = Search(WEEKS, [promise], BOUNDS, 1, SEARCHED_FROM, TODAY)

    def drive(self, asking):
        return driven(asking, self.work)

    def work(self, trials):
        self.asked += sum(len(trial.slots) for trial in trials)
        return [[self.scores(t.design, s.seed) for s in t.slots] for t in trials]

    def simplified(self, design, last=1_000):
        found = self.drive(simplified(self.search, design, last))
        assert self.search.used == self.asked <= max(last, len(self.search.slots))
        return found

    def bare(self, design, last=1_000, many=48):
        slots = tuple(Slot(0, k) for k in range(many))
        told = Measured(slots, tuple(self.scores(design, slot.seed) for slot in slots))
        effort = effort_for(3_000, 1)
        fresh = Fresh(Question("main", WEEKS, budget=3_000), PROMISE, effort, self.search, 3_000)
        bare = self.drive(Needless(fresh, told, last).without(design))
        assert fresh.used == self.asked <= last
        return bare


def changes(design):
    return Between(TODAY, design).changes


def bands_of(design):
    return design.schedule.day_types[0].bands


def peak(design):
    """The band at ten."""
    return [band for band in bands_of(design) if band.start <= 36_000][-1]


def knocked(design):
    return any(band.knock for band in bands_of(design))


def saving(many, design, refused=0.0):
    """What saves so many of 1,000, as long as there are three bands."""
    return scored(1_000.0 - many + 500.0 * (len(bands_of(design)) != 3), refused)


def test_what_changes_no_week_is_taken_out_and_nothing_else():
    def scores(design, seed):
        rare = 0.07 if seed == 30 and not knocked(design) else 0.0
        return saving(peak(design).headroom - design.pool.idle_timeout / 100, design, rare)

    # The knock matters in one of 48 weeks, the others in each or in none.
    assert Made(scores).bare(CHANGED) == timed(
        banded(TODAY, {"knock": True}, {"headroom": 9}, {}), 600, TODAY.pool.disconnected_timeout
    )


def test_what_does_nothing_at_all_leaves_the_plan_of_today():
    assert Made(lambda design, seed: scored(100.0, 0.0)).bare(CHANGED) == TODAY


def test_without_weeks_all_stays_as_it_is():
    made = Made(lambda design, seed: scored(100.0, 0.0))
    assert made.bare(CHANGED, last=0) == CHANGED and made.asked == 0
    assert made.simplified(CHANGED, last=0) == CHANGED


@pytest.mark.parametrize("last", [1, 10, 50, 70, 100])
def test_no_more_weeks_are_used_than_may_be(last):
    made = Made(lambda design, seed: scored(100.0, 0.0))
    bare = made.bare(CHANGED, last=last)
    assert len(changes(bare)) <= len(changes(CHANGED))
    other = Made(lambda design, seed: scored(100.0, 0.0))
    assert len(changes(other.simplified(CHANGED, last=last))) <= len(changes(CHANGED))


def test_two_that_stand_in_for_each_other_are_not_both_taken_out():
    def scores(design, seed):
        return saving(50 * (knocked(design) or peak(design).rule == "fill"), design)

    bare = Made(scores).bare(CHANGED)
    assert bare in (banded(TODAY, {"knock": True}, {}, {}), banded(TODAY, {}, {"rule": "fill"}, {}))


def test_what_is_worth_less_than_half_a_percent_is_not_worth_its_place():
    def scores(design, seed):
        many = 40 * (peak(design).headroom == 9) + 4 * (peak(design).rule == "fill")
        return saving(many + 0.1 * (seed % 3), design)

    # 40 of 1,000 are, 4 are not.
    assert Made(scores).simplified(CHANGED) == banded(TODAY, {}, {"headroom": 9}, {})


def test_what_the_promise_is_kept_by_stays_though_it_costs():
    def scores(design, seed):
        bad = not knocked(design) and seed % 4 == 0
        return saving(-10 * knocked(design), design, 0.09 * bad)

    assert Made(scores).simplified(CHANGED) == banded(TODAY, {"knock": True}, {}, {})


def test_what_is_not_kept_is_not_made_simpler():
    made = Made(lambda design, seed: scored(100.0, 0.5))
    assert made.simplified(CHANGED) == CHANGED


def test_each_setting_of_a_pool_is_undone_for_itself():
    undone = {
        (d.pool.idle_timeout, d.pool.disconnected_timeout)
        for way in ways(TODAY, CHANGED, BOUNDS)
        if (d := way(CHANGED)) is not None
    }
    before = TODAY.pool
    assert undone == {
        (600, 1_500),
        (before.idle_timeout, 1_500),
        (600, before.disconnected_timeout),
    }


def test_fewer_changes_go_before_fewer_words():
    kind = TODAY.schedule.day_types[0]
    one = replace(kind, bands=kind.bands[:2])
    fewer = TODAY.kinds_changed(lambda each: one if each.id == kind.id else each)
    assert much(TODAY, TODAY, KINDS)[0] == 0
    assert much(TODAY, TODAY, KINDS) < much(TODAY, fewer, KINDS)
    assert much(TODAY, TODAY, KINDS)[-1] > much(TODAY, fewer, KINDS)[-1]
    assert len(changes(CHANGED)) == much(TODAY, CHANGED, KINDS)[0] == 5


@pytest.mark.parametrize("pool", ["line", "field"])
def test_each_change_that_is_told_does_something(pool):
    """Undone alone, each changes some score of the weeks that told the plan."""
    whole = plan_of(demo_plan())
    question = Question(pool, ordinary(whole), ("schedule", "timeouts"), budget=1_000)
    found = tune(whole, question)
    assert found.tuned is not None and found.weeks <= 1_200
    told, between = found.explained, Between(found.current.design, found.tuned.design)
    assert sum(step.saves for step in told.steps) == pytest.approx(told.before - told.after)
    numbers = [each.number for step in told.steps for each in step.changes]
    assert sorted(numbers) == list(range(len(between.changes)))
    assert between.made(numbers) == found.tuned.design
    tried = Tried(whole, question.weeks)
    slots, scores = told_by(tried, found, whole.promise)
    for number in numbers:
        less = fitted(between.made([each for each in numbers if each != number]))
        same = (
            tried.scores(less, [slot]) == [score] for slot, score in zip(slots, scores, strict=True)
        )
        assert not all(same)


def told_by(tried, found, promise):
    """The weeks of its own that told what was taken, and its scores."""
    for first in range(SURE_FROM, SURE_FROM + 80_000, 10_000):
        slots = tuple(Slot(0, first + k) for k in range(effort_for(1_000, 1).confirmed))
        scores = tuple(tried.scores(found.tuned.design, slots))
        if report_on(Measured(slots, scores), tried.weeks, promise) == found.tuned.report:
            return slots, scores
    raise AssertionError("no weeks tell what was told")


def test_where_nothing_can_be_saved_today_is_the_answer():
    """The hosts that stand there keep no disk, so that they run whatever a schedule says."""
    whole = plan_of(demo_plan())
    question = Question("counters", ordinary(whole), ("schedule", "timeouts"), budget=1_000)
    found = tune(whole, question)
    assert found.tuned is not None and found.explained is None
    assert found.tuned.design == found.current.design
    # Of what is told alike, the simplest is told.
    reports = [point.report for point in found.front]
    assert all(one != other for k, one in enumerate(reports) for other in reports[:k])
