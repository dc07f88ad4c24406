"""The life of a host: what the policy asks for is carried out here, and what was begun ends."""

from __future__ import annotations

import numpy as np

from idle_harbor.core.compiled import compiled
from idle_harbor.core.kernel.codes import (
    DRAINING,
    E_HOST,
    L_ACTIVE,
    L_DISCONNECTED,
    L_DRAINING,
    L_IDLE,
    L_ON_DRAINING,
    L_READY,
    L_STARTING,
    L_STOPPING,
    L_WAITING,
    OFF,
    READY,
    SHORT_OF_DRAWS,
    STARTING,
    STOPPING,
    Action,
    Cause,
)
from idle_harbor.core.kernel.heap import heap_push
from idle_harbor.core.kernel.record import log_action, log_lane
from idle_harbor.core.kernel.rooms import room_add, room_remove
from idle_harbor.core.kernel.world import edge_table, ints, longs, power_table
from idle_harbor.core.policy import (
    N_COUNTS,
    N_DRAINING,
    N_ON_DRAINING,
    N_ON_READY,
    N_READY,
    N_STARTING,
    decide,
    decide_dedicated,
    wanted_hosts,
)

_START, _UNDRAIN, _DRAIN = int(Action.START), int(Action.UNDRAIN), int(Action.DRAIN)
_HORIZON = int(Cause.HORIZON)
_LEVEL_OF = np.array([-1, L_STARTING, L_READY, L_DRAINING, L_STOPPING])
#: A run that began before the counted horizon is billed for its part inside, unrounded.
_BEFORE_HORIZON = -1


@compiled()
def _set_host_state(w, host, new, t):
    states = longs(w.state_at, w.hosts)
    old = states[host]
    states[host] = new
    if _LEVEL_OF[old] >= 0:
        w.level[_LEVEL_OF[old]] -= 1.0
    if _LEVEL_OF[new] >= 0:
        w.level[_LEVEL_OF[new]] += 1.0
    held = longs(w.sessions_at, w.hosts)[host]
    if held < w.limit:
        if old == READY:
            room_remove(w, host, held)
        if new == READY:
            room_add(w, host, held)
    if new == READY:
        w.serve = 1
    if old == DRAINING:
        w.level[L_ON_DRAINING] -= held
    if new == DRAINING:
        w.level[L_ON_DRAINING] += held
    log_lane(w, host, t)


@compiled()
def _run_ends(w, host, t):
    """Book what billing in steps, with a least run, adds to a run that lies inside."""
    begun = np.int64(power_table(w.power_at, w.hosts)[host].run_start)
    if begun >= w.counted:
        run = t - begun
        steps = (run + w.bill_step - 1) // w.bill_step
        w.rounding += max(steps * w.bill_step, w.bill_minimum) - run


@compiled()
def _begin(w, host, new, t, seconds):
    _set_host_state(w, host, new, t)
    power_table(w.power_at, w.hosts)[host].due = t + seconds
    heap_push(w, t + seconds, E_HOST, host)


@compiled()
def host_completes(w, host, t):
    """A start or a stop that was begun is over."""
    row = power_table(w.power_at, w.hosts)[host]
    if row.due != t:
        return
    row.due = -1
    if longs(w.state_at, w.hosts)[host] == STARTING:
        _set_host_state(w, host, READY, t)
    else:
        _set_host_state(w, host, OFF, t)
        _run_ends(w, host, t)
        # Somebody may wait for this very host.
        w.serve = np.int64(w.serve != 0 or w.dedicated != 0)


@compiled()
def carry_out(w, host, action, t):
    """Do to a host what the policy decided."""
    if action == _START:
        row = power_table(w.power_at, w.hosts)[host]
        ordinal = np.int64(row.ordinal)
        if ordinal >= w.ordinals:
            w.short |= SHORT_OF_DRAWS
            return
        row.ordinal = ordinal + 1
        row.run_start = t
        draw = ints(w.draw_at, w.ordinals * w.hosts)[ordinal * w.hosts + host]
        _begin(w, host, STARTING, t, draw)
    elif action == _UNDRAIN:
        _set_host_state(w, host, READY, t)
    elif action == _DRAIN:
        _set_host_state(w, host, DRAINING, t)
    else:
        _begin(w, host, STOPPING, t, w.stop_seconds)


@compiled()
def tick(w, t):
    """Let the policy look, and carry out what it decides."""
    edge = edge_table(w.edge_at, w.edges)[w.edge]
    rows = longs(w.rows_at, 3 * (w.hosts + 1))
    counts = longs(w.counts_at, N_COUNTS)
    counts[N_READY] = np.int64(w.level[L_READY])
    counts[N_STARTING] = np.int64(w.level[L_STARTING])
    counts[N_DRAINING] = np.int64(w.level[L_DRAINING])
    counts[N_ON_DRAINING] = np.int64(w.level[L_ON_DRAINING])
    held = w.level[L_ACTIVE] + w.level[L_IDLE] + w.level[L_DISCONNECTED]
    counts[N_ON_READY] = np.int64(held) - counts[N_ON_DRAINING]
    if w.dedicated != 0:
        count = decide_dedicated(
            longs(w.state_at, w.hosts),
            longs(w.sessions_at, w.hosts),
            ints(w.owner_at, w.hosts),
            longs(w.waits_at, w.hosts),
            edge.floor,
            edge.headroom,
            edge.release,
            rows,
        )
    else:
        count = decide(
            longs(w.state_at, w.hosts),
            longs(w.sessions_at, w.hosts),
            counts,
            np.int64(w.level[L_WAITING]),
            w.limit,
            edge.floor,
            edge.ceiling,
            edge.headroom,
            edge.release,
            rows,
            longs(w.scratch_at, w.hosts + w.limit + 1),
        )
    for k in range(count):
        carry_out(w, rows[3 * k], rows[3 * k + 1], t)
        log_action(w, rows[3 * k], t, rows[3 * k + 1], rows[3 * k + 2])


@compiled()
def open_horizon(w):
    """The hosts that the policy wants for an empty pool are ready at the start."""
    edge = edge_table(w.edge_at, w.edges)[0]
    wanted = wanted_hosts(0, w.limit, edge.floor, edge.ceiling, edge.headroom, w.hosts)
    spare = edge.headroom if w.dedicated != 0 else np.int64(0)
    if w.dedicated != 0:
        wanted = min(np.int64(edge.floor), w.hosts)
    table = power_table(w.power_at, w.hosts)
    owners = ints(w.owner_at, w.hosts)
    for host in range(w.hosts):
        kept = spare > 0 and owners[host] < 0
        spare -= np.int64(kept)
        if host < wanted or kept:
            table[host].run_start = _BEFORE_HORIZON
            _set_host_state(w, host, READY, 0)
            log_action(w, host, 0, _START, _HORIZON)
        else:
            log_lane(w, host, 0)
