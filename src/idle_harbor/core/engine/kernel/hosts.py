"""The life of a host: actions of the policy are carried out, and begun operations complete."""

from __future__ import annotations

import numpy as np
from numba import types

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.records import ints, longs
from idle_harbor.core.engine.kernel.codes import (
    ABSENT,
    CREATING,
    DRAINING,
    L_ACTIVE,
    L_CREATING,
    L_DISCONNECTED,
    L_DRAINING,
    L_IDLE,
    L_ON_DRAINING,
    L_QUEUED,
    L_READY,
    L_RESETTING,
    L_STANDING,
    L_STARTING,
    L_WAITING,
    OFF,
    READY,
    RESETTING,
    SHORT_OF_DRAWS,
    STARTING,
    STOPPING,
    Action,
    Cause,
)
from idle_harbor.core.engine.kernel.credits import credits_begin, credits_end, credits_spent
from idle_harbor.core.engine.kernel.drill_rows import after
from idle_harbor.core.engine.kernel.host_states import (
    absent_or_off,
    begin,
    expect,
    reached,
    run_ends,
    set_host_state,
)
from idle_harbor.core.engine.kernel.looks import note_look
from idle_harbor.core.engine.kernel.notice_rows import give_notice
from idle_harbor.core.engine.kernel.record import log_action, log_lane
from idle_harbor.core.engine.kernel.shared import quota_allows, silent_hosts
from idle_harbor.core.engine.kernel.signals import log_loads, tell_signals
from idle_harbor.core.engine.kernel.starts import (
    SILENT,
    SPEAKS,
    granted,
    next_starts,
    start_or_queue,
)
from idle_harbor.core.engine.kernel.world import of_world, power_table
from idle_harbor.core.policy.decide import decide
from idle_harbor.core.policy.view import NOBODY, row_table, settings_table

_START, _UNDRAIN, _DRAIN = int(Action.START), int(Action.UNDRAIN), int(Action.DRAIN)
_CREATE, _RESET = int(Action.CREATE), int(Action.RESET)
_NOTICE = int(Action.NOTICE)
_HORIZON, _CLEANED = int(Cause.HORIZON), int(Cause.CLEANED)
_FAIL, _FAILED_START = int(Action.FAIL), int(Cause.FAILED_START)
#: Start of a run before the counted horizon: its part inside is billed without rounding.
_BEFORE_HORIZON = -1


@compiled()
def _is_overdue(w, host):
    row = power_table(w.power_at, w.hosts)[host]
    row.late = -1
    row.overdue = 1
    w.overdue += 1


@compiled()
def _is_ready(w, host, t):
    set_host_state(w, host, READY, t)
    credits_begin(w, host, t)
    reached(w, host)


@compiled()
def _is_off(w, host, t):
    """Turn a host off; a surge host stays off for a while before it is removed."""
    if host >= w.standing and w.stays_off > 0 and w.throwaway == 0:
        begin(w, host, OFF, t, w.stays_off)
    else:
        set_host_state(w, host, absent_or_off(w, host), t)
    run_ends(w, host, t)


@compiled()
def _has_started(w, host, t):
    """Complete a start: the host is ready, or the start has failed, or the agent does not
    register."""
    row = power_table(w.power_at, w.hosts)[host]
    if row.fails != 0:
        row.fails = 0
        reached(w, host)
        _is_off(w, host, t)
        log_action(w, host, t, _FAIL, _FAILED_START)
    elif row.silent == SPEAKS:
        _is_ready(w, host, t)
    else:
        row.silent = SILENT
        silent_hosts(w, np.int64(1))
    next_starts(w, t)


@compiled()
def agent_registers(w, host, t):
    """Let the agent of a host register; a host that only waited for that is ready."""
    row = power_table(w.power_at, w.hosts)[host]
    if row.silent == SILENT:
        silent_hosts(w, np.int64(-1))
        _is_ready(w, host, t)
    row.silent = SPEAKS


@compiled()
def _create(w, host, t):
    row = power_table(w.power_at, w.hosts)[host]
    ordinal = np.int64(row.creation)
    if ordinal >= w.ordinals:
        w.short |= SHORT_OF_DRAWS
        return
    row.creation = ordinal + 1
    draw = ints(w.create_at, w.ordinals * w.hosts)[ordinal * w.hosts + host]
    begin(w, host, CREATING, t, draw)


@compiled()
def gives_back(w, host, t):
    """Return whether an operation completes at ``t`` that may take shared limits or give them
    back."""
    if power_table(w.power_at, w.hosts)[host].due != t:
        return False
    state = longs(w.state_at, w.hosts)[host]
    return state == STARTING or state == CREATING or state == STOPPING


@compiled()
def host_completes(w, host, t):
    """Complete an operation of a host, or let the policy count the host.

    A host is overdue at a second at which it has not come. A host whose creation completes in that
    very second may have to wait for its start, and is then no longer expected.
    """
    row = power_table(w.power_at, w.hosts)[host]
    if row.point == t:
        reached(w, host)
    credits_spent(w, host, t)
    if row.due == t:
        row.due = -1
        _is_over(w, host, t)
    if row.grant == t:
        granted(w, host, t)
    if row.late == t:
        _is_overdue(w, host)


@compiled()
def _is_over(w, host, t):
    """Complete the operation of a host."""
    state = longs(w.state_at, w.hosts)[host]
    if state == STARTING:
        _has_started(w, host, t)
    elif state == CREATING:
        start_or_queue(w, host, t)
    elif state == RESETTING:
        set_host_state(w, host, READY, t)
    elif state == OFF:
        set_host_state(w, host, ABSENT, t)
    else:
        _is_off(w, host, t)
        if w.quota >= 0:
            next_starts(w, t)
        # A person may wait for this host.
        w.serve = np.int64(w.serve != 0 or w.dedicated != 0)


@compiled()
def begin_reset(w, host, t):
    """Begin the reset of a host whose last session has ended."""
    begin(w, host, RESETTING, t, w.reset)
    log_action(w, host, t, _RESET, _CLEANED)


@compiled(of_world(3))
def host_falls(w, host, new, t):
    """Remove a host at once, in any state; its sessions are ended next."""
    state = longs(w.state_at, w.hosts)[host]
    row = power_table(w.power_at, w.hosts)[host]
    running = state == STARTING or state == STOPPING or state == RESETTING
    if running or state == READY or state == DRAINING:
        run_ends(w, host, t)
    row.due = -1
    reached(w, host)
    silent_hosts(w, -np.int64(row.silent == SILENT))
    row.silent = SPEAKS
    credits_end(w, host)
    set_host_state(w, host, new, t)
    if state == STARTING or w.quota >= 0:
        next_starts(w, t)


@compiled()
def carry_out(w, host, action, t):
    """Carry out one action of the policy on a host."""
    if action == _START:
        # A surge host that is off is not removed.
        power_table(w.power_at, w.hosts)[host].due = -1
        expect(w, host, t + w.overdue_start)
        start_or_queue(w, host, t)
    elif action == _CREATE:
        expect(w, host, t + w.overdue_create)
        _create(w, host, t)
    elif action == _UNDRAIN:
        unclean = w.reset > 0 and longs(w.sessions_at, w.hosts)[host] == 0
        if unclean:
            begin_reset(w, host, t)
        else:
            set_host_state(w, host, READY, t)
    elif action == _DRAIN:
        set_host_state(w, host, DRAINING, t)
    elif action == _NOTICE:
        set_host_state(w, host, DRAINING, t)
        give_notice(w, host, t)
    else:
        credits_end(w, host)
        begin(w, host, STOPPING, t, w.stop_seconds)


@compiled()
def _tell(w, t, knocking):
    """Update the view of the policy."""
    level = w.level
    seen = w.seen
    seen.now = t
    seen.ready = np.int64(level[L_READY])
    coming = level[L_STARTING] + level[L_QUEUED] + level[L_CREATING] + level[L_RESETTING]
    seen.coming = np.int64(coming)
    seen.draining = np.int64(level[L_DRAINING])
    seen.overdue = w.overdue
    seen.on_draining = np.int64(level[L_ON_DRAINING])
    held = level[L_ACTIVE] + level[L_IDLE] + level[L_DISCONNECTED]
    seen.on_ready = np.int64(held) - seen.on_draining
    seen.waiting = np.int64(level[L_WAITING])
    seen.knocking = knocking
    if w.watched > 0 and knocking == NOBODY:
        tell_signals(w)


@compiled(of_world(2, types.int64), inline=True)
def _decided(w, t, knocking):
    """Let the policy decide, and return the number of rows of actions."""
    _tell(w, t, knocking)
    count = decide(w.seen, settings_table(w.edge_at, w.edges)[w.edge])
    if w.looks_room > 0:
        note_look(w, count)
    return count


@compiled()
def _carried_out(w, t, count):
    rows = row_table(w.rows_at, w.hosts)
    for k in range(count):
        row = rows[k]
        carry_out(w, row.host, row.action, t)
        log_action(w, row.host, t, row.action, row.cause)


@compiled(of_world(2))
def look_for(w, t, knocking):
    """Let the policy look for a knock, and carry out its actions."""
    _carried_out(w, t, _decided(w, t, knocking))


@compiled()
def _takes(w, count):
    """Return whether decided actions take shared limits."""
    rows = row_table(w.rows_at, w.hosts)
    for k in range(count):
        if rows[k].action == _START:
            return True
    return False


@compiled(of_world(1, types.boolean))
def look(w, t):
    """Let the policy look at a tick, and carry out its actions.

    Returns False if that has to wait for the other pools of the estate; the next call then carries
    out the actions that are already decided.
    """
    if w.decided == 0:
        w.decided = 1 + _decided(w, t, np.int64(NOBODY))
    count = w.decided - 1
    if t > w.granted and _takes(w, count):
        return False
    w.decided = 0
    _carried_out(w, t, count)
    if w.watched > 0:
        log_loads(w)
    return True


@compiled()
def open_horizon(w):
    """Make the hosts ready that the policy asks for in an empty pool.

    A pool before its first date has none.
    """
    settings = settings_table(w.edge_at, w.edges)[0]
    w.exists = settings.exists
    w.level[L_STANDING] = w.standing * settings.exists
    w.next_drill = after(w, np.int64(-1))
    states = longs(w.state_at, w.hosts)
    for host in range(w.hosts):
        states[host] = ABSENT if settings.exists == 0 else absent_or_off(w, host)
    _tell(w, np.int64(0), np.int64(NOBODY))
    count = decide(w.seen, settings)
    if w.looks_room > 0:
        note_look(w, count)
    rows = row_table(w.rows_at, w.hosts)
    at = 0
    for host in range(w.hosts):
        if at < count and rows[at].host == host:
            at += 1
            if not quota_allows(w):
                start_or_queue(w, np.int64(host), np.int64(0))
                continue
            power_table(w.power_at, w.hosts)[host].run_start = _BEFORE_HORIZON
            set_host_state(w, host, READY, 0)
            credits_begin(w, host, 0)
            log_action(w, host, 0, _START, _HORIZON)
        else:
            log_lane(w, host, 0)
