"""The promise against what simulated weeks say, part by part."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, TypeAlias

from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.plan import Promise

#: What the simulated weeks say of a part of the promise: of means that such weeks may have, all
#: keep it, none does, or some do and some do not.
Standing: TypeAlias = Literal["kept", "at risk", "broken"]


@dataclass(frozen=True, slots=True)
class Verdict:
    """The promise against one figure: its limit, whether the mean keeps it, what its 95 % interval
    says, and which way is better."""

    limit: float
    kept: bool
    standing: Standing
    #: A promise tells the most of a figure there may be.
    less_is_better: bool = True


@dataclass(frozen=True, slots=True)
class Verdicts:
    """The promise, figure by figure."""

    wait_p95_seconds: Verdict
    refused_share: Verdict
    strained_share: Verdict
    lost_returns: Verdict

    @property
    def whole(self) -> bool:
        """Whether every part is kept."""
        parts = (self.wait_p95_seconds, self.refused_share, self.strained_share, self.lost_returns)
        return all(part.kept for part in parts)


def _verdict(limit: float, found: Estimate) -> Verdict:
    mean, half = found.mean or 0.0, found.half_width or 0.0
    if found.unbounded or mean - half > limit:
        standing: Standing = "broken"
    elif mean + half <= limit:
        standing = "kept"
    else:
        standing = "at risk"
    return Verdict(limit, not found.unbounded and mean <= limit, standing)


def verdicts_on(
    promise: Promise, *, wait_p95: Estimate, refused: Estimate, strained: Estimate, lost: Estimate
) -> Verdicts:
    """The promise against means over seeds and their intervals; a wait without bound breaks it,
    nobody who waits or comes back keeps it. Of one week alone the mean decides."""
    return Verdicts(
        _verdict(promise.wait_p95_seconds, wait_p95),
        _verdict(promise.refused_share, refused),
        _verdict(promise.strained_share, strained),
        _verdict(promise.lost_returns, lost),
    )
