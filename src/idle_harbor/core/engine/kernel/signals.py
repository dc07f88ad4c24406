"""The signals of load rules: added up from look to look, told to the policy, and kept.

CPU and memory wanted on the ready hosts change with sessions and with hosts; everything else is a
level or worked out of levels. Nothing of this is done in a run without load rules.
"""

from __future__ import annotations

import numpy as np

from idle_harbor.core.compiled import compiled
from idle_harbor.core.engine.kernel.codes import (
    L_ALL,
    L_ON_DRAINING,
    L_READY,
    L_STRAINED,
    L_WORKING,
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
from idle_harbor.core.engine.kernel.world import host_table, load_table, of_world, signal_table
from idle_harbor.core.policy.view import rule_table, settings_table
from idle_harbor.core.records import longs


@compiled(of_world(3))
def watch_draw(w, host, cpu, memory):
    """A session on a host draws so much more."""
    if longs(w.state_at, w.hosts)[host] == READY:
        w.cpu_ready += np.float64(cpu)
        w.memory_ready += np.float64(memory)


@compiled(of_world(2))
def watch_host(w, host, sign):
    """A host is ready from now on (1), or no longer (-1)."""
    row = host_table(w.host_at, w.hosts)[host]
    w.cpu_ready += np.float64(sign * row.cpu)
    w.memory_ready += np.float64(sign * row.memory)


@compiled(of_world(1))
def watch_logon(w, seconds):
    """A logon is done that took so long."""
    signals = signal_table(w.signal_at, w.watched)
    for k in range(w.watched):
        if signals[k].kind == SIGNAL_LOGON:
            signals[k].area += np.float64(seconds)
            signals[k].weight += 1.0


@compiled()
def add_up_signals(w, span):
    """Add the signals over so many seconds."""
    signals = signal_table(w.signal_at, w.watched)
    level = w.level
    ready = level[L_READY]
    held = level[L_ALL] - level[L_ON_DRAINING]
    slots = ready * np.float64(settings_table(w.edge_at, w.edges)[w.edge].limit)
    for k in range(w.watched):
        row = signals[k]
        area, weight = 0.0, 0.0
        if row.kind == SIGNAL_LEVEL:
            area, weight = level[row.level], 1.0
        elif row.kind == SIGNAL_CPU:
            area, weight = w.cpu_ready, ready * w.cpu_capacity
        elif row.kind == SIGNAL_MEMORY:
            area, weight = w.memory_ready, ready * w.memory_capacity
        elif row.kind == SIGNAL_SLOTS:
            area, weight = held, slots
        elif row.kind == SIGNAL_PER_HOST:
            area, weight = held, ready
        elif row.kind == SIGNAL_STRAINED:
            area, weight = level[L_STRAINED], level[L_WORKING]
        elif row.kind == SIGNAL_FREE and ready > 0.0:
            area, weight = max(slots - held, 0.0), 1.0
        row.area += area * span
        row.weight += weight * span


@compiled()
def tell_signals(w):
    """Tell the policy what the signals say, and begin anew."""
    signals = signal_table(w.signal_at, w.watched)
    rules = rule_table(w.seen.rule_at, w.watched)
    for k in range(w.watched):
        row = signals[k]
        rules[k].value = row.area / row.weight if row.weight > 0.0 else np.nan
        row.area = row.weight = 0.0


@compiled()
def log_loads(w):
    """Keep what the signals said at this look, and what the rules ask for since: a row for each
    tick, also where there is no pool to look at."""
    rules = rule_table(w.seen.rule_at, w.watched)
    rows = load_table(w.load_at, w.loads_room)
    tick = w.seen.now // w.tick - 1
    for k in range(w.watched):
        row = rows[tick * w.watched + k]
        row.value = rules[k].value
        row.extra = rules[k].extra
        row.change = rules[k].change
