"""Five minutes of logons at a time: how many asked, how many of them waited, and for how long."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.engine.run import Run
from idle_harbor.core.engine.tally import NEVER, WAIT_BITS

#: In place of a wait: it has no bound, since they were refused.
UNBOUNDED = -1


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
