"""Where hosts may be, and how many may start at once, as a search may change them."""

from dataclasses import replace

import numpy as np
import pytest

from idle_harbor.core.sentences.study import change_text
from idle_harbor.core.tuner import Question, ordinary, tune
from idle_harbor.core.tuner.designs.changes import Between
from idle_harbor.core.tuner.designs.design import design_of, in_plan
from idle_harbor.core.tuner.designs.drawing import Draw
from idle_harbor.core.tuner.designs.knobs import knobs_of, path_of
from idle_harbor.core.tuner.designs.moves import all_over, allowed, turn
from idle_harbor.core.tuner.designs.pins import pinned
from idle_harbor.core.tuner.designs.possible import bounds_for, turnable_in
from idle_harbor.core.tuner.designs.shapes import sized
from idle_harbor.formats.plan.codec import plan_of, to_values
from tests.core.plans import document, plan

KINDS = frozenset(("workday", "rest-day"))
SIZES = [
    {"id": "sloop", "vcpu": 8, "memory_gib": 32, "hourly": "0.4"},
    {"id": "ketch", "vcpu": 16, "memory_gib": 64, "hourly": "0.8"},
]


def _place(name, area="here", trip=20.0, **more):
    lines = [] if trip is None else [{"site": "here", "round_trip_ms": trip}]
    return {"id": name, "area": area, "zones": [f"{name}-1", f"{name}-2"], "lines": lines} | more


PLACES = [
    _place("home"),
    _place("cheaper", offers=[{"size": "sloop", "hourly": "0.2"}]),
    _place("abroad", area="elsewhere"),
    _place("far", trip=400.0),
    _place("unknown", trip=None),
]


def _plan(**pool):
    whole = document(sizes=SIZES, places=PLACES)
    whole["groups"][0]["data_areas"] = ["here"]
    whole["pools"][0] |= {"place": "home", "zones": ["home-1"], **pool}
    return plan_of(whole)


def _bounds(whole, *free):
    return bounds_for(whole, whole.pools[0], free, {}, (), KINDS)


def test_only_places_count_that_all_people_may_use_and_are_near():
    whole = _plan()
    assert set(_bounds(whole, "place").places) == {"home", "cheaper"}
    assert _bounds(whole, "limit", "size").places == {}
    # Who is behind a slow line today may be behind another.
    slow = _plan(place="far", zones=[])
    assert set(_bounds(slow, "place").places) == {"home", "cheaper", "far"}


def test_what_is_nowhere_stays_there():
    whole = plan(sizes=SIZES, places=PLACES)
    bounds = _bounds(whole, "place")
    assert not [k for k in knobs_of(design_of(whole, "main"), bounds) if k.where[1] == "place"]


@pytest.mark.parametrize("free", [("place",), ("place", "size"), ("place", "size", "hosts")])
def test_no_size_is_taken_where_there_is_none(free):
    whole = _plan()
    today, bounds = design_of(whole, "main"), _bounds(whole, *free)
    draw, seen = Draw(np.random.default_rng(5)), set()
    for _ in range(60):
        changed = turn(draw, today, bounds)
        if changed is None:
            continue
        changed = pinned(changed, today, bounds)
        if allowed(changed, bounds):
            pool = changed.pool
            seen.add((pool.place, pool.size))
            assert (pool.place == "home") == (pool.zones == ("home-1",))
            assert plan_of(to_values(in_plan(whole, changed))).pools[0] == pool
    assert ("cheaper", "sloop") in seen
    assert ("cheaper", "ketch") not in seen
    assert (("home", "ketch") in seen) == ("size" in free)
    over = {(d.pool.place, d.pool.size) for d in all_over(today, bounds)}
    assert ("cheaper", "sloop") in over


def test_another_size_goes_to_a_place_that_has_it():
    whole = _plan(place="cheaper", zones=["cheaper-1"])
    bounds = _bounds(whole, "place", "size")
    moved = sized(design_of(whole, "main"), bounds, "ketch").pool
    assert (moved.place, moved.size, moved.zones) == ("home", "ketch", ())


def test_zones_go_with_their_place_as_one_change():
    whole = _plan()
    today = design_of(whole, "main")
    pool = replace(today.pool, place="cheaper", zones=())
    between = Between(today, replace(today, pool=pool))
    assert [change_text(c) for c in between.changes] == ["hosts in cheaper instead of home"]
    assert between.made([0]).pool == pool
    assert between.made([]) == today
    # Zones alone are a change of their own.
    pool = replace(today.pool, zones=())
    assert len(Between(today, replace(today, pool=pool)).changes) == 1


def test_nobody_asks_for_fewer_starts_at_once():
    whole = _plan(start={"parallel": 20})
    bounds = _bounds(whole, "starts")
    today = design_of(whole, "main")
    (knob,) = knobs_of(today, bounds)
    assert path_of(knob.where) == "pools.start.parallel"
    assert knob.turned(today, -5) is None
    more = knob.turned(today, 1)
    assert more is not None and more.pool.start.parallel == 25
    every = knob.turned(today, 50)
    assert every is not None and every.pool.start.parallel is None
    change = Between(today, every).changes[0]
    assert change_text(change) == "any number of hosts starting at once instead of 20"
    # What has no bound needs none.
    assert not knobs_of(design_of(_plan(), "main"), _bounds(_plan(), "starts"))


def test_both_are_among_what_may_be_turned():
    fields = {each.path: each for each in turnable_in(_plan(start={"parallel": 3}), "main")}
    assert fields["pools.place"].belongs == "place"
    assert fields["pools.place"].today == ("home",)
    assert fields["pools.start.parallel"].belongs == "starts"


def test_a_search_finds_the_cheaper_place():
    whole = _plan()
    promise = replace(whole.promise, lost_returns=1.0, forced_share=1.0, refused_share=0.2)
    found = tune(
        replace(whole, promise=promise), Question("main", ordinary(whole), ("place",), budget=300)
    )
    assert found.tuned is not None and found.explained is not None
    assert found.tuned.design.pool.place == "cheaper"
    (step,) = found.explained.steps
    # Compute is half as dear; disks are what they were.
    assert 0.3 * found.explained.before < step.saves < 0.5 * found.explained.before
