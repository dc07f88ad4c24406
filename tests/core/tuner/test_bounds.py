"""Bounds that a planner sets: kept by whatever is tried, and no reason to find less."""

from dataclasses import replace

import pytest

from idle_harbor.core.tuner import Question, ordinary, tune
from idle_harbor.core.tuner.designs.knobs import Bounds, clamped, within_bounds
from tests.core.plans import plan
from tests.core.tuner.test_changes import EVERYTHING, TODAY, wandered
from tests.sizes import size

FLOOR, SLOTS = "schedules.day_types.bands.floor", "schedules.day_types.bands.headroom"
IDLE, GONE = "pools.idle_timeout", "pools.disconnected_timeout"


def _bounds(**within):
    paths = {"floor": FLOOR, "slots": SLOTS, "idle": IDLE, "gone": GONE}
    return replace(EVERYTHING, within={paths[name]: span for name, span in within.items()})


@pytest.mark.parametrize("seed", range(8))
def test_what_is_beyond_comes_to_the_nearest_within(seed):
    bounds = _bounds(floor=(1.5, 3.0), slots=(0.0, 4.0))
    design = wandered(seed, 20)
    found = clamped(design, bounds)
    assert within_bounds(found, bounds)
    for before, after in zip(design.schedule.day_types, found.schedule.day_types, strict=True):
        for one, two in zip(before.bands, after.bands, strict=True):
            assert two.floor == min(max(one.floor, 2), 3)
            assert two == replace(one, floor=two.floor, headroom=min(one.headroom, 4))


def test_timeouts_come_to_one_that_may_be():
    bounds = _bounds(idle=(600, 3_600), gone=(1_200, 5_400))
    pool = replace(TODAY.pool, idle_timeout=None, disconnected_timeout=300)
    found = clamped(replace(TODAY, pool=pool), bounds).pool
    assert (found.idle_timeout, found.disconnected_timeout) == (3_600, 1_200)
    assert clamped(replace(TODAY, pool=found), bounds).pool == found


def test_without_bounds_nothing_changes():
    assert clamped(TODAY, EVERYTHING) is TODAY
    locked = replace(_bounds(floor=(2, 3)), locked=frozenset((FLOOR,)))
    assert clamped(TODAY, locked) == TODAY
    other = Bounds(frozenset(("hosts",)), within={FLOOR: (2, 3)}, kinds=EVERYTHING.kinds)
    assert clamped(TODAY, other) == TODAY


def test_a_search_within_bounds_finds_as_much_as_they_leave():
    promise = {"lost_returns": 1, "forced_share": 1, "refused_share": 0.02}
    whole = plan(promise=promise)
    asked = Question("main", ordinary(whole), budget=size(1_000, 2_000))
    free = tune(whole, asked).tuned
    answer = tune(whole, replace(asked, within=((FLOOR, 1.0, 8.0),)))
    bound = answer.tuned
    assert free is not None and bound is not None
    # Simple rules and all points obey too; the plan of today does not, and is no answer.
    assert answer.current.report.standing == "kept"
    for point in (bound, *answer.rules, *answer.front):
        bands = [band for kind in point.design.schedule.day_types for band in kind.bands]
        assert all(1 <= band.floor <= 8 for band in bands), point.name
    assert any(band.floor == 0 for kind in free.design.schedule.day_types for band in kind.bands)
    # One host all the time is the most that the bound can cost.
    month = 0.412 * 365.25 / 12 * 24
    assert bound.report.money.mean < free.report.money.mean + month + 5.0
