"""Five minutes of logons at a time: how many asked, how many of them waited, and for how long."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.engine.kernel.codes import OUT_PENDING, OUT_REFUSED, WaitCause
from idle_harbor.core.engine.run import BIN_SECONDS, Run

#: In place of a wait: it has no bound, since they were refused.
UNBOUNDED = -1
#: More seconds than any horizon has.
_NEVER = 2**40 - 1


@dataclass(frozen=True, slots=True)
class Logons:
    """Per five-minute bin of the counted horizon, by when people asked.

    ``asked`` counts everybody who came or came back, ``waited`` those of them who had no desktop at
    once; ``median`` (nearest rank) and ``longest`` are seconds over the latter, 0 where nobody
    waited and UNBOUNDED where refused people leave them without a bound.
    """

    asked: NDArray[np.int64]
    waited: NDArray[np.int64]
    median: NDArray[np.int64]
    longest: NDArray[np.int64]


def logons_of(run: Run) -> Logons:
    """The logons of a run; people still waiting at its end have waited at least until then."""
    begin = run.counted_from
    bins = (run.horizon.end - run.horizon.start - begin) // BIN_SECONDS
    start = run.spells.start
    # Spells come in the order of asking.
    asked = np.diff(np.searchsorted(start, begin + BIN_SECONDS * np.arange(bins + 1)))
    first = int(np.searchsorted(start, begin))
    waiting = first + np.flatnonzero(run.results["cause"][first:] > WaitCause.NONE)
    bin_of = (start[waiting].astype(np.int64) - begin) // BIN_SECONDS
    waited = np.bincount(bin_of, minlength=bins)
    outcome = run.results["outcome"][waiting]
    wait = run.results["wait"][waiting].astype(np.int64)
    so_far = (run.horizon.end - run.horizon.start) - start[waiting]
    wait = np.where(outcome == OUT_PENDING, so_far, np.where(outcome == OUT_REFUSED, _NEVER, wait))
    # By bin, then by wait: one number of both sorts in a third of the time.
    ordered = np.sort(bin_of * (_NEVER + 1) + wait) % (_NEVER + 1)
    last = np.cumsum(waited) - 1
    # The nearest rank of a half among n is the (n + 1) // 2-th: see experience.nearest_rank.
    middle = last - waited // 2
    some = waited > 0
    median, longest = np.zeros(bins, np.int64), np.zeros(bins, np.int64)
    median[some], longest[some] = ordered[middle[some]], ordered[last[some]]
    median[median == _NEVER] = longest[longest == _NEVER] = UNBOUNDED
    return Logons(asked, waited, median, longest)
