"""Signals of load rules: summed between two looks, passed to the policy, and logged.

CPU and memory wanted on ready hosts change with sessions and hosts; all other signals are levels or
follow from levels. A run without load rules does none of this.
"""

from __future__ import annotations

import numpy as np
from numba import types

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.records import longs, reals
from idle_harbor.core.engine.kernel.codes import (
    L_ALL,
    L_ON_DRAINING,
    L_READY,
    L_STRAINED,
    L_WORKING,
    LEVELS,
    READY,
    SIGNAL_CPU,
    SIGNAL_FREE,
    SIGNAL_LEVEL,
    SIGNAL_LOGON,
    SIGNAL_MEMORY,
    SIGNAL_PER_HOST,
    SIGNAL_SLOTS,
    SIGNAL_STRAINED,
)
from idle_harbor.core.engine.kernel.world import (
    bin_table,
    host_table,
    load_table,
    of_world,
    signal_table,
)
from idle_harbor.core.policy.view import rule_table, settings_table

#: Tolerance for rounding in sums of level-seconds.
DUST = 1e-6


@compiled(of_world(3))
def watch_draw(w, host, cpu, memory):
    """Add a change of a session's load on a host."""
    if longs(w.state_at, w.hosts)[host] == READY:
        w.cpu_ready += np.float64(cpu)
        w.memory_ready += np.float64(memory)


@compiled(of_world(2))
def watch_host(w, host, sign):
    """Note that a host is ready from now on (1), or no longer (-1)."""
    row = host_table(w.host_at, w.hosts)[host]
    w.cpu_ready += np.float64(sign * row.cpu)
    w.memory_ready += np.float64(sign * row.memory)


@compiled(of_world(1), inline=True)
def watch_logon(w, seconds):
    """Note a logon that took so many seconds."""
    w.logons_done += 1.0
    w.logon_seconds += np.float64(seconds)


@compiled(inline=True)
def add_up_signals(w, everyone, span):
    """Integrate the signals that have no bin of their own, over a time span."""
    level = w.level
    ready = level[L_READY]
    if ready > 0.0:
        slots = ready * np.float64(settings_table(w.edge_at, w.edges)[w.edge].limit)
        w.cpu_area += w.cpu_ready * span
        w.memory_area += w.memory_ready * span
        w.slots_area += slots * span
        w.free_area += max(slots - everyone + level[L_ON_DRAINING], 0.0) * span
        w.some_ready += span


@compiled(of_world(1, types.float64))
def _since(w, level):
    """Return the level-seconds since the last look."""
    bins = bin_table(w.bin_at, w.bins)
    total = -reals(w.looked_at, LEVELS)[level]
    for each in range(w.look_bin, w.bin + 1):
        total += bins[each].sum[level]
    return total


@compiled()
def _value(w, row):
    """Return the value of a signal since the last look; NaN if it has none."""
    area, weight = 0.0, 0.0
    if row.kind == SIGNAL_LEVEL:
        area, weight = _since(w, row.level), np.float64(w.now - w.last_look)
    elif row.kind == SIGNAL_CPU:
        area, weight = w.cpu_area, _since(w, L_READY) * w.cpu_capacity
    elif row.kind == SIGNAL_MEMORY:
        area, weight = w.memory_area, _since(w, L_READY) * w.memory_capacity
    elif row.kind == SIGNAL_SLOTS:
        area, weight = _since(w, L_ALL) - _since(w, L_ON_DRAINING), w.slots_area
    elif row.kind == SIGNAL_PER_HOST:
        area, weight = _since(w, L_ALL) - _since(w, L_ON_DRAINING), _since(w, L_READY)
    elif row.kind == SIGNAL_STRAINED:
        area, weight = _since(w, L_STRAINED), _since(w, L_WORKING)
    elif row.kind == SIGNAL_FREE:
        area, weight = w.free_area, w.some_ready
    elif row.kind == SIGNAL_LOGON:
        area, weight = w.logon_seconds, w.logons_done
    # The rounding error of a level that is 0 again is no weight.
    return area / weight if weight > DUST else np.nan


@compiled()
def tell_signals(w):
    """Pass the signals to the policy, and start new sums."""
    signals = signal_table(w.signal_at, w.watched)
    rules = rule_table(w.seen.rule_at, w.watched)
    for k in range(w.watched):
        rules[k].value = _value(w, signals[k]) if w.now > 0 else np.nan
    w.cpu_area = w.memory_area = w.slots_area = w.free_area = w.some_ready = 0.0
    w.logons_done = w.logon_seconds = 0.0
    w.last_look = w.now
    w.look_bin = w.bin
    looked = reals(w.looked_at, LEVELS)
    for level in range(LEVELS):
        looked[level] = bin_table(w.bin_at, w.bins)[w.bin].sum[level]


@compiled()
def log_loads(w):
    """Log signals and extra hosts at this look: one row per tick, also outside the pool's dates."""
    rules = rule_table(w.seen.rule_at, w.watched)
    rows = load_table(w.load_at, w.loads_room)
    tick = w.seen.now // w.tick - 1
    for k in range(w.watched):
        row = rows[tick * w.watched + k]
        row.value = rules[k].value
        row.extra = rules[k].extra
        row.change = rules[k].change
