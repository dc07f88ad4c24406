"""The promise against what simulated weeks say, part by part."""

from __future__ import annotations

from dataclasses import dataclass

from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.plan import Promise


@dataclass(frozen=True, slots=True)
class Verdict:
    """The promise against one figure: its limit, and whether it is kept."""

    limit: float
    kept: bool


@dataclass(frozen=True, slots=True)
class Verdicts:
    """The promise, figure by figure."""

    wait_p95_seconds: Verdict
    refused_share: Verdict
    strained_share: Verdict

    @property
    def whole(self) -> bool:
        """Whether every part is kept."""
        return self.wait_p95_seconds.kept and self.refused_share.kept and self.strained_share.kept


def verdicts_on(
    promise: Promise, *, wait_p95: Estimate, refused: Estimate, strained: Estimate
) -> Verdicts:
    """The promise against means over seeds; a wait without bound breaks it, nobody waiting keeps
    it."""
    wait = not wait_p95.unbounded and (wait_p95.mean or 0.0) <= promise.wait_p95_seconds
    return Verdicts(
        Verdict(promise.wait_p95_seconds, wait),
        Verdict(promise.refused_share, (refused.mean or 0.0) <= promise.refused_share),
        Verdict(promise.strained_share, (strained.mean or 0.0) <= promise.strained_share),
    )
