"""Efficiency: the ideal line against what is billed, and when it is withheld."""

from __future__ import annotations

from dataclasses import dataclass

from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.figures.promise import Verdicts


@dataclass(frozen=True, slots=True)
class Efficiency:
    """Ideal over billed host-hours, from 0 to 1; None where nothing is billed or it is withheld,
    and ``withheld`` says why."""

    value: float | None
    withheld: str = ""


def efficiency_of(billed: Estimate, ideal: Estimate, verdicts: Verdicts) -> Efficiency:
    """The efficiency of means over seeds.

    It is withheld where refusals break the promise: people who are sent away cost nothing, and
    the fewer are served the better it would look.
    """
    if not verdicts["refused_share"].kept:
        return Efficiency(None, "people are refused beyond the promise")
    if not billed.mean:
        return Efficiency(None)
    return Efficiency((ideal.mean or 0.0) / billed.mean)
