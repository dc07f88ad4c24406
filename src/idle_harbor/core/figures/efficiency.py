"""Efficiency: the ideal line against what is billed, and when it is withheld."""

from __future__ import annotations

from dataclasses import dataclass

from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.figures.promise import Verdicts


@dataclass(frozen=True, slots=True)
class Efficiency:
    """Ideal host-hours divided by billed host-hours, from 0 to 1.

    ``value`` is None if nothing is billed or if the efficiency is withheld; ``withheld`` then gives
    the reason.
    """

    value: float | None
    withheld: str = ""


def efficiency_of(billed: Estimate, ideal: Estimate, verdicts: Verdicts) -> Efficiency:
    """Return the efficiency of a pool from means over replications.

    ``billed`` and ``ideal`` are host-hours of a week. ``verdicts`` are those of the same weeks: if
    refusals break the promise, the efficiency is withheld, because people who are sent away cost
    nothing and a pool that serves fewer would look better.
    """
    if not verdicts["refused_share"].kept:
        return Efficiency(None, "people are refused beyond the promise")
    if not billed.mean:
        return Efficiency(None)
    return Efficiency((ideal.mean or 0.0) / billed.mean)
