"""What load rules did in a run, and where two of them worked against each other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

#: Two rules fight if one grows within so many seconds of the other shrinking.
FIGHT_SECONDS = 1_800


@dataclass(frozen=True, slots=True)
class Fight:
    """One load rule asks for more hosts while another asks for fewer.

    ``grows`` and ``shrinks`` are their places in the schedule; ``times`` are the seconds of the
    horizon at which the first grew.
    """

    grows: int
    shrinks: int
    times: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class LoadSeries:
    """A load rule at each look of the policy.

    ``times`` are seconds of the horizon, ``values`` the signal since the look before (NaN if it had
    no value), and ``extras`` the hosts that the rule asks for from that look on.
    """

    times: NDArray[np.int64]
    values: NDArray[np.float64]
    extras: NDArray[np.int64]


def load_series(
    loads: NDArray[np.void], tick_seconds: int, begin: int, end: int
) -> list[LoadSeries]:
    """Return each load rule's series between two seconds of the horizon.

    ``loads`` has shape (looks, rules); its first row is one tick after the start of the horizon.
    ``begin`` is included, ``end`` is not.
    """
    times = tick_seconds * np.arange(1, len(loads) + 1, dtype=np.int64)
    within = (times >= begin) & (times < end)
    return [
        LoadSeries(times[within], rule["value"][within], rule["extra"][within].astype(np.int64))
        for rule in loads.T
    ]


def fights(loads: NDArray[np.void], tick_seconds: int, begin: int = 0) -> list[Fight]:
    """Return the pairs of load rules of which one grew within half an hour of the other's
    shrinking.

    ``loads`` has shape (looks, rules). Looks before second ``begin`` of the horizon are left out.
    """
    times = tick_seconds * np.arange(1, len(loads) + 1, dtype=np.int64)
    times, changes = times[times >= begin], loads["change"][times >= begin].T
    found = []
    for a, grown in enumerate(changes):
        for b, shrunk in enumerate(changes):
            grew, shrank = times[grown > 0], times[shrunk < 0]
            if a == b or not len(grew) or not len(shrank):
                continue
            apart = np.abs(grew[:, None] - shrank[None, :]).min(axis=1)
            at = grew[apart <= FIGHT_SECONDS]
            if len(at):
                found.append(Fight(a, b, tuple(at.tolist())))
    return found
