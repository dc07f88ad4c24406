"""Room to spare: what is told to be kept is kept by whoever looks at it next, too."""

from dataclasses import replace

import numpy as np
import pytest

from idle_harbor.core.plan import Promise
from idle_harbor.core.tuner import Question, ordinary
from idle_harbor.core.tuner.designs.design import design_of
from idle_harbor.core.tuner.designs.knobs import Bounds
from idle_harbor.core.tuner.designs.shapes import knocking
from idle_harbor.core.tuner.report import telling
from idle_harbor.core.tuner.report.answer import Point
from idle_harbor.core.tuner.report.fresh import SURE_FROM, Fresh
from idle_harbor.core.tuner.report.spare import with_spare
from idle_harbor.core.tuner.report.taking import Taking
from idle_harbor.core.tuner.report.telling import Telling
from idle_harbor.core.tuner.scoring.judge import Measured, report_on, without_room
from idle_harbor.core.tuner.scoring.scores import Counted, Slot
from idle_harbor.core.tuner.search.effort import effort_for
from idle_harbor.core.tuner.search.rules import Rule
from idle_harbor.core.tuner.search.search import Search
from idle_harbor.core.tuner.study import SEARCHED_FROM
from tests.core.plans import plan
from tests.core.tuner.driving import driven, scored

WHOLE = plan()
WEEKS = ordinary(WHOLE)
PROMISE = Promise(wait_p95_seconds=60, refused_share=0.01)


def weeks_of(scores):
    return Measured(tuple(Slot(0, k) for k in range(len(scores))), tuple(scores))


def tight(scores, weeks=WEEKS, sure=3.0, worse=2):
    return without_room(weeks_of(scores), weeks, PROMISE, sure, worse)


def test_rare_bad_weeks_count_as_though_more_of_them_had_come():
    quiet = [scored(1, 0.0)] * 48
    assert tight(quiet) == set()
    # Three weeks of fifty: a mean of 0.0042 and three standard errors of 0.0024 each.
    three = np.array([0.07] * 3 + [0.0] * 47)
    assert three.mean() + 3 * three.std(ddof=1) / 50**0.5 == pytest.approx(0.0113, abs=1e-4)
    rare = [*quiet[1:], scored(1, 0.07)]
    assert tight(rare) == {"refused_share"}
    # By itself the one week would be 0.0015 and three times as much.
    assert tight(rare, worse=0) == set()
    assert tight([*quiet[1:], scored(1, 0.05)]) == set()


def test_each_part_is_judged_by_its_own_worst_week():
    waits = [scored(1, 0.0, wait=30.0)] * 47
    assert tight([*waits, scored(1, 0.0, wait=400.0)]) == {"wait_p95_seconds"}
    least = PROMISE.comfort
    comforts = [scored(1, 0.0, comfort=least + 0.004)] * 47
    assert tight([*comforts, scored(1, 0.0, comfort=least - 0.1)]) == {"comfort"}
    assert tight([*comforts, scored(1, 0.0, comfort=1.0)]) == set()


def test_the_worst_kind_of_week_decides_and_who_felt_nothing_is_content():
    kinds = (*WEEKS, Counted("b", WEEKS[0].monday, 0.1))
    slots = tuple(Slot(week, seed) for seed in range(20) for week in (0, 1))
    scores = tuple(scored(1, 0.009 if slot.week else 0.0) for slot in slots)
    assert without_room(Measured(slots, scores), kinds, PROMISE, 3.0, 2) == set()
    scores = tuple(scored(1, 0.011 if slot.week else 0.0) for slot in slots)
    assert without_room(Measured(slots, scores), kinds, PROMISE, 3.0, 2) == {"refused_share"}
    assert without_room(Measured((), ()), kinds, PROMISE, 3.0, 2) == set()


class Made:
    """What is taken of a front, the weeks of its designs made up."""

    def __init__(self, scores, budget=3_000):
        self.scores = scores
        self.today = design_of(WHOLE, "main")
        bounds = Bounds(kinds=frozenset(("workday",)), free=frozenset(("schedule", "hosts")))
        self.search = Search(WEEKS, [PROMISE], bounds, 1, SEARCHED_FROM, self.today)
        self.fresh = Fresh(
            Question("main", WEEKS, budget=budget),
            PROMISE,
            effort_for(3_000, 1),
            self.search,
            budget,
        )
        self.tried = []

    def design(self, number):
        """One that has so many slots open in its first band."""

        def of(kind):
            return replace(kind, bands=(replace(kind.bands[0], headroom=number), *kind.bands[1:]))

        return self.today.kinds_changed(of)

    def point(self, number):
        return self.told(self.design(number))

    def told(self, design):
        measured = weeks_of([self.scores(design, k) for k in range(16)])
        return Point("", design, report_on(measured, WEEKS, PROMISE))

    def taken(self, *numbers, simple=None):
        return self.taken_of([self.design(number) for number in numbers], simple)

    def taken_of(self, designs, simple=None):
        """What is taken of designs, of which all are simple, or some."""
        front = [self.told(design) for design in designs]
        simple = designs if simple is None else simple
        return self.drive(Taking(self.fresh, front, simple, []).taken())

    def drive(self, asking):
        return driven(asking, self.work)

    def work(self, trials):
        self.tried += [trial.design for trial in trials]
        return [[self.scores(t.design, s.seed) for s in t.slots] for t in trials]


def opened(design):
    return design.schedule.day_types[0].bands[0].headroom


def costing(**of):
    """Scores by the slots that a design has open: what it costs, and each how manyth week is so
    bad, with what it spoils otherwise; all others cost as much as ``more`` says and are never bad.
    """

    def scores(design, seed):
        money, every, bad, spoiled = of.get(f"d{opened(design)}", (of["more"], 0, 0.0, 0.0))
        return scored(money, bad if every and seed % every == every - 1 else 0.0, spoiled=spoiled)

    return scores


def test_what_is_kept_by_luck_gives_way_to_the_next_that_has_room():
    made = Made(
        costing(d1=(100, 40, 0.07, 9.0), d2=(101, 40, 0.07, 9.0), d3=(115, 0, 0.0, 8.0), more=900)
    )
    tuned = made.taken(1, 2, 3)
    assert opened(tuned.design) == 3 and tuned.report.money.mean == 115
    # The second spoils as much as the first: no try was spent on it.
    assert [opened(design) for design in made.tried] == [1, 3]


def test_the_same_with_more_where_the_front_has_none_that_costs_little_more():
    made = Made(costing(d1=(100, 40, 0.07, 9.0), d3=(130, 0, 0.0, 8.0), more=110))
    tuned = made.taken(1, 3)
    assert opened(tuned.design) > 1 and tuned.report.money.mean == 110
    bands = tuned.design.schedule.day_types[0].bands
    assert any(band.knock for band in bands)
    assert all(band.knock != bool(band.headroom) for band in bands)


def test_what_has_no_room_is_taken_where_room_costs_a_good_deal():
    made = Made(costing(d1=(100, 40, 0.07, 9.0), d3=(130, 0, 0.0, 8.0), more=130))
    assert opened(made.taken(1, 3).design) == 1
    assert len(made.tried) <= made.fresh.effort.tries
    # Nor where what it takes is wanted for the explanation.
    few = Made(costing(d1=(100, 40, 0.07, 9.0), d3=(110, 0, 0.0, 8.0), more=110), budget=100)
    assert opened(few.taken(1, 3).design) == 1 and len(few.tried) == 1


def test_where_nothing_of_the_front_is_kept_after_all_the_same_with_more_is_tried():
    def scores(design, seed):
        # Fresh weeks of the front say that it is kept, its own that it is not.
        return scored(100, 0.05 if opened(design) == 1 and seed >= SURE_FROM else 0.0)

    made = Made(scores)
    tuned = made.taken(1)
    assert tuned is not None and opened(tuned.design) > 1
    assert opened(made.tried[0]) == 1


def test_what_the_weeks_of_the_front_leave_open_is_told_by_weeks_of_its_own():
    def scores(design, seed):
        # One bad week of sixteen, and none after them.
        bad = opened(design) == 1 and seed == 7
        return scored(100 if opened(design) == 1 else 130, 0.07 if bad else 0.0)

    made = Made(scores)
    assert made.point(1).report.standing == "at risk"
    assert opened(made.taken(1, 3).design) == 1
    # Not what costs a good deal less but misses it by far.
    other = Made(lambda design, seed: scored(opened(design), 0.04 * (opened(design) == 1)))
    assert opened(other.taken(1, 3).design) == 3 and len(other.tried) == 1


def test_today_is_taken_where_nothing_saves_half_a_percent():
    def of(money):
        return Made(costing(d0=(100, 0, 0.0, 9.0), d1=(money, 0, 0.0, 9.0), more=900))

    assert of(99.6).design(0) == of(99.6).today
    assert opened(of(99.6).taken(0, 1).design) == 0
    assert opened(of(99.4).taken(0, 1).design) == 1


@pytest.mark.parametrize("kept", [True, False])
def test_where_a_simple_rule_alone_is_kept_it_is_taken(kept, monkeypatch):
    """Nothing that the search found is; what is told beside it is not there for show."""

    def scores(design, seed):
        return scored(500.0 if opened(design) == 40 else 100.0, 0.05 * (opened(design) != 40))

    made = Made(scores)
    best = made.design(1)
    made.drive(made.search.measure([made.today, best]))
    made.search.also(best)
    monkeypatch.setattr(telling, "ideal_of", lambda *_: (0.0, 0.0))
    tell = Telling(made.fresh, None, lambda stage: None)
    rules = [Rule("one headroom", made.design(40 if kept else 39))]
    answer = made.drive(tell.answer(made.today, best, rules))
    others = [point for point in answer.front if opened(point.design) != 40]
    assert others and all(point.report.standing == "broken" for point in others)
    if not kept:
        assert answer.tuned is None and answer.explained is None
        return
    assert opened(answer.tuned.design) == 40 and answer.tuned.report.money.mean == 500.0
    assert sum(step.saves for step in answer.explained.steps) == pytest.approx(-400.0)


def test_what_is_simple_is_taken_where_it_costs_hardly_more():
    def of(money):
        made = Made(costing(d1=(100, 0, 0.0, 9.0), d2=(money, 0, 0.0, 9.0), more=900))
        return opened(made.taken(1, 2, simple=[made.design(2)]).design)

    assert of(100.9) == 2
    assert of(101.1) == 1


def test_what_is_not_simple_is_made_so_before_it_is_told():
    made = Made(costing(d1=(90, 0, 0.0, 9.0), more=100))
    many = made.design(1).kinds_changed(
        lambda kind: replace(kind, bands=tuple(replace(band, margin=3) for band in kind.bands))
    )
    taken = made.taken_of([many], simple=[]).design
    assert taken == made.tried[-1] and opened(taken) == 1
    assert all(band.margin == 1 for band in taken.schedule.day_types[0].bands)
    # Not where no weeks are left for it.
    few = Made(costing(d1=(90, 0, 0.0, 9.0), more=100), budget=60)
    assert few.taken_of([many], simple=[]).design == many


def test_more_is_longer_timeouts_where_hardly_more_returns_may_be_lost():
    made = Made(costing(more=100))
    made.search.bounds = replace(made.search.bounds, free=frozenset(("schedule", "timeouts")))
    design = made.design(1)
    slots = tuple(Slot(0, k) for k in range(16))
    for lost, longer in ((0.001, False), (0.0199, True)):
        scores = [scored(100, lost=lost + 0.0005 * (k % 2)) for k in range(16)]
        made.search.known[design] = Measured(slots, tuple(scores))
        for more in with_spare(made.search, design):
            pool = more.pool
            assert (pool.idle_timeout > design.pool.idle_timeout) == longer
            assert (pool.disconnected_timeout > design.pool.disconnected_timeout) == longer


def test_knocking_is_for_kinds_of_day_that_count_and_where_nothing_is_kept_open():
    design = design_of(WHOLE, "main")
    count = frozenset(("workday",))
    for kind in knocking(design, count).schedule.day_types:
        for band in kind.bands:
            assert band.knock == (kind.id in count and not band.headroom)
    assert {bool(b.headroom) for b in design.schedule.day_types[0].bands} == {True, False}
