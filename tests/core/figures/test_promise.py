"""The promise against what weeks say, by hand."""

from __future__ import annotations

import pytest

from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.figures.promise import verdicts_on
from idle_harbor.core.plan import Promise

PROMISE = Promise(
    wait_p95_seconds=60, refused_share=0.01, strained_share=0.02, lost_returns=0.05
)  # fmt: skip
KEPT = {
    "wait_p95": Estimate(60.0, 3.0),
    "refused": Estimate(0.01, None),
    "strained": Estimate(0.0, None),
    "lost": Estimate(0.05, 0.2),
}


@pytest.mark.parametrize(
    ("changes", "broken"),
    [
        ({}, []),  # at the limit is within it
        ({"wait_p95": Estimate(60.1, None)}, ["wait_p95_seconds"]),
        ({"wait_p95": Estimate(None, None, unbounded=True)}, ["wait_p95_seconds"]),
        ({"wait_p95": Estimate(None, None), "lost": Estimate(None, None)}, []),  # nobody came
        ({"refused": Estimate(0.011, None)}, ["refused_share"]),
        (
            {"strained": Estimate(0.03, 0.02), "lost": Estimate(0.06, None)},
            ["strained_share", "lost_returns"],
        ),
    ],
)
def test_each_part_is_kept_up_to_its_limit(changes, broken):
    found = verdicts_on(PROMISE, **{**KEPT, **changes})
    parts = ("wait_p95_seconds", "refused_share", "strained_share", "lost_returns")
    assert [name for name in parts if not getattr(found, name).kept] == broken
    assert [getattr(found, name).limit for name in parts] == [60, 0.01, 0.02, 0.05]
    assert found.whole is (not broken)
    assert found.wait_p95_seconds.less_is_better


@pytest.mark.parametrize(("mean", "half", "standing", "kept"), [
    (40.0, None, "kept", True), (61.0, None, "broken", False),  # one week
    (60.0, 0.0, "kept", True), (50.0, 10.0, "kept", True), (50.0, 10.5, "at risk", True),
    (62.0, 2.5, "at risk", False), (62.0, 2.0, "at risk", False), (62.0, 1.9, "broken", False),
    (None, None, "kept", True),  # nobody waits
])  # fmt: skip
def test_the_interval_says_how_sure_it_is(mean, half, standing, kept):
    found = verdicts_on(PROMISE, **{**KEPT, "wait_p95": Estimate(mean, half)}).wait_p95_seconds
    assert (found.standing, found.kept) == (standing, kept)


def test_a_wait_without_bound_is_no_matter_of_more_weeks():
    found = verdicts_on(PROMISE, **{**KEPT, "wait_p95": Estimate(None, None, unbounded=True)})
    assert found.wait_p95_seconds.standing == "broken"
