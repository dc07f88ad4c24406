"""The ideal line: host-hours that even perfect foresight could not go below.

The same spells with ample hosts and logons at full speed, without a queue: hosts needed are
ceil(active sessions / session limit), since sessions cannot move but might have been placed so.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.calendar import Horizon
from idle_harbor.core.compiled import compiled
from idle_harbor.core.demand import Spells
from idle_harbor.core.engine import BIN_SECONDS
from idle_harbor.core.kernel.codes import DISCONNECT, FAR, SIGN_OFF
from idle_harbor.core.plan import Pool, Profile

_HAIR = 1e-9


@dataclass(frozen=True, slots=True)
class IdealLine:
    """Hosts needed with perfect foresight: ``host_seconds`` per five-minute bin."""

    host_seconds: NDArray[np.float64]

    def counted(self, horizon: Horizon) -> float:
        """Host-seconds over the counted horizon."""
        first = (horizon.counted - horizon.start) // BIN_SECONDS
        return float(self.host_seconds[first:].sum())


def _active_intervals(
    spells: Spells, pool: Pool, profiles: tuple[Profile, ...]
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """When each spell's session would be active (seconds from the horizon's start)."""
    logon = np.ceil([p.logon_seconds for p in profiles] or [0.0]).astype(np.int64)
    start = spells.start.astype(np.int64)
    end = spells.end.astype(np.int64)
    end = np.where(spells.from_connection == 1, start + logon[spells.profile] + end, end)
    order = np.lexsort((start, spells.person))
    person, begins, ends = spells.person[order], start[order], end[order]
    leaving = spells.leaving[order]
    idle = FAR if pool.idle_timeout is None else pool.idle_timeout
    gone = FAR if pool.disconnected_timeout is None else pool.disconnected_timeout
    lives = np.where(leaving == DISCONNECT, gone, idle + gone)
    lives = np.where(leaving == SIGN_OFF, 0, lives)
    returns = np.zeros(len(order), dtype=bool)
    returns[1:] = (person[1:] == person[:-1]) & (begins[1:] < ends[:-1] + lives[:-1])
    begins = begins + np.where(returns, pool.reconnect_seconds, 0)
    return begins, np.maximum(ends, begins)


@compiled("void(i8[::1], i8[::1], f8, i8, i8, f8[::1])")
def _sweep(times, steps, per_host, bin_seconds, end, host_seconds):
    """Integrate ceil(active / limit) into bins; events are sorted by time."""
    active = np.int64(0)
    now = np.int64(0)
    for k in range(times.shape[0] + 1):
        t = end
        if k < times.shape[0]:
            t = min(times[k], end)
        hosts = np.ceil(active * per_host - _HAIR)
        while now < t:
            stop = min(t, (now // bin_seconds + 1) * bin_seconds)
            host_seconds[now // bin_seconds] += hosts * (stop - now)
            now = stop
        if k < times.shape[0]:
            active += steps[k]


def ideal_line(
    spells: Spells, pool: Pool, profiles: tuple[Profile, ...], horizon: Horizon
) -> IdealLine:
    """The ideal line of a pool for given spells; refusing people cannot lower it."""
    begins, ends = _active_intervals(spells, pool, profiles)
    times = np.concatenate((begins, ends))
    steps = np.ones(len(times), dtype=np.int64)
    steps[len(begins) :] = -1
    order = np.argsort(times, kind="stable")
    length = horizon.end - horizon.start
    bins = np.zeros(-(-length // BIN_SECONDS))
    _sweep(times[order], steps[order], 1.0 / pool.session_limit, BIN_SECONDS, length, bins)
    return IdealLine(bins)
