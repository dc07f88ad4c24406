"""What people felt in one run: waits, refusals, lost returns, strain, comfort."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.engine.kernel.codes import (
    L_ALL,
    L_BEHIND,
    L_STRAINED,
    L_WORKING,
    OUT_LOST,
    OUT_PENDING,
    OUT_RECONNECTED,
    OUT_REFUSED,
    RETURN_KEPT,
    LostCause,
    WaitCause,
)
from idle_harbor.core.engine.run import Run

#: Who comes after so long without anybody is the first in a quiet hour.
QUIET_SECONDS = 3_600


@dataclass(frozen=True, slots=True)
class Waits:
    """Logons asked for in the counted horizon; seconds; None where a quantile has no bound."""

    arrivals: int
    connected: int
    refused: int
    still_waiting: int
    reconnects: int
    mean: float | None
    p50: float | None
    p95: float | None
    p96: float | None
    p99: float | None

    @property
    def refused_share(self) -> float:
        """Refused logons as a share of those asked for."""
        return self.refused / self.arrivals if self.arrivals else 0.0


@dataclass(frozen=True, slots=True)
class Sessions:
    """Sessions in every state: time-average and peak, and shares from 0 to 1."""

    mean: float
    peak: float
    strained_share: float
    behind_share: float
    comfort: float


@dataclass(frozen=True, slots=True)
class Returns:
    """People who came back on a working day on which they had left a session without signing off,
    in the counted horizon: how many found it, and how many did not, by what had ended it."""

    kept: int
    timeout: int
    forced: int
    failed: int

    @property
    def lost(self) -> int:
        """Those who did not find it."""
        return self.timeout + self.forced + self.failed

    @property
    def all(self) -> int:
        """Everyone who came back to something."""
        return self.kept + self.lost

    @property
    def lost_share(self) -> float | None:
        """Lost returns as a share of all; None where nobody came back."""
        return self.lost / self.all if self.all else None


def nearest_rank(ordered: NDArray[np.number], share: float, infinite: int = 0) -> float | None:
    """The nearest-rank quantile of sorted values and so many ``infinite`` ones after them; None
    where it is one of these, or where there are none at all.

    (Hyndman and Fan 1996, definition 1.)
    """
    rank = max(ceil(share * (len(ordered) + infinite) - 1e-9), 1)
    return float(ordered[rank - 1]) if rank <= len(ordered) else None


def waits_of(run: Run) -> Waits:
    """Waits of new logons: nearest ranks with refused as infinite, the mean over the connected.

    People still waiting when the horizon ends have waited at least until then.
    """
    told = run.tally
    back = told.outcomes[OUT_RECONNECTED] + told.outcomes[OUT_LOST]
    refused = int(told.outcomes[OUT_REFUSED])
    got, so_far = told.waits, told.pending
    ordered = np.sort(np.concatenate((got, so_far)))
    arrivals = len(ordered) + refused

    def rank(share: float) -> float | None:
        return nearest_rank(ordered, share, infinite=refused)

    return Waits(
        arrivals=arrivals,
        connected=len(got),
        refused=refused,
        still_waiting=len(so_far),
        reconnects=int(back),
        mean=float(got.sum()) / len(got) if len(got) else None,
        p50=rank(0.50),
        p95=rank(0.95),
        p96=rank(0.96),
        p99=rank(0.99),
    )


def returns_of(run: Run) -> Returns:
    """What people found who came back.

    Who had signed off comes to a new session and is in none of these; nor is who had got none.
    """
    found = run.tally.returns
    return Returns(
        kept=int(found[RETURN_KEPT]),
        timeout=int(found[LostCause.TIMEOUT]),
        forced=int(found[LostCause.FORCED]),
        failed=int(found[LostCause.FAILED]),
    )


@dataclass(frozen=True, slots=True)
class FirstComers:
    """Who asked for a desktop after an hour in which nobody had, in the counted horizon, but for
    those who came back to their session: how many, how many of them got none, and what the others
    waited, in seconds; None where there are none."""

    people: int
    refused: int
    mean: float | None
    longest: float | None


def first_comers_of(run: Run) -> FirstComers:
    """What it costs to come first in a quiet hour. Those who have waited to the end of the horizon
    have waited so long."""
    start = run.spells.start
    before = np.concatenate(([-QUIET_SECONDS], start[:-1]))
    first = (start - before >= QUIET_SECONDS) & (start >= run.counted_from)
    first &= run.results["outcome"] != OUT_RECONNECTED
    rows = run.results[first]
    length = run.horizon.end - run.horizon.start
    refused = int((rows["outcome"] == OUT_REFUSED).sum())
    got = rows["outcome"] != OUT_REFUSED
    pending = rows["outcome"] == OUT_PENDING
    seconds = np.where(pending, length - start[first], np.maximum(rows["wait"], 0))[got]
    if not len(seconds):
        return FirstComers(len(rows), refused, None, None)
    return FirstComers(len(rows), refused, float(seconds.mean()), float(seconds.max()))


def forced_share_of(run: Run) -> float | None:
    """Sessions that were ended by force as a share of all that ended; None where none did."""
    return run.forced / run.counted_ends if run.counted_ends else None


def sessions_of(run: Run) -> Sessions:
    """Sessions, strain and comfort over the counted horizon.

    The strained share, and that behind a slow line but not strained, are taken of connected
    active session time. Comfort is 1 − (time waited + strained + behind a slow line) / working
    time; a refused spell counts wholly as waited.
    """
    seconds = run.horizon.end - run.horizon.counted
    peaks = run.counted_peaks()
    strained, working = run.total(L_STRAINED), run.total(L_WORKING)
    behind = run.total(L_BEHIND)
    work, waited = run.tally.wanted, run.tally.waited
    return Sessions(
        mean=run.total(L_ALL) / seconds,
        peak=float(peaks[:, L_ALL].max()) if len(peaks) else 0.0,
        strained_share=strained / working if working else 0.0,
        behind_share=behind / working if working else 0.0,
        comfort=max(1.0 - (waited + strained + behind) / work, 0.0) if work else 1.0,
    )


def wait_causes(run: Run) -> dict[WaitCause, tuple[int, float]]:
    """For each cause: new logons it delayed or refused in the counted horizon, seconds waited."""
    people, seconds = run.tally.causes, run.tally.cause_seconds
    return {
        cause: (int(people[cause]), float(seconds[cause]))
        for cause in WaitCause
        if cause != WaitCause.NONE
    }
