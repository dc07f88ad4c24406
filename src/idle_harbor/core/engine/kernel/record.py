"""Integrals of the levels, and logs of hosts."""

from __future__ import annotations

import numpy as np

from idle_harbor.core.base.compiled import CHECKED, compiled
from idle_harbor.core.base.records import longs
from idle_harbor.core.engine.kernel.codes import (
    L_ACTIVE,
    L_DISCONNECTED,
    L_IDLE,
    SHORT_OF_LOG,
)
from idle_harbor.core.engine.kernel.signals import add_up_signals
from idle_harbor.core.engine.kernel.world import (
    BIN_BYTES,
    accumulate,
    action_table,
    bin_table,
    host_table,
    lane_table,
    of_world,
)

#: Tolerance for rounding: quotients of integers below a million differ by far more.
_HAIR = 1e-9


@compiled(inline=True)
def integrate(w, t):
    """Add each level × the time since the last event to the bins, and keep the maxima of each
    bin."""
    now = w.now
    if t <= now:
        return
    level = w.level
    active = level[L_ACTIVE]
    everyone = active + level[L_IDLE] + level[L_DISCONNECTED]
    least_active = np.ceil(active * w.per_host - _HAIR)
    least_all = np.ceil(everyone * w.per_host - _HAIR)
    if w.watched > 0:
        add_up_signals(w, everyone, np.float64(t - now))
    while now < t:
        stop = min(t, w.bin_end)
        span = np.float64(stop - now)
        if CHECKED:
            bin_table(w.bin_at, w.bins)[w.bin].sum[0] += 0.0
        accumulate(
            w.level_at, w.bin_at + w.bin * BIN_BYTES, span, everyone, least_active, least_all
        )
        now = stop
        if now == w.bin_end:
            w.bin += 1
            w.bin_end += w.bin_seconds
    w.now = t


@compiled()
def _log_is_full(w, t):
    """Have the run repeated with larger logs; at their bound, record nothing from here on."""
    if w.most_log > w.lanes_room:
        w.short |= SHORT_OF_LOG
    else:
        w.record = 0
        w.recorded = t


@compiled(of_world(2), inline=True)
def log_lane(w, host, t):
    """Log a host's state, sessions and strain after a change."""
    if w.record == 0:
        return
    size = w.lanes_size
    if size >= w.lanes_room:
        _log_is_full(w, t)
        return
    row = lane_table(w.lane_at, w.lanes_room)[size]
    row.time = t
    row.host = host
    row.state = longs(w.state_at, w.hosts)[host]
    row.sessions = longs(w.sessions_at, w.hosts)[host]
    row.strained = np.int32(host_table(w.host_at, w.hosts)[host].strained > 0)
    w.lanes_size = size + 1


@compiled(of_world(4))
def log_action(w, host, t, action, cause):
    """Log an action on a host, and its cause."""
    if w.record == 0:
        return
    size = w.actions_size
    if size >= w.actions_room:
        _log_is_full(w, t)
        return
    row = action_table(w.action_at, w.actions_room)[size]
    row.time = t
    row.host = host
    row.action = action
    row.cause = cause
    w.actions_size = size + 1
