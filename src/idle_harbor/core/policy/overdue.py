"""When a host that was asked for should have come: the policy then asks for another."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from scipy.special import ndtr, ndtri

from idle_harbor.core.plan import Pool, Starting

#: A host is overdue when all but this share of hosts would have come.
_SHARE = 0.99
#: Equal parts of a distribution, at their middles: far finer than the second that is looked for.
_PARTS = 4000
_MIDDLES = (np.arange(_PARTS) + 0.5) / _PARTS


def log_normal(mean: float, cv: float) -> tuple[float, float]:
    """Mean and deviation of the logarithm."""
    variance = float(np.log1p(cv * cv))
    return float(np.log(mean)) - variance / 2.0, variance**0.5


def _quantile(mean: float, cv: float) -> float:
    if mean == 0.0 or cv == 0.0:
        return mean
    middle, deviation = log_normal(mean, cv)
    return float(np.exp(middle + deviation * ndtri(_SHARE)))


@lru_cache(maxsize=256)
def _quantile_of_sum(mean: float, cv: float, other_mean: float, other_cv: float) -> float:
    """The same quantile of the sum of two independent ones, to half a second: where the mean of
    P(one ≤ q − the other) over the other's parts is the share."""
    if mean == 0.0 or cv == 0.0:
        return mean + _quantile(other_mean, other_cv)
    if other_mean == 0.0 or other_cv == 0.0:
        return other_mean + _quantile(mean, cv)
    middle, deviation = log_normal(mean, cv)
    other_middle, other_deviation = log_normal(other_mean, other_cv)
    other = np.exp(other_middle + other_deviation * ndtri(_MIDDLES))
    low, high = 0.0, _quantile(mean, cv) * 2.0 + _quantile(other_mean, other_cv) * 2.0
    while high - low > 0.5:
        guess = (low + high) / 2.0
        left = np.maximum(guess - other, 1e-9)
        reached = ndtr((np.log(left) - middle) / deviation).mean()
        low, high = (guess, high) if reached < _SHARE else (low, guess)
    return high


def _part(start: Starting) -> float:
    """The part of a start after which the pool has its host."""
    return {"powered": 0.0, "booted": start.booted_share}.get(start.counts_from, 1.0)


def overdue_after(pool: Pool) -> tuple[int, int]:
    """Seconds after which a host that was started, and one that was created, is overdue: the 99th
    percentile of its time to the point from which the pool counts it.

    Time that a host queues for its start is not in it: nobody expects it meanwhile.
    """
    start, create = pool.start, pool.create
    settles = start.settle_seconds if start.counts_from == "settled" else 0
    to_point = start.mean_seconds * _part(start)
    after_start = _quantile(to_point, start.cv) + settles
    after_create = (
        _quantile_of_sum(create.mean_seconds, create.cv, to_point, start.cv)
        + create.script_seconds
        + settles
    )
    return int(np.ceil(after_start)), int(np.ceil(after_create))
