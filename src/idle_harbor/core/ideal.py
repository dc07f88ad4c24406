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
from idle_harbor.core.kernel.codes import DISCONNECT, FAR, WALK_AWAY
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


@compiled("void(i4[::1], i4[::1], i4[::1], i1[::1], i8[::1], i8[::1], i8, i8[::1], i8[::1])")
def _active(person, start, end, leaving, logon, lives, reconnect, until, begins):
    """When each spell's session would be active: ``begins`` and (in place of ``logon``) ends.

    ``logon`` holds seconds of logon and of drop-in sessions to add to the end, -1 where the spell
    ends by the clock; ``lives`` is how long a session outlives its spell by way of leaving;
    ``until`` is scratch, zero for every person: until when their session lives.
    """
    for k in range(start.shape[0]):
        who = person[k]
        begin = np.int64(start[k])
        stop = np.int64(end[k])
        if logon[k] >= 0:
            stop += begin + logon[k]
        if begin < until[who]:
            begin += reconnect
        begins[k] = begin
        logon[k] = max(stop, begin)
        until[who] = stop + lives[leaving[k]]


@compiled("void(i8[::1], i8[::1], f8, i8, i8, f8[::1])")
def _sweep(begins, ends, per_host, bin_seconds, horizon, host_seconds):
    """Integrate ceil(active / limit) into bins; both arrays are sorted."""
    count = begins.shape[0]
    began = ended = active = np.int64(0)
    now = np.int64(0)
    while now < horizon:
        t = horizon
        if began < count:
            t = min(t, begins[began])
        if ended < count:
            t = min(t, ends[ended])
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
    """The pool with only what the ideal line depends on, so that caches hold through edits."""
    return Pool(
        id="", time_zone="", size="", disk=None, standing=0, session_limit=pool.session_limit,
        schedule="", start_mean_seconds=0.0, start_cv=0.0, stop_seconds=0, patience_seconds=None,
        idle_timeout=pool.idle_timeout, disconnected_timeout=pool.disconnected_timeout,
        reconnect_seconds=pool.reconnect_seconds, load_limit=1.0, load_tolerance=0.5,
        base_vcpu=0.0, base_gib=0.0,
    )  # fmt: skip


def lives_after(pool: Pool) -> NDArray[np.int64]:
    """Seconds that a session outlives its spell, by way of leaving."""
    idle = FAR if pool.idle_timeout is None else pool.idle_timeout
    gone = FAR if pool.disconnected_timeout is None else pool.disconnected_timeout
    lives = np.zeros(3, dtype=np.int64)
    lives[DISCONNECT], lives[WALK_AWAY] = gone, idle + gone
    return lives


def logon_seconds_of(profiles: tuple[Profile, ...]) -> NDArray[np.int64]:
    """Whole seconds of a logon at full speed, by profile."""
    return np.ceil([p.logon_seconds for p in profiles] or [0.0]).astype(np.int64)


def ideal_line(
    spells: Spells, pool: Pool, profiles: tuple[Profile, ...], horizon: Horizon
) -> IdealLine:
    """The ideal line of a pool for given spells; refusing people cannot lower it."""
    seconds = logon_seconds_of(profiles)
    ends = np.where(spells.from_connection == 1, seconds[spells.profile], -1)
    begins = np.empty(len(spells), dtype=np.int64)
    _active(
        spells.person, spells.start, spells.end, spells.leaving, ends, lives_after(pool),
        pool.reconnect_seconds, np.zeros(max(spells.people, 1), dtype=np.int64), begins,
    )  # fmt: skip
    length = horizon.end - horizon.start
    bins = np.zeros(-(-length // BIN_SECONDS))
    per_host = 1.0 / pool.session_limit
    _sweep(np.sort(begins), np.sort(ends), per_host, BIN_SECONDS, length, bins)
    return IdealLine(bins)
