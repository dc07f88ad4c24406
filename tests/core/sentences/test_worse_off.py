"""Who is worse off with a tuned plan."""

from dataclasses import replace

from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.sentences.worse_off import worse_off
from tests.core.sentences.test_study_words import answer, point


def with_figure(made, field, mean, half=0.0, *, unbounded=False):
    promised = {**made.report.promised, field: Estimate(mean, half, unbounded=unbounded)}
    return replace(made, report=replace(made.report, promised=promised))


def told(field, before, after):
    tuned = with_figure(point(500.0, 90.0), field, *after)
    found = answer(tuned, tuned=tuned)
    return worse_off(replace(found, current=with_figure(found.current, field, *before)))


def test_what_is_worse_than_today_is_named():
    assert told("wait_p99_seconds", (20.0, 1.0), (95.0, 2.0)) == (
        "People have it worse than today in: the wait of 99 % of logons (95 s instead of 20 s)."
    )
    assert "comfort (95.00% instead of 99.00%)" in told("comfort", (0.99, 0.001), (0.95, 0.001))


def test_what_cannot_be_told_apart_or_is_better_is_not():
    nobody = "In no part of the promise do people have it worse than with the plan of today."
    assert told("wait_p99_seconds", (20.0, 40.0), (50.0, 40.0)) == nobody
    assert told("wait_p99_seconds", (90.0, 1.0), (20.0, 1.0)) == nobody
    assert told("comfort", (0.95, 0.001), (0.99, 0.001)) == nobody
    assert worse_off(answer(tuned=None)) == ""


def test_a_wait_that_has_lost_its_bound_is_worse():
    tuned = with_figure(point(500.0, 90.0), "first_comer_seconds", None, None, unbounded=True)
    assert "first comer (no bound instead of 0 s)" in worse_off(answer(tuned, tuned=tuned))
