"""States of a host: what changes with a state, and which events follow."""

from __future__ import annotations

import numpy as np

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.records import longs
from idle_harbor.core.engine.kernel.codes import (
    ABSENT,
    DRAINING,
    E_HOST,
    FAILED,
    L_CREATING,
    L_DRAINING,
    L_ON_DRAINING,
    L_QUEUED,
    L_READY,
    L_RESETTING,
    L_STARTING,
    L_STOPPING,
    L_SURGE,
    OFF,
    READY,
    STARTING,
)
from idle_harbor.core.engine.kernel.heap import heap_push
from idle_harbor.core.engine.kernel.record import log_lane
from idle_harbor.core.engine.kernel.rooms import room_add, room_remove
from idle_harbor.core.engine.kernel.shared import take_shared
from idle_harbor.core.engine.kernel.signals import watch_host
from idle_harbor.core.engine.kernel.spare import spare_refresh
from idle_harbor.core.engine.kernel.world import of_world, power_table

_LEVEL_OF = np.array(
    [-1, L_STARTING, L_READY, L_DRAINING, L_STOPPING, L_CREATING, L_RESETTING, L_QUEUED, -1, -1]
)


@compiled(of_world(3))
def set_host_state(w, host, new, t):
    """Move a host to another state, and update levels, sets of hosts with room, shared limits and
    the lane."""
    states = longs(w.state_at, w.hosts)
    old = states[host]
    states[host] = new
    if _LEVEL_OF[old] >= 0:
        w.level[_LEVEL_OF[old]] -= 1.0
    if _LEVEL_OF[new] >= 0:
        w.level[_LEVEL_OF[new]] += 1.0
    if host >= w.standing:
        here = new != ABSENT and new != FAILED
        w.level[L_SURGE] += np.float64(here) - np.float64(old != ABSENT and old != FAILED)
    w.failed += np.int64(new == FAILED) - np.int64(old == FAILED)
    held = longs(w.sessions_at, w.hosts)[host]
    if held < w.limit:
        if old == READY:
            room_remove(w, host, held)
        if new == READY:
            room_add(w, host, held)
    if w.spare_leaves > 0:
        spare_refresh(w, host)
    if w.watched > 0:
        watch_host(w, host, np.int64(new == READY) - np.int64(old == READY))
    if w.estate_at != 0:
        take_shared(w, old, new)
    if new == READY:
        w.serve = 1
        if old == STARTING:
            longs(w.since_at, w.hosts)[host] = t
    if old == DRAINING:
        w.level[L_ON_DRAINING] -= held
        power_table(w.power_at, w.hosts)[host].notice = 0
    if new == DRAINING:
        w.level[L_ON_DRAINING] += held
    log_lane(w, host, t)


@compiled()
def run_ends(w, host, t):
    """Add what billing steps and the least billed run add to a run that began in the counted
    horizon."""
    begun = np.int64(power_table(w.power_at, w.hosts)[host].run_start)
    if begun >= w.counted:
        run = t - begun
        steps = (run + w.bill_step - 1) // w.bill_step
        w.rounding += max(steps * w.bill_step, w.bill_minimum) - run


@compiled(of_world(4))
def begin(w, host, new, t, seconds):
    """Move a host to a state that ends after ``seconds``."""
    set_host_state(w, host, new, t)
    power_table(w.power_at, w.hosts)[host].due = t + seconds
    heap_push(w, t + seconds, E_HOST, host)


@compiled()
def reached(w, host):
    """Note that the policy counts the host from now on, or that the host is gone."""
    row = power_table(w.power_at, w.hosts)[host]
    row.point = row.late = -1
    w.overdue -= row.overdue
    row.overdue = 0


@compiled(of_world(2))
def expect(w, host, t):
    """Note that the host is overdue from second ``t`` on, unless the policy counts it by then."""
    row = power_table(w.power_at, w.hosts)[host]
    if row.overdue == 0:
        row.late = t
        heap_push(w, t, E_HOST, host)


@compiled()
def absent_or_off(w, host):
    """Return the state of a host of that number that is not running: OFF, or ABSENT if it is
    created."""
    return ABSENT if host >= w.standing or w.throwaway != 0 else OFF
