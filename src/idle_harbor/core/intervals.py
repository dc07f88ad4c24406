"""Means over replications with 95 % intervals."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

from scipy.special import stdtrit


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
