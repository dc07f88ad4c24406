"""The promise against what simulated weeks say, part by part."""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import Literal, TypeAlias, get_args

from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.plan import Promise

#: What the simulated weeks say of a part of the promise: of means that such weeks may have, all
#: keep it, none does, or some do and some do not.
Standing: TypeAlias = Literal["kept", "at risk", "broken"]
#: From the best to the worst.
STANDINGS: tuple[Standing, ...] = get_args(Standing)


#: Guards shares at their limit against being a hair beyond it.
_HAIR = 1e-12


@dataclass(frozen=True, slots=True)
class Verdict:
    """The promise against one figure: its limit, whether the mean keeps it, what its 95 % interval
    says, and which way is better."""

    limit: float
    kept: bool
    standing: Standing
    #: A promise tells the most of a figure there may be, of comfort the least.
    less_is_better: bool = True


@dataclass(frozen=True, slots=True)
class Verdicts:
    """The promise, figure by figure."""

    wait_p95_seconds: Verdict
    refused_share: Verdict
    strained_share: Verdict
    lost_returns: Verdict
    forced_share: Verdict
    comfort: Verdict

    @property
    def parts(self) -> tuple[Verdict, ...]:
        """All of them."""
        return tuple(getattr(self, each.name) for each in fields(self))

    @property
    def whole(self) -> bool:
        """Whether every part is kept."""
        return all(part.kept for part in self.parts)

    @property
    def standing(self) -> Standing:
        """How the part stands that stands worst."""
        found = [part.standing for part in self.parts]
        return max(found, key=STANDINGS.index)


def _verdict(limit: float, found: Estimate, *, least: bool = False) -> Verdict:
    """The most there may be of a figure, or with ``least`` the least; what is not known keeps it,
    since nobody felt anything."""
    if found.mean is None and not found.unbounded:
        return Verdict(limit, True, "kept", not least)
    way = -1.0 if least else 1.0
    over = float("inf") if found.mean is None else way * (found.mean - limit)
    half = found.half_width or 0.0
    standing: Standing = "broken"
    if over <= half + _HAIR:
        standing = "kept" if over <= _HAIR - half else "at risk"
    return Verdict(limit, over <= _HAIR, standing, not least)


def verdicts_on(
    promise: Promise,
    *,
    wait_p95: Estimate,
    refused: Estimate,
    strained: Estimate,
    lost: Estimate,
    forced: Estimate,
    comfort: Estimate,
) -> Verdicts:
    """The promise against means over seeds and their intervals; a wait without bound breaks it,
    nobody who waits or comes back keeps it. Of one week alone the mean decides."""
    return Verdicts(
        _verdict(promise.wait_p95_seconds, wait_p95),
        _verdict(promise.refused_share, refused),
        _verdict(promise.strained_share, strained),
        _verdict(promise.lost_returns, lost),
        _verdict(promise.forced_share, forced),
        _verdict(promise.comfort, comfort, least=True),
    )
