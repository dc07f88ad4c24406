"""When a host that was asked for is overdue, so that the policy asks for another one."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from scipy.special import ndtr, ndtri

from idle_harbor.core.plan import Pool, Starting

#: The percentile after which a host is overdue.
_SHARE = 0.99
#: Quantiles by which a distribution is represented: far finer than the second that is needed.
_PARTS = 4000
_MIDDLES = (np.arange(_PARTS) + 0.5) / _PARTS


def log_normal(mean: float, cv: float) -> tuple[float, float]:
    """Return the mean and the standard deviation of the logarithm of a log-normal variable.

    ``mean`` is its mean and ``cv`` its coefficient of variation.
    """
    variance = float(np.log1p(cv * cv))
    return float(np.log(mean)) - variance / 2.0, variance**0.5


def _quantile(mean: float, cv: float) -> float:
    if mean == 0.0 or cv == 0.0:
        return mean
    middle, deviation = log_normal(mean, cv)
    return float(np.exp(middle + deviation * ndtri(_SHARE)))


@lru_cache(maxsize=256)
def _quantile_of_sum(mean: float, cv: float, other_mean: float, other_cv: float) -> float:
    """Return the quantile of the sum of two independent variables, to half a second.

    It is the q at which the mean of P(first ≤ q − second) over the second's quantiles equals the
    probability.
    """
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
    """Return the share of a start after which the pool counts the host."""
    return {"powered": 0.0, "booted": start.booted_share}.get(start.counts_from, 1.0)


def overdue_after(pool: Pool) -> tuple[int, int]:
    """Return the seconds after which a started host, and a created one, is overdue.

    It is the 99th percentile of the time to the point from which the pool counts a host. Time in
    the queue for a start is not included.
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
