"""Drills, and the first and last date of a pool."""

from __future__ import annotations

import numpy as np

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.records import longs
from idle_harbor.core.engine.kernel.codes import (
    ABSENT,
    DRILL_FAILS,
    DRILL_MUTES,
    FAILED,
    L_STANDING,
    L_WAITING,
    NONE,
    RETURN_FAILED,
    RETURN_FORCED,
    WAITING,
    Action,
    Cause,
)
from idle_harbor.core.engine.kernel.drill_rows import after, drilled
from idle_harbor.core.engine.kernel.host_states import absent_or_off, set_host_state
from idle_harbor.core.engine.kernel.hosts import agent_registers, host_falls
from idle_harbor.core.engine.kernel.record import log_action
from idle_harbor.core.engine.kernel.sessions import ask_again, refuse, throw_out
from idle_harbor.core.engine.kernel.world import person_table

_FAIL, _REPAIR, _STOP = int(Action.FAIL), int(Action.REPAIR), int(Action.STOP)
_DRILL, _LAST_DATE = int(Cause.DRILL), int(Cause.LAST_DATE)


@compiled()
def _failures_begin(w, t):
    """Let hosts fail: their sessions end, and people at work ask for a logon again at once.

    Nothing happens outside the pool's dates.
    """
    if w.exists == 0:
        return
    people = person_table(w.person_at, w.people)
    states = longs(w.state_at, w.hosts)
    for host in range(w.hosts):
        if states[host] != FAILED and drilled(w, np.int64(DRILL_FAILS), host, t):
            host_falls(w, host, FAILED, t)
            log_action(w, host, t, _FAIL, _DRILL)
    for person in range(w.people):
        state = people[person].state
        if state == NONE or state == WAITING or states[people[person].host] != FAILED:
            continue
        if throw_out(w, person, t, RETURN_FAILED):
            ask_again(w, person, t, np.int64(RETURN_FAILED))


@compiled()
def _failures_end(w, t):
    """Repair hosts that no drill holds any more (off, or absent if they are created), and let
    agents register."""
    states = longs(w.state_at, w.hosts)
    for host in range(w.hosts):
        if states[host] == FAILED and not drilled(w, np.int64(DRILL_FAILS), host, t):
            set_host_state(w, host, absent_or_off(w, host), t)
            log_action(w, host, t, _REPAIR, _DRILL)
        if not drilled(w, np.int64(DRILL_MUTES), host, t):
            agent_registers(w, host, t)
    w.serve = np.int64(w.serve != 0 or w.dedicated != 0)


@compiled()
def drills_change(w, t):
    """Handle a second at which drills begin or end."""
    w.next_drill = after(w, t)
    _failures_end(w, t)
    _failures_begin(w, t)


@compiled()
def pool_begins(w, t):
    """Handle the pool's first date: its standing hosts exist from now on."""
    w.exists = 1
    w.level[L_STANDING] = w.standing
    for host in range(w.hosts):
        set_host_state(w, host, absent_or_off(w, host), t)


@compiled()
def pool_ends(w, t):
    """Handle the end of the pool's last date: everyone is signed off and all hosts are gone."""
    w.exists = 0
    w.level[L_STANDING] = 0.0
    people = person_table(w.person_at, w.people)
    states = longs(w.state_at, w.hosts)
    for host in range(w.hosts):
        if states[host] != ABSENT:
            host_falls(w, host, ABSENT, t)
            log_action(w, host, t, _STOP, _LAST_DATE)
    for person in range(w.people):
        state = people[person].state
        if state == WAITING:
            w.level[L_WAITING] -= 1.0
            refuse(w, person)
        elif state != NONE:
            throw_out(w, person, t, RETURN_FORCED)
