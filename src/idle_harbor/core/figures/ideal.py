"""The ideal line: a lower bound on host-hours, even with perfect foresight.

The same spells run with as many hosts as needed, logons at full speed and no queue. The number of
hosts needed is ceil(active sessions / session limit): sessions cannot move, but perfect foresight
might have placed them so.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.calendar.clock import Horizon
from idle_harbor.core.demand.kernel.presence import follow_sessions
from idle_harbor.core.demand.spells import Spells
from idle_harbor.core.engine.kernel.codes import FAR
from idle_harbor.core.engine.run import BIN_SECONDS
from idle_harbor.core.plan import Pool, Profile

_HAIR = 1e-9


@dataclass(frozen=True, slots=True)
class IdealLine:
    """Hosts needed with perfect foresight: ``host_seconds`` for each five-minute bin."""

    host_seconds: NDArray[np.float64]

    def counted(self, horizon: Horizon) -> float:
        """Return the host-seconds over the counted part of a horizon."""
        first = (horizon.counted - horizon.start) // BIN_SECONDS
        return float(self.host_seconds[first:].sum())


@compiled("void(i8[::1], i8[::1], f8, i8, i8, f8[::1])", entry=True)
def _sweep(
    begins: NDArray[np.int64],
    ends: NDArray[np.int64],
    per_host: float,
    bin_seconds: int,
    horizon: int,
    host_seconds: NDArray[np.float64],
) -> None:
    """Integrate ceil(active / limit) into bins; both arrays are sorted."""
    count = begins.shape[0]
    began = ended = active = 0
    now = 0
    while now < horizon:
        t = horizon
        if began < count:
            t = min(t, int(begins[began]))
        if ended < count:
            t = min(t, int(ends[ended]))
        hosts = np.ceil(active * per_host - _HAIR)
        while now < t:
            stop = min(t, (now // bin_seconds + 1) * bin_seconds)
            host_seconds[now // bin_seconds] += hosts * (stop - now)
            now = stop
        while began < count and begins[began] == t:
            began += 1
            active += 1
        while ended < count and ends[ended] == t:
            ended += 1
            active -= 1


def only_lingering(pool: Pool) -> Pool:
    """Return the pool reduced to the fields that the ideal line depends on.

    Edits of other fields then find the line in the cache.
    """
    return Pool(
        id="",
        time_zone="",
        size="",
        schedule="",
        session_limit=pool.session_limit,
        idle_timeout=pool.idle_timeout,
        disconnected_timeout=pool.disconnected_timeout,
        reconnect_seconds=pool.reconnect_seconds,
    )


@dataclass(frozen=True, slots=True)
class Followed:
    """The sessions of spells if hosts are ample (see ``kernel.presence``).

    ``begins`` and ``ends`` (seconds, one per spell) bound the time in which the session is active.
    ``session_end`` is the second at which a session that the spell begins ends, or -1 if the spell
    continues a session.
    """

    begins: NDArray[np.int64]
    ends: NDArray[np.int64]
    session_end: NDArray[np.int32]


def follow(spells: Spells, pool: Pool, profiles: tuple[Profile, ...]) -> Followed:
    """Return the session of every spell under the pool's timeouts, with logons at full speed and no
    queue.

    ``profiles`` are indexed by the spells' profile numbers.
    """
    idle = FAR if pool.idle_timeout is None else pool.idle_timeout
    gone = FAR if pool.disconnected_timeout is None else pool.disconnected_timeout
    logon = np.ceil([p.logon.seconds for p in profiles] or [0.0]).astype(np.int64)
    until, idle_until = np.zeros((2, spells.people), dtype=np.int64)
    begins, ends = np.empty((2, len(spells)), dtype=np.int64)
    session_end = np.empty(len(spells), dtype=np.int32)
    follow_sessions(
        spells.person,
        spells.start,
        spells.end,
        spells.leaving,
        spells.from_connection,
        spells.profile,
        logon,
        idle,
        gone,
        pool.reconnect_seconds,
        until,
        idle_until,
        np.full(spells.people, -1, dtype=np.int64),
        begins,
        ends,
        session_end,
    )
    return Followed(begins, ends, session_end)


def ideal_line(
    spells: Spells, pool: Pool, profiles: tuple[Profile, ...], horizon: Horizon
) -> IdealLine:
    """Return the ideal line of a pool for given spells.

    ``profiles`` are indexed by the spells' profile numbers. All spells count, so refusing people
    cannot lower the line.
    """
    sessions = follow(spells, pool, profiles)
    length = horizon.end - horizon.start
    bins = np.zeros(-(-length // BIN_SECONDS))
    per_host = 1.0 / pool.session_limit
    _sweep(np.sort(sessions.begins), np.sort(sessions.ends), per_host, BIN_SECONDS, length, bins)
    return IdealLine(bins)
