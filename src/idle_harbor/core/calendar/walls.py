"""Local time into seconds for arrays of clock times, by the rows that ``clock`` has."""

from __future__ import annotations

from datetime import date, timedelta
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.calendar.clock import (
    DAY,
    EPOCH,
    HOUR,
    Horizon,
    local_to_instant,
    transitions,
    wall_rows,
)


@lru_cache(maxsize=4096)
def wall_pieces(zone_name: str, day: date) -> NDArray[np.int64]:
    """:func:`~idle_harbor.core.calendar.clock.wall_rows` as an array of shape (pieces, 3).

    It is read-only because it is shared.
    """
    pieces = np.array(wall_rows(zone_name, day), dtype=np.int64)
    pieces.flags.writeable = False
    return pieces


def local_to_instants(zone_name: str, day: date, seconds: NDArray[np.int64]) -> NDArray[np.int64]:
    """:func:`~idle_harbor.core.calendar.clock.local_to_instant` of an array of clock times."""
    pieces = wall_pieces(zone_name, day)
    rows = pieces[np.searchsorted(pieces[:, 0], seconds, side="right") - 1]
    result: NDArray[np.int64] = np.maximum(seconds - rows[:, 1], rows[:, 2])
    return result


def local_hours(horizon: Horizon, step: int) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Local date (0 = first) and wall-clock hour of every ``step`` seconds of a horizon.

    A doubled hour has twice as many steps, a skipped one none.
    """
    instants = np.arange(horizon.start, horizon.end, step, dtype=np.int64)
    walls = np.empty_like(instants)
    for day in horizon.dates:
        changes, offsets = transitions(horizon.time_zone, day)
        begin = local_to_instant(horizon.time_zone, day, 0)
        end = local_to_instant(horizon.time_zone, day + timedelta(days=1), 0)
        here = slice(*np.searchsorted(instants, [begin, end]).tolist())
        shift = np.array(offsets)[np.searchsorted(np.array(changes), instants[here], side="right")]
        walls[here] = instants[here] + shift
    first = (horizon.first_day - EPOCH).days
    return walls // DAY - first, walls % DAY // HOUR
