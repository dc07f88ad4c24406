"""The promise against what simulated weeks say, part by part."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.plan import Promise


@dataclass(frozen=True, slots=True)
class Kept:
    """Which parts of the promise are kept."""

    wait: bool
    refused: bool
    strained: bool

    @property
    def whole(self) -> bool:
        """Whether every part is."""
        return self.wait and self.refused and self.strained


def kept_parts(promise: Promise, estimates: Mapping[str, Estimate]) -> Kept:
    """The promise against means over seeds; a wait without bound breaks it, nobody waiting keeps
    it."""
    p95 = estimates["wait_p95"]
    return Kept(
        wait=not p95.unbounded and (p95.mean or 0.0) <= promise.wait_p95_seconds,
        refused=(estimates["refused_share"].mean or 0.0) <= promise.refused_share,
        strained=(estimates["strained_share"].mean or 0.0) <= promise.strained_share,
    )
