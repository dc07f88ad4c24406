"""Means over replications with 95 % intervals."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, sqrt

from scipy.special import bdtr, stdtrit


@dataclass(frozen=True, slots=True)
class Estimate:
    """A mean over replications and the half width of its 95 % interval.

    ``half_width`` is None for a single replication. ``unbounded`` says that at least one
    replication had no finite value: then there is no mean.
    """

    mean: float | None
    half_width: float | None
    unbounded: bool = False


def estimate(values: Sequence[float | None]) -> Estimate:
    """Student-t interval of the mean (Law 2015, ch. 4); None among the values means infinite.

    No values at all give a mean of None that is not unbounded.
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
    """A percentile over replications, nearest rank, with the values that bound it.

    ``low`` and ``high`` are order statistics between which the true percentile lies with 95 %
    probability or, with few replications, as near to that as the highest one allows.
    """

    value: float
    low: float
    high: float


def percentile(values: Sequence[float], share: float) -> Percentile:
    """Nearest rank, with the distribution-free interval of Conover (1999), sec. 3.2.

    The number of values below the true percentile is binomial, whatever their distribution.
    """
    ordered = sorted(values)
    count = len(ordered)
    low, high = binomial_ranks(count, share)
    return Percentile(ordered[max(ceil(share * count), 1) - 1], ordered[low - 1], ordered[high - 1])


def binomial_ranks(count: int, share: float) -> tuple[int, int]:
    """Ranks (1 = lowest) whose values bound a percentile with 95 % probability, cut to 1..count."""
    low = 1
    while low < count and bdtr(low, count, share) <= 0.025:
        low += 1
    high = count
    while high > 1 and 1.0 - bdtr(high - 2, count, share) <= 0.025:
        high -= 1
    return low, high
