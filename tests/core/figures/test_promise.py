"""The promise against what weeks say, by hand."""

from dataclasses import replace

import pytest

from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.figures.promise import BY_FIELD, verdicts_on
from idle_harbor.core.plan import OwnPromise, Pool, Promise

PROMISE = Promise(
    wait_p95_seconds=60,
    wait_p99_seconds=180,
    first_comer_seconds=None,
    own_wait_seconds=60,
    refused_share=0.01,
    strained_share=0.02,
    lost_returns=0.05,
    lost_work_share=0.01,
    forced_share=0.1,
    comfort=0.9,
)
KEPT = {
    "wait_p95_seconds": Estimate(60.0, 3.0),
    "wait_p99_seconds": Estimate(180.0, None),
    "first_comer_seconds": Estimate(None, None, unbounded=True),  # not promised
    "own_wait_seconds": Estimate(60.0, 3.0),
    "refused_share": Estimate(0.01, None),
    "strained_share": Estimate(0.0, None),
    "lost_returns": Estimate(0.05, 0.2),
    "lost_work_share": Estimate(0.01, 0.0),
    "forced_share": Estimate(0.1, None),
    "comfort": Estimate(0.9, 0.05),
}


@pytest.mark.parametrize(
    ("changes", "broken"),
    [
        ({}, []),  # at the limit is within it
        ({"wait_p95_seconds": Estimate(60.1, None)}, ["wait_p95_seconds"]),
        ({"wait_p95_seconds": Estimate(None, None, unbounded=True)}, ["wait_p95_seconds"]),
        (
            {"wait_p95_seconds": Estimate(None, None), "lost_returns": Estimate(None, None)},
            [],
        ),  # nobody came
        ({"wait_p99_seconds": Estimate(181.0, None)}, ["wait_p99_seconds"]),
        ({"refused_share": Estimate(0.011, None)}, ["refused_share"]),
        (
            {"strained_share": Estimate(0.03, 0.02), "lost_returns": Estimate(0.06, None)},
            ["strained_share", "lost_returns"],
        ),
        ({"own_wait_seconds": Estimate(90.0, None)}, ["own_wait_seconds"]),
        ({"lost_work_share": Estimate(0.02, None)}, ["lost_work_share"]),
        ({"forced_share": Estimate(0.11, 0.1)}, ["forced_share"]),
        ({"forced_share": Estimate(None, None), "comfort": Estimate(1.0, None)}, []),  # nobody left
        ({"comfort": Estimate(0.89, 0.1)}, ["comfort"]),
    ],
)
def test_each_part_is_kept_up_to_its_limit(changes, broken):
    found = verdicts_on(PROMISE, KEPT | changes)
    assert [name for name in KEPT if not found[name].kept] == broken
    limits = [60, 180, None, 60, 0.01, 0.02, 0.05, 0.01, 0.1, 0.9]
    assert [found[name].limit for name in KEPT] == limits
    assert found.whole is (not broken)
    assert [found[name].less_is_better for name in KEPT] == [*[True] * 9, False]


def test_what_is_promised_is_held_against_the_plan():
    late = KEPT | {"first_comer_seconds": Estimate(301.0, None)}
    assert verdicts_on(PROMISE, late).whole
    found = verdicts_on(replace(PROMISE, first_comer_seconds=300), late)
    assert found["first_comer_seconds"].standing == "broken" and not found.whole
    usual = Promise()
    assert (usual.wait_p99_seconds, usual.first_comer_seconds) == (180, 300)
    assert (usual.own_wait_seconds, usual.lost_work_share) == (60, None)
    optional = [part.field for part in BY_FIELD.values() if part.optional]
    assert optional == [*list(KEPT)[1:4], "lost_work_share"]


@pytest.mark.parametrize(("mean", "half", "standing", "kept"), [
    (40.0, None, "kept", True), (61.0, None, "broken", False),  # one week
    (60.0, 0.0, "kept", True), (50.0, 10.0, "kept", True), (50.0, 10.5, "at risk", True),
    (62.0, 2.5, "at risk", False), (62.0, 2.0, "at risk", False), (62.0, 1.9, "broken", False),
    (None, None, "kept", True),  # nobody waits
])  # fmt: skip
def test_the_interval_says_how_sure_it_is(mean, half, standing, kept):
    found = verdicts_on(PROMISE, KEPT | {"wait_p95_seconds": Estimate(mean, half)})[
        "wait_p95_seconds"
    ]
    assert (found.standing, found.kept) == (standing, kept)


def test_a_wait_without_bound_is_no_matter_of_more_weeks():
    found = verdicts_on(PROMISE, KEPT | {"wait_p95_seconds": Estimate(None, None, unbounded=True)})
    assert found["wait_p95_seconds"].standing == "broken"


@pytest.mark.parametrize(
    ("mean", "half", "standing"),
    [
        (0.9, None, "kept"),
        (0.95, 0.05, "kept"),
        (0.95, 0.06, "at risk"),
        (0.88, 0.03, "at risk"),
        (0.88, 0.01, "broken"),
    ],
)
def test_of_comfort_there_may_be_more(mean, half, standing):
    found = verdicts_on(PROMISE, KEPT | {"comfort": Estimate(mean, half)})["comfort"]
    assert (found.standing, found.less_is_better) == (standing, False)


def test_the_whole_stands_as_its_worst_part():
    kept = {name: Estimate(value.mean, None) for name, value in KEPT.items()}
    assert verdicts_on(PROMISE, kept).standing == "kept"
    risk = {**kept, "refused_share": Estimate(0.01, 0.001)}
    assert verdicts_on(PROMISE, risk).standing == "at risk"
    assert verdicts_on(PROMISE, risk | {"lost_returns": Estimate(0.2, 0.1)}).standing == "broken"


def test_a_pool_may_promise_otherwise():
    pool = Pool("office", "Europe/Dublin", "sloop", "office")
    assert pool.owed(PROMISE) is PROMISE
    strict = replace(pool, promise=OwnPromise(wait_p95_seconds=30, comfort=0.99))
    assert strict.owed(PROMISE) == replace(PROMISE, wait_p95_seconds=30, comfort=0.99)


@pytest.mark.parametrize(
    ("field", "limit", "factor", "scaled"),
    [
        ("wait_p95_seconds", 45, 0.5, 22),  # whole seconds
        ("refused_share", 0.25, 0.5, 0.125),
        ("lost_returns", 0.75, 2.0, 1.0),  # no share is above one
        ("comfort", 0.875, 0.5, 0.9375),  # what is lacking is halved
        ("comfort", 0.875, 2.0, 0.75),
    ],
)
def test_a_limit_is_scaled_in_its_own_sense(field, limit, factor, scaled):
    assert BY_FIELD[field].scaled(limit, factor) == scaled
