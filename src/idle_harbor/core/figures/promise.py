"""The promise against what simulated weeks say, part by part."""

from __future__ import annotations

from dataclasses import dataclass

from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.plan import Promise


@dataclass(frozen=True, slots=True)
class Verdict:
    """The promise against one figure: its limit, whether it is kept, and which way is better."""

    limit: float
    kept: bool
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


def verdicts_on(
    promise: Promise, *, wait_p95: Estimate, refused: Estimate, strained: Estimate, lost: Estimate
) -> Verdicts:
    """The promise against means over seeds; a wait without bound breaks it, nobody who waits or
    comes back keeps it."""
    wait = not wait_p95.unbounded and (wait_p95.mean or 0.0) <= promise.wait_p95_seconds
    return Verdicts(
        Verdict(promise.wait_p95_seconds, wait),
        Verdict(promise.refused_share, (refused.mean or 0.0) <= promise.refused_share),
        Verdict(promise.strained_share, (strained.mean or 0.0) <= promise.strained_share),
        Verdict(promise.lost_returns, (lost.mean or 0.0) <= promise.lost_returns),
    )
