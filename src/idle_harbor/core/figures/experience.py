"""What people experience in one run: waits, refusals, lost returns, strained work, comfort."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, inf

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
    RETURN_FOUND,
    LostCause,
    WaitCause,
)
from idle_harbor.core.engine.run import Run
from idle_harbor.core.plan import Pool

_RETURNED = (OUT_RECONNECTED, OUT_LOST)
#: A person's own wait is that of this share of their logons, where they log on so often.
_OWN_SHARE, _OFTEN = 0.75, 4
#: Seconds without any request after which the next person is a first comer.
QUIET_SECONDS = 3_600


@dataclass(frozen=True, slots=True)
class Waits:
    """Logons of the counted horizon and their waits in seconds; a percentile is None if it has no
    bound."""

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
        """Refused logons as a share of all logons asked for."""
        return self.refused / self.arrivals if self.arrivals else 0.0


@dataclass(frozen=True, slots=True)
class Sessions:
    """Sessions in any state: mean and peak over the counted horizon, and shares from 0 to 1."""

    mean: float
    peak: float
    strained_share: float
    behind_share: float
    comfort: float


@dataclass(frozen=True, slots=True)
class Returns:
    """People who left a session without signing off and came back on the same working day.

    ``found`` is the number who found their session again; the other counts are those who lost it,
    by cause.
    """

    found: int
    timeout: int
    forced: int
    failed: int

    @property
    def lost(self) -> int:
        """Number of people who did not find their session again."""
        return self.timeout + self.forced + self.failed

    @property
    def all(self) -> int:
        """Number of people who came back to a session that they had left."""
        return self.found + self.lost

    @property
    def lost_share(self) -> float | None:
        """Lost returns as a share of all returns; None if nobody came back."""
        return self.lost / self.all if self.all else None


def nearest_rank(ordered: NDArray[np.number], share: float, infinite: int = 0) -> float | None:
    """Return the nearest-rank percentile of sorted values.

    ``ordered`` has the finite values in ascending order, ``share`` is the percentile from 0 to 1,
    and ``infinite`` is the number of infinite values that follow. The result is None if the rank
    falls on an infinite value or if there are no values. Source: Hyndman and Fan (1996), definition
    1.
    """
    rank = max(ceil(share * (len(ordered) + infinite) - 1e-9), 1)
    return float(ordered[rank - 1]) if rank <= len(ordered) else None


def waits_of(run: Run) -> Waits:
    """Return the waits of new logons of a run, in seconds.

    Percentiles are nearest ranks with a refused logon as an infinite wait; the mean is over
    connected logons. A logon that still waits at the end of the horizon counts with its wait so
    far.
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
    """Return how many people came back to a session that they had left, and how many had lost it.

    People who had signed off, or who had had no session, are not counted.
    """
    found = run.tally.returns
    return Returns(
        found=int(found[RETURN_FOUND]),
        timeout=int(found[LostCause.TIMEOUT]),
        forced=int(found[LostCause.FORCED]),
        failed=int(found[LostCause.FAILED]),
    )


@dataclass(frozen=True, slots=True)
class FirstComers:
    """People who ask for a desktop after an hour without any request, in the counted horizon.

    Returns to an existing session do not count as requests. ``refused`` of them got no desktop.
    ``mean`` and ``longest`` are the waits of the others in seconds, None if there are none.
    """

    people: int
    refused: int
    mean: float | None
    longest: float | None

    @property
    def within(self) -> float | None:
        """Seconds within which all of them had a desktop: infinite if one was refused, None if
        there were none."""
        return inf if self.refused else self.longest


def first_comers_of(run: Run) -> FirstComers:
    """Return the waits of the people who come first after a quiet hour.

    Whoever still waits at the end of the horizon counts with the wait so far.
    """
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


def own_wait_of(run: Run) -> float | None:
    """Return the longest own wait of a person of a dedicated pool, in seconds.

    A person's own wait is the nearest-rank percentile of their logons of the counted horizon at
    which three of four are within it. People with fewer than four logons are left out. The result
    is infinite if refusals reach the percentile, and None if nobody is left.
    """
    rows, people = run.results, run.spells.person
    asked = (run.spells.start >= run.counted_from) & ~np.isin(rows["outcome"], _RETURNED)
    wait = np.where(rows["outcome"] == OUT_REFUSED, inf, np.maximum(rows["wait"], 0))
    late = run.horizon.end - run.horizon.start - run.spells.start
    wait = np.where(rows["outcome"] == OUT_PENDING, late, wait)[asked]
    people = people[asked]
    order = np.lexsort((wait, people))
    _, first, counts = np.unique(people[order], return_index=True, return_counts=True)
    often = counts >= _OFTEN
    ranks = first[often] + np.ceil(_OWN_SHARE * counts[often]).astype(np.int64) - 1
    return float(wait[order][ranks].max()) if len(ranks) else None


def sessions_of(run: Run) -> Sessions:
    """Return sessions, strained work and comfort over the counted horizon.

    The strained share, and the share behind a slow line on a host that is not strained, are shares
    of connected active session time. Comfort is 1 − (time waited + strained time + time behind a
    slow line) / working time; a refused spell counts as waited in full.
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
    """Return, for each cause, the number of new logons that it delayed or refused in the counted
    horizon and the seconds that they waited."""
    people, seconds = run.tally.causes, run.tally.cause_seconds
    return {
        cause: (int(people[cause]), float(seconds[cause]))
        for cause in WaitCause
        if cause != WaitCause.NONE
    }


@dataclass(frozen=True)
class Experience:
    """What people experience in one run.

    ``forced_share`` and ``lost_work_share`` are shares of the sessions that ended in the counted
    horizon, None if none ended: those that were ended by force, and those that a timeout or force
    ended while work in them may not have been saved. ``own_wait`` is the longest own wait of a
    person of a dedicated pool in seconds, None in any other pool.
    """

    waits: Waits
    returns: Returns
    sessions: Sessions
    first: FirstComers
    forced: int
    forced_share: float | None
    lost_work_share: float | None
    own_wait: float | None


def experience_of(run: Run, pool: Pool) -> Experience:
    """Return what people of a pool experience in a run."""
    ended = run.counted_ends
    return Experience(
        waits=waits_of(run),
        returns=returns_of(run),
        sessions=sessions_of(run),
        first=first_comers_of(run),
        forced=run.forced,
        forced_share=run.forced / ended if ended else None,
        lost_work_share=run.lost_work / ended if ended else None,
        own_wait=own_wait_of(run) if pool.kind == "dedicated" else None,
    )
