"""Between two designs: any choice of the changes is a design, all of them are the second."""

import random
from dataclasses import replace

import numpy as np
import pytest

from idle_harbor.core.plan.declare import FREEDOMS
from idle_harbor.core.plan.edits import changed as changed_plan
from idle_harbor.core.plan.edits.bands import BeginDays
from idle_harbor.core.rules.load_rules import load_rule_faults
from idle_harbor.core.rules.schedules import schedule_faults
from idle_harbor.core.tuner.designs.changes import Between
from idle_harbor.core.tuner.designs.design import design_of, in_plan
from idle_harbor.core.tuner.designs.drawing import Draw
from idle_harbor.core.tuner.designs.knobs import Bounds, knobs_of, path_of
from idle_harbor.core.tuner.designs.moves import MOVES, allowed
from idle_harbor.core.tuner.designs.pins import pinned
from idle_harbor.core.tuner.designs.shapes import days_in_order, fitted
from tests.core.plans import plan

PLAN = plan()
TODAY = design_of(PLAN, "main")
EVERYTHING = Bounds(
    free=frozenset(each for each in FREEDOMS if each not in ("size", "place", "starts")),
    within={},
    density={"sloop": 10},
    kinds=frozenset(("workday", "rest-day")),
)


def wandered(seed, steps=12, bounds=EVERYTHING, today=TODAY):
    """A design some random moves from that of today."""
    draw = Draw(np.random.default_rng(seed))
    design = today
    while steps:
        changed = draw.one(MOVES)[0](draw, design, bounds)
        if changed is not None:
            changed = fitted(pinned(changed, today, bounds))
            if allowed(changed, bounds):
                design, steps = changed, steps - 1
    return design


@pytest.mark.parametrize("seed", range(25))
def test_any_choice_of_changes_is_a_design(seed):
    after = wandered(seed)
    between = Between(TODAY, after)
    numbers = [change.number for change in between.changes]
    assert between.made(numbers) == after
    assert between.made([]) == TODAY
    chance = random.Random(seed)
    for _ in range(10):
        some = [number for number in numbers if chance.random() < 0.5]
        made = between.made(some)
        assert days_in_order(made)
        whole = in_plan(PLAN, fitted(made))
        assert not [*schedule_faults(whole), *load_rule_faults(whole)]


def test_a_moved_band_is_one_change_and_a_new_one_another():
    kinds = TODAY.schedule.day_types
    bands = kinds[0].bands
    moved = replace(bands[1], start=bands[1].start - 1_800, floor=6)
    new = replace(bands[1], start=12 * 3_600, floor=2)
    kind = replace(kinds[0], bands=(bands[0], moved, new, bands[2]))
    after = replace(TODAY, schedule=replace(TODAY.schedule, day_types=(kind, kinds[1])))
    changes = Between(TODAY, after).changes
    assert [(c.before is None, {v.field for v in c.values}) for c in changes] == [
        (False, {"start", "floor"}),
        (True, set()),
    ]


@pytest.mark.parametrize("seed", range(10))
def test_what_is_not_free_stays_as_it_is(seed):
    bounds = Bounds(
        free=frozenset(("schedule",)),
        within={},
        density={},
        kinds=frozenset(("workday",)),
        locked=frozenset(("schedules.day_types.bands.rule", "schedules.day_types.bands.from")),
    )
    after = pinned(wandered(seed), TODAY, bounds)
    assert after.pool == TODAY.pool
    today, kind = TODAY.schedule.day_types, after.schedule.day_types
    assert kind[1] == today[1]
    assert [(b.start, b.rule) for b in kind[0].bands] == [(b.start, b.rule) for b in today[0].bands]
    turned = {path_of(knob.where) for knob in knobs_of(after, bounds)}
    assert not turned & bounds.locked and not any(path.startswith("pools") for path in turned)


def test_a_band_keeps_what_cannot_be_searched_for():
    values = plan()
    design = design_of(values, "main")
    from idle_harbor.core.plan.schedules import Timeouts

    kinds = design.schedule.day_types
    own = replace(kinds[0].bands[1], session_limit=5, timeouts=Timeouts(600, 900))
    kind = replace(kinds[0], bands=(kinds[0].bands[0], own, kinds[0].bands[2]))
    today = replace(design, schedule=replace(design.schedule, day_types=(kind, kinds[1])))
    bare = replace(own, session_limit=None, timeouts=None, start=9 * 3_600, floor=7)
    other = replace(kind, bands=(kind.bands[0], bare))
    bounds = replace(EVERYTHING, free=frozenset(("schedule",)))
    found = pinned(
        replace(today, schedule=replace(today.schedule, day_types=(other, kinds[1]))), today, bounds
    )
    band = found.schedule.day_types[0].bands[1]
    assert (band.start, band.floor, band.session_limit) == (9 * 3_600, 7, 5)
    assert band.timeouts == Timeouts(600, 900)


@pytest.mark.parametrize(
    ("freedom", "has"),
    [
        ("lids", lambda design, band: band.lid is not None),
        ("limit", lambda design, band: band.session_limit is not None),
        ("drain steps", lambda design, band: bool(band.drain_steps)),
        ("load rules", lambda design, band: bool(band.load_rules and design.schedule.load_rules)),
        ("shares", lambda design, band: bool(band.floor_share or band.headroom_share)),
    ],
)
def test_what_a_freedom_adds_stays_only_where_it_is_free(freedom, has):
    bounds = replace(EVERYTHING, free=frozenset(("schedule", freedom)))

    def having(bounds):
        designs = [wandered(seed, 40, bounds) for seed in range(6)]
        return [
            design
            for design in designs
            if any(has(design, b) for kind in design.schedule.day_types for b in kind.bands)
        ]

    found = having(bounds)
    assert found
    # Without the freedom the same design is as it is today in this.
    less = replace(EVERYTHING, free=frozenset(("schedule",)))
    for design in found:
        held = pinned(design, TODAY, less)
        assert not any(has(held, b) for kind in held.schedule.day_types for b in kind.bands)
        assert held.schedule.load_rules == TODAY.schedule.load_rules
    assert not having(less)


@pytest.mark.parametrize("seed", range(8))
def test_a_day_from_noon_stays_one_whatever_is_tried(seed):
    noon = BeginDays("begin-days", TODAY.schedule.id, 12 * 3600)
    turned = changed_plan(plan(), noon).schedules[0]
    today = replace(TODAY, schedule=turned)
    design = wandered(seed, today=today)
    whole = replace(plan(), schedules=(design.schedule,), pools=(design.pool,))
    assert not list(schedule_faults(whole))
    assert Between(today, design).made([]) == today
