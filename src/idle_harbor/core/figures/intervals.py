"""Means over replications with 95 % intervals."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, sqrt

from scipy.special import bdtr, stdtrit


@dataclass(frozen=True, slots=True)
class Estimate:
    """A mean over replications and the half-width of its 95 % confidence interval.

    ``half_width`` is None for a single replication. ``unbounded`` is true if at least one
    replication had no finite value; the mean is then None.
    """

    mean: float | None
    half_width: float | None
    unbounded: bool = False


def estimate(values: Sequence[float | None]) -> Estimate:
    """Return the mean of replications with its 95 % confidence interval (Student's t).

    ``values`` has one value per replication; None stands for an infinite value. Without any value
    the mean is None and not unbounded. Source: Law (2015), chapter 4.
    """
    finite = [value for value in values if value is not None]
    if not values:
        return Estimate(None, None)
    if len(finite) < len(values):
        return Estimate(None, None, unbounded=True)
    count = len(finite)
    mean = sum(finite) / count
    if count == 1:
        return Estimate(mean, None)
    variance = sum((value - mean) ** 2 for value in finite) / (count - 1)
    return Estimate(mean, float(stdtrit(count - 1, 0.975)) * sqrt(variance / count))


@dataclass(frozen=True, slots=True)
class Percentile:
    """A nearest-rank percentile over replications, with its confidence interval.

    ``low`` and ``high`` are order statistics that contain the true percentile with 95 %
    probability. With few replications the probability is as close to that as the highest value
    allows.
    """

    value: float
    low: float
    high: float


def percentile(values: Sequence[float], share: float) -> Percentile:
    """Return a nearest-rank percentile with a distribution-free 95 % confidence interval.

    ``values`` has one value per replication, ``share`` is the percentile from 0 to 1. The number of
    values below the true percentile is binomial for any distribution. Source: Conover (1999),
    section 3.2.
    """
    ordered = sorted(values)
    count = len(ordered)
    low, high = binomial_ranks(count, share)
    return Percentile(ordered[max(ceil(share * count), 1) - 1], ordered[low - 1], ordered[high - 1])


def binomial_ranks(count: int, share: float) -> tuple[int, int]:
    """Return the ranks (1 is the lowest) of the values that bound a percentile with 95 %
    probability.

    ``count`` is the number of values and ``share`` the percentile from 0 to 1. Ranks are clipped to
    1 … ``count``.
    """
    low = 1
    while low < count and bdtr(low, count, share) <= 0.025:
        low += 1
    high = count
    while high > 1 and 1.0 - bdtr(high - 2, count, share) <= 0.025:
        high -= 1
    return low, high
