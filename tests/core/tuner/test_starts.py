"""What a search begins with: timeouts that lose few sessions, quiet hours, guesses by theory."""

from dataclasses import replace
from itertools import pairwise, product

import numpy as np
import pytest

from idle_harbor.core.figures.promise import BY_FIELD
from idle_harbor.core.plan.schedules import Timeouts
from idle_harbor.core.tuner import Question, Study, ordinary
from idle_harbor.core.tuner.designs.design import design_of
from idle_harbor.core.tuner.designs.knobs import Bounds
from idle_harbor.core.tuner.designs.moves import Draw, own_timeouts
from idle_harbor.core.tuner.designs.pins import own_timeouts_free, pinned
from idle_harbor.core.tuner.designs.shapes import quiet, shortest_timeouts
from idle_harbor.core.tuner.guesses.lingering import quiet_hours, timed_by_theory
from idle_harbor.core.tuner.guesses.theory import LEVELS, QUARTERS, demand_on, families
from idle_harbor.core.tuner.scoring.scores import Slot, Tried
from idle_harbor.core.tuner.search import starts
from idle_harbor.core.tuner.search.search import Search
from idle_harbor.core.tuner.study import SEARCHED_FROM
from idle_harbor.demo.scenario import demo_plan
from tests.core.plans import document, plan_of
from tests.core.tuner.driving import driven

LOST = BY_FIELD["lost_returns"]
SLOTS = tuple(Slot(0, seed) for seed in range(1, 5))
EVERYTHING = Bounds(
    free=frozenset(("schedule", "timeouts", "hosts")), kinds=frozenset(("workday", "rest-day"))
)


@pytest.fixture(scope="module")
def office():
    whole = plan_of(demo_plan())
    return whole, Tried(whole, ordinary(whole)), design_of(whole, "office")


BOUNDS = Bounds(free=frozenset(("schedule", "timeouts")), kinds=frozenset(("workday",)))


def always(design):
    """All hosts on, as many as anybody could want."""

    def of(kind):
        band = replace(kind.bands[0], floor=design.pool.hosts.most, release="keep all")
        return replace(kind, bands=(band,), ready_by=())

    return design.kinds_changed(of)


def test_the_timeouts_by_theory_are_those_of_whole_runs(office):
    """Of some timeouts around what theory says, simulated with all hosts on: none that loses as few
    lasts less."""
    _, tried, design = office
    lost = 0.02
    timed = timed_by_theory(tried, design, BOUNDS, SLOTS, lost)
    choices = product((300, 900, 1_800), (1_800, 2_700, 3_600, 5_400, 7_200))
    told = {}
    for idle, gone in choices:
        pool = replace(design.pool, idle_timeout=idle, disconnected_timeout=gone)
        scores = tried.scores(always(replace(design, pool=pool)), SLOTS[:2])
        hours = demand_on(tried, replace(design, pool=pool), SLOTS).by_kind["workday"].sum()
        told[idle, gone] = (np.mean([each.of(LOST) for each in scores]), hours)
    mine = told[timed.pool.idle_timeout, timed.pool.disconnected_timeout]
    assert mine[0] <= lost
    better = [hours for share, hours in told.values() if share <= 0.8 * lost - 0.002]
    assert mine[1] <= 1.01 * min(better)


def test_timeouts_that_may_not_change_stay(office):
    _, tried, design = office
    fixed = Bounds(free=frozenset(("schedule",)), kinds=frozenset(("workday",)))
    assert timed_by_theory(tried, design, fixed, SLOTS, 0.02) == design
    assert not own_timeouts_free(fixed)
    within = replace(BOUNDS, within={"pools.idle_timeout": (3_600, 7_200)})
    assert timed_by_theory(tried, design, within, SLOTS, 0.02).pool.idle_timeout == 3_600


def test_in_quiet_hours_few_come_back_to_what_they_left(office):
    """Sessions that end at once there are lost to hardly more people, and last less."""
    _, tried, design = office
    timed = timed_by_theory(tried, design, BOUNDS, SLOTS, 0.02)
    hours = quiet_hours(tried, timed, SLOTS, 0.004)
    assert hours and all(0 <= a < b <= QUARTERS for a, b in hours)
    assert hours[-1][0] >= 4 * 13 and hours[-1][1] == QUARTERS
    rested = quiet(timed, BOUNDS, hours, shortest_timeouts(BOUNDS))
    before, after = (tried.scores(always(each), SLOTS[:2]) for each in (timed, rested))
    assert np.mean([s.of(LOST) for s in after]) <= np.mean([s.of(LOST) for s in before]) + 0.006
    empty = (tried.scores(each, SLOTS[:2]) for each in (timed, rested))
    first, second = (np.mean([score.billed for score in scores]) for scores in empty)
    assert second < first


def test_bands_of_quiet_hours_begin_and_end_with_them():
    design = design_of(plan_of(document()), "main")
    own = shortest_timeouts(EVERYTHING)
    assert own == Timeouts(300, 300)
    rested = quiet(design, EVERYTHING, ((60, 72), (80, QUARTERS)), own)
    for kind, was in zip(rested.schedule.day_types, design.schedule.day_types, strict=True):
        ends = [*(band.start for band in kind.bands[1:]), 86_400]
        for band, end in zip(kind.bands, ends, strict=True):
            inside = 60 * 900 <= band.start < 72 * 900 or band.start >= 80 * 900
            assert (band.timeouts == own) == inside
            assert end <= 60 * 900 or band.start >= 60 * 900
        starts = {band.start for band in was.bands} | {60 * 900, 72 * 900, 80 * 900}
        assert {band.start for band in kind.bands} <= starts
    # Where bands may not move, those that lie within alone.
    locked = replace(EVERYTHING, locked=frozenset(("schedules.day_types.bands.from",)))
    held = quiet(design, locked, ((60, QUARTERS),), own)
    assert [[band.start for band in kind.bands] for kind in held.schedule.day_types] == [
        [band.start for band in kind.bands] for kind in design.schedule.day_types
    ]
    assert held.schedule.day_types[0].bands[-1].timeouts == own


def test_bands_do_not_say_what_the_pool_says_anyway():
    design = design_of(plan_of(document()), "main")
    own = shortest_timeouts(EVERYTHING)
    pool = replace(design.pool, idle_timeout=own.idle, disconnected_timeout=own.disconnected)
    design = replace(design, pool=pool)
    assert quiet(design, EVERYTHING, ((60, QUARTERS),), own) == design


def test_own_timeouts_come_and_go_only_where_timeouts_may_change():
    design = design_of(plan_of(document()), "main")
    draw = Draw(np.random.default_rng(3))
    changed = own_timeouts(draw, design, EVERYTHING)
    assert changed is not None and changed != design
    assert pinned(changed, design, EVERYTHING) == changed
    assert pinned(design, changed, EVERYTHING) == design
    for fixed in (
        replace(EVERYTHING, free=frozenset(("schedule",))),
        replace(EVERYTHING, locked=frozenset(("schedules.day_types.bands.timeouts.idle",))),
    ):
        assert own_timeouts(draw, design, fixed) is None
        assert pinned(changed, design, fixed) == design
        assert pinned(design, changed, fixed) == changed


def test_more_is_asked_for_from_level_to_level(office):
    _, tried, design = office
    for family in families(tried, design, SLOTS[:2]):
        asked = []
        for level in range(len(LEVELS)):
            asked.append(0.0)
            for kind in family.at(level).schedule.day_types:
                ends = [*(band.start for band in kind.bands[1:]), 86_400]
                asked[-1] += sum(
                    (band.floor * design.pool.session_limit + band.headroom) * (end - band.start)
                    for band, end in zip(kind.bands, ends, strict=True)
                )
        # Stairs above a curve are coarse: they may be lower somewhere where the curve is higher.
        assert all(b >= 0.9 * a for a, b in pairwise(asked))
        assert asked[-1] > asked[0]


def test_every_host_is_on_while_people_come():
    """On hosts that are each one person's: on in the quarter hours in which most people begin."""
    whole = plan_of(demo_plan())
    tried, design = Tried(whole, ordinary(whole)), design_of(whole, "control")
    (family,) = families(tried, design, SLOTS)
    began = family.demand.began
    for level, least in ((0, 0.7), (4, 0.95)):
        on = came = 0.0
        for kind in family.at(level).schedule.day_types:
            rate = began[kind.id].sum(axis=0)
            for band, end in zip(
                kind.bands, [*(b.start for b in kind.bands[1:]), 86_400], strict=True
            ):
                assert band.floor in (0, design.pool.hosts.most)
                if band.floor:
                    on += rate[band.start // 900 : end // 900].sum()
            came += rate.sum()
        assert least * came <= on <= came


def test_demand_counts_who_is_there_and_who_begins(office):
    _, tried, design = office
    demand = demand_on(tried, design, SLOTS[:1])
    for kind, rows in demand.by_kind.items():
        began = demand.began[kind]
        assert rows.shape == began.shape
        # Whoever is there at noon began before or was there at midnight.
        assert (rows[:, 48] <= rows[:, 0] + began[:, :49].sum(axis=1)).all()


def test_a_guess_that_all_weeks_find_wanting_is_mended(monkeypatch):
    """Of thirty people one comes at an hour at which hardly anybody does, in one week of many: a
    host is started at once for them, and the guess is kept at hardly more."""
    values = document()
    values["groups"][0]["demand"]["people"] = 30
    values["pools"][0]["patience_seconds"] = 300
    whole = plan_of(values)
    bare, _ = best_guess(whole, monkeypatch, mended=False)
    mended, search = best_guess(whole, monkeypatch, mended=True)
    aim = search.aims[0]
    assert search.keeps(mended, aim) and not search.keeps(bare, aim)
    assert search.money(mended) <= 1.01 * search.money(bare)
    bands = [band for kind in mended.schedule.day_types for band in kind.bands]
    assert any(band.knock for band in bands)
    assert not any(band.knock for kind in bare.schedule.day_types for band in kind.bands)


def best_guess(whole, monkeypatch, *, mended):
    """What theory says, after all weeks, with what it is mended by or without."""
    study = Study(whole, Question("main", ordinary(whole), budget=2_800))
    today = design_of(whole, "main")
    search = Search(
        study.question.weeks, [whole.promise], study.bounds(today), 1, SEARCHED_FROM, today
    )
    with monkeypatch.context() as patched:
        if not mended:
            patched.setattr(starts, "_mends", lambda design, bounds: [])
        drive(study.tried, search.excuse(search.possible(starts.safest(today, search.bounds))))
        drive(study.tried, starts.guessed(search, study.tried, search.slots[:4], 300, 1))
    return search.aims[0].best[0], search


def drive(tried, asking):
    driven(asking, lambda trials: [tried.scores(each.design, each.slots) for each in trials])
