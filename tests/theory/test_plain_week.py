"""A second opinion: the same week by a plain model, written from the rules alone."""

import numpy as np

from benchmarks.plain_week import plain_case, plain_week
from idle_harbor.core.weeks.week import week

SEEDS = range(1, 25)
PEOPLE = 200


def test_a_plain_model_of_the_same_week_says_the_same():
    """Its hosts start at times of their own: means over the seeds are compared in pairs, and may
    differ by what chance makes of that, and by 1 % besides."""
    case = plain_case(PEOPLE)
    ours, plain = [], []
    for seed in SEEDS:
        mine, other = week(case, seed), plain_week(case, seed)
        assert abs(mine.waits.connected - other.connected) <= 5
        hours = mine.hours.billed - mine.hours.rounding
        ours.append((mine.waits.mean, mine.waits.p95, hours, mine.sessions.mean))
        plain.append((other.mean_wait, other.p95_wait, other.host_hours, other.mean_sessions))
    apart = np.array(ours) - np.array(plain)
    error = apart.std(axis=0, ddof=1) / np.sqrt(len(SEEDS))
    scale = np.array(plain).mean(axis=0)
    assert (np.abs(apart.mean(axis=0)) <= 3.0 * error + 0.01 * scale).all(), (
        apart.mean(axis=0),
        error,
    )
    # And so near each other that a rule more or less would show.
    assert (error <= np.array([0.03, 0.06, 0.003, 0.001]) * scale).all(), error / scale
