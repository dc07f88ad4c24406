"""Spells of a run by outcome, counted in one pass.

All figures about people are based on it. A pass for each figure took a third of the time of the run
itself.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import from_dtype, types
from numpy.typing import NDArray

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.demand.spells import Spells
from idle_harbor.core.engine.kernel.codes import (
    OUT_CONNECTED,
    OUT_PENDING,
    OUT_RECONNECTED,
    OUT_REFUSED,
    LostCause,
    WaitCause,
)
from idle_harbor.core.engine.kernel.world import RESULT

_OUTCOMES = 5
#: A wait is in the low bits of an integer and its bin above, so that one sort orders both.
WAIT_BITS = 40
#: Stands for the wait of a refused logon: longer than any horizon.
NEVER = 2**WAIT_BITS - 1
_NOBODY = int(WaitCause.NONE)


@dataclass(frozen=True, slots=True)
class Tally:
    """Counts of the spells that begin in the counted horizon, and their waits.

    ``outcomes``, ``returns`` and ``causes`` count spells by OUT_…, RETURN_… and WaitCause (the last
    without returns to a session). ``cause_seconds`` are the waits by cause. ``waits`` are the
    seconds of connected logons, ``pending`` of those that still wait. ``asked`` has an entry per
    bin. ``late`` has an entry for each spell without a desktop at once, as bin × 2⁴⁰ + seconds, in
    ascending order. ``wanted`` and ``waited`` are seconds of work inside the counted horizon over
    all spells: wanted, and waited away.
    """

    outcomes: NDArray[np.int64]
    returns: NDArray[np.int64]
    causes: NDArray[np.int64]
    cause_seconds: NDArray[np.int64]
    waits: NDArray[np.int64]
    pending: NDArray[np.int64]
    asked: NDArray[np.int64]
    late: NDArray[np.int64]
    wanted: int
    waited: int

    @property
    def nbytes(self) -> int:
        """Bytes of memory that it holds."""
        return int(self.waits.nbytes + self.pending.nbytes + self.asked.nbytes + self.late.nbytes)


def _read(item: types.Type) -> types.Array:
    return types.Array(item, 1, "C", readonly=True)


_WRITTEN = types.int64[::1]


@compiled(
    types.void(
        _read(types.int32),
        _read(types.int32),
        _read(types.int8),
        _read(from_dtype(RESULT)),
        types.int64,
        types.int64,
        types.int64,
        *(_WRITTEN,) * 9,
    ),
    entry=True,
)
def _count(
    start: Any,
    end: Any,
    from_connection: Any,
    results: Any,
    begin: int,
    length: int,
    bin_seconds: int,
    outcomes: Any,
    returns: Any,
    causes: Any,
    cause_seconds: Any,
    waits: Any,
    pending: Any,
    asked: Any,
    late: Any,
    sums: Any,
) -> None:
    """Count spells; ``sums`` receives seconds wanted and waited, and late spells."""
    connected = waiting = behind = 0
    wanted = away = 0
    # Spells are sorted by their start: to follow the bin is faster than a division.
    place: Any = 0
    bin_end: Any = begin + bin_seconds
    for k in range(start.shape[0]):
        row = results[k]
        begun: Any = np.int64(start[k])
        until: Any = np.int64(end[k]) + (begun if from_connection[k] == 1 else 0)
        outcome = row.outcome
        wait: Any = np.int64(row.wait)
        work = max(min(until, length) - max(begun, begin), 0)
        wanted += work
        if begun < begin:
            continue
        outcomes[outcome] += 1
        returns[row.returned] += 1
        if outcome in (OUT_CONNECTED, OUT_RECONNECTED):
            away += min(wait, work)
        else:
            away += work
        while begun >= bin_end:
            place += 1
            bin_end += bin_seconds
        asked[place] += 1
        if outcome != OUT_RECONNECTED:
            causes[row.cause] += 1
            cause_seconds[row.cause] += max(wait, 0)
        if outcome == OUT_CONNECTED:
            waits[connected] = wait
            connected += 1
        elif outcome == OUT_PENDING:
            pending[waiting] = length - begun
            waiting += 1
        if row.cause > _NOBODY:
            seconds = wait
            if outcome == OUT_PENDING:
                seconds = length - begun
            elif outcome == OUT_REFUSED:
                seconds = NEVER
            late[behind] = (place << WAIT_BITS) + seconds
            behind += 1
    sums[0], sums[1], sums[2] = wanted, away, behind


def tally(
    spells: Spells, results: NDArray[np.void], begin: int, length: int, bin_seconds: int
) -> Tally:
    """Count the spells that begin at ``begin`` or later; all times are in seconds."""
    outcomes, returns = np.zeros(_OUTCOMES, np.int64), np.zeros(max(LostCause) + 1, np.int64)
    causes, seconds = np.zeros((2, len(WaitCause)), np.int64)
    waits, pending, late = np.empty((3, len(spells)), np.int64)
    asked = np.zeros(-(-(length - begin) // bin_seconds), np.int64)
    sums = np.zeros(3, np.int64)
    _count(
        spells.start,
        spells.end,
        spells.from_connection,
        results,
        begin,
        length,
        bin_seconds,
        outcomes,
        returns,
        causes,
        seconds,
        waits,
        pending,
        asked,
        late,
        sums,
    )
    wanted, waited, behind = sums.tolist()
    return Tally(
        outcomes,
        returns,
        causes,
        seconds,
        waits[: outcomes[OUT_CONNECTED]].copy(),
        pending[: outcomes[OUT_PENDING]].copy(),
        asked,
        np.sort(late[:behind]),
        wanted,
        waited,
    )
