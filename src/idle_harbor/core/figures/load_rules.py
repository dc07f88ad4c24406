"""What load rules did in a run, and where two of them fought."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

#: Two rules fight where one grows so soon before or after another shrinks.
FIGHT_SECONDS = 1_800


@dataclass(frozen=True, slots=True)
class Fight:
    """One rule asks for more hosts while another asks for fewer: their places among the rules, and
    the seconds of the horizon at which the first grew."""

    grows: int
    shrinks: int
    times: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class LoadSeries:
    """A load rule from look to look: seconds of the horizon, what its signal said (not a number
    where it said nothing), the hosts that it asked for since."""

    times: NDArray[np.int64]
    values: NDArray[np.float64]
    extras: NDArray[np.int64]


def load_series(
    loads: NDArray[np.void], tick_seconds: int, begin: int, end: int
) -> list[LoadSeries]:
    """Each load rule at the looks from one second of the horizon to before another.

    ``loads`` are a run's, with a row for each look: the first is one tick after the horizon's
    start.
    """
    times = tick_seconds * np.arange(1, len(loads) + 1, dtype=np.int64)
    within = (times >= begin) & (times < end)
    return [
        LoadSeries(times[within], rule["value"][within], rule["extra"][within].astype(np.int64))
        for rule in loads.T
    ]


def fights(loads: NDArray[np.void], tick_seconds: int, begin: int = 0) -> list[Fight]:
    """Pairs of rules of which one grew within half an hour of the other's shrinking, from a second
    of the horizon on."""
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
