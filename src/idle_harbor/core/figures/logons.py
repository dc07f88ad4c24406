"""Logons in five-minute bins: how many people asked, how many of them waited, and how long."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.engine.run import Run
from idle_harbor.core.engine.tally import NEVER, WAIT_BITS

#: Stands for a wait without bound, because people were refused.
UNBOUNDED = -1


@dataclass(frozen=True, slots=True)
class Logons:
    """Logons for each five-minute bin of the counted horizon, by the time of the request.

    ``asked`` counts logons and reconnects, ``waited`` those without a desktop at once. ``median``
    (nearest rank) and ``longest`` are seconds over those who waited: 0 if nobody did, UNBOUNDED if
    refusals leave no bound.
    """

    asked: NDArray[np.int64]
    waited: NDArray[np.int64]
    median: NDArray[np.int64]
    longest: NDArray[np.int64]


def logons_of(run: Run) -> Logons:
    """Return the logons of a run.

    Whoever still waits at the end of the horizon counts with the wait so far.
    """
    asked, late = run.tally.asked, run.tally.late
    bins = len(asked)
    waited = np.bincount(late >> WAIT_BITS, minlength=bins)
    ordered = late & NEVER
    last = np.cumsum(waited) - 1
    # The nearest rank of a half among n is the (n + 1) // 2-th: see experience.nearest_rank.
    middle = last - waited // 2
    some = waited > 0
    median, longest = np.zeros(bins, np.int64), np.zeros(bins, np.int64)
    median[some], longest[some] = ordered[middle[some]], ordered[last[some]]
    median[median == NEVER] = longest[longest == NEVER] = UNBOUNDED
    return Logons(asked, waited, median, longest)
