"""Load on a host: strain, and logons that share its CPU."""

from __future__ import annotations

import numpy as np

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.engine.kernel.codes import (
    ACTIVE,
    E_LOGON_DONE,
    L_ACTIVE,
    L_DISCONNECTED,
    L_IDLE,
    L_LOGONS,
    L_STRAINED,
    L_WORKING,
    LOGGING_ON,
)
from idle_harbor.core.engine.kernel.heap import heap_push
from idle_harbor.core.engine.kernel.record import log_lane
from idle_harbor.core.engine.kernel.signals import watch_draw
from idle_harbor.core.engine.kernel.spare import spare_refresh
from idle_harbor.core.engine.kernel.wide import (
    cpu_bound,
    cpu_capacity,
    credits_advance,
    credits_predict,
    tell_behind,
    wide_beyond,
    wide_change,
)
from idle_harbor.core.engine.kernel.world import host_table, of_world, person_table, profile_table

#: Seconds of work that count as none: far below one second at any rate.
WORK_DUST = 1e-6

#: The level of each state of a person; -1: none.
_LEVEL_OF = np.array([-1, -1, L_ACTIVE, L_ACTIVE, L_IDLE, L_DISCONNECTED, L_IDLE, L_DISCONNECTED])


@compiled(of_world(2), inline=True)
def _refresh_strain(w, host, t):
    """Update whether a host is strained: P(CPU wanted > bound) is above the tolerance (normal
    approximation), or another resource is beyond its bound.

    All active sessions of a strained host count as strained.
    """
    row = host_table(w.host_at, w.hosts)[host]
    slack = cpu_bound(w, host) - row.cpu
    beyond = slack < 0.0 or slack * slack < w.tolerance_z2 * row.variance
    beyond |= row.memory > w.memory_bound
    if w.wide != 0:
        beyond |= wide_beyond(w, host)
        tell_behind(w, host, beyond)
    before = row.strained
    after = row.active if beyond else np.int32(0)
    if before != after:
        row.strained = after
        w.level[L_STRAINED] += after - before
        if (before > 0) != (after > 0):
            log_lane(w, host, t)


@compiled(inline=True)
def logons_advance(w, host, t):
    """Add the work done per logon up to ``t`` at the present rate."""
    row = host_table(w.host_at, w.hosts)[host]
    if row.logons > 0:
        row.work += row.rate * (t - row.work_time)
        row.work_time = t


@compiled(of_world(2))
def _logons_predict(w, host, t):
    """Set the rate min(1, vCPU / CPU wanted), and the second at which the next logon is done."""
    row = host_table(w.host_at, w.hosts)[host]
    people = person_table(w.person_at, w.people)
    rate = 1.0
    capacity = cpu_capacity(w, host)
    if row.cpu > capacity:
        rate = capacity / row.cpu
    row.rate = rate
    least = people[row.logon_tail].target
    due = t + np.int64(max(np.ceil((least - row.work - WORK_DUST) / rate), 0.0))
    if due != row.next_logon:
        row.next_logon = due
        heap_push(w, due, E_LOGON_DONE, host)


@compiled()
def logon_link(w, person, host, t):
    """Add a person to the host's logons in progress; call before the state changes.

    The list is sorted by completion, the last first. A new logon mostly belongs at the front, and
    the next one to complete is found without a search.
    """
    row = host_table(w.host_at, w.hosts)[host]
    people = person_table(w.person_at, w.people)
    if row.logons == 0:
        row.work = 0.0
        row.work_time = t
        row.next_logon = -1
    else:
        logons_advance(w, host, t)
    who = people[person]
    seconds = profile_table(w.profile_at, w.profiles)[who.profile].logon_seconds
    who.target = row.work + seconds
    before, following = np.int32(-1), row.logon_head
    while following >= 0 and people[following].target > who.target:
        before = following
        following = people[following].following
    who.before, who.following = before, following
    if before >= 0:
        people[before].following = person
    else:
        row.logon_head = person
    if following >= 0:
        people[following].before = person
    else:
        row.logon_tail = person


@compiled()
def logon_unlink(w, person, host):
    """Remove a person from the host's logons in progress."""
    row = host_table(w.host_at, w.hosts)[host]
    people = person_table(w.person_at, w.people)
    following, before = people[person].following, people[person].before
    if before >= 0:
        people[before].following = following
    else:
        row.logon_head = following
    if following >= 0:
        people[following].before = before
    else:
        row.logon_tail = before


@compiled(of_world(2))
def refresh_load(w, host, t):
    """Update what follows from the host's load: credits, strain, the next logon done."""
    if w.bursts != 0:
        credits_predict(w, host, t)
    _refresh_strain(w, host, t)
    if w.spare_leaves > 0:
        spare_refresh(w, host)
    if host_table(w.host_at, w.hosts)[host].logons > 0:
        _logons_predict(w, host, t)


@compiled(of_world(4))
def change_state(w, person, host, new, t):
    """Move a person's session to another state: its load, the levels, strain, logon rate."""
    who = person_table(w.person_at, w.people)[person]
    row = host_table(w.host_at, w.hosts)[host]
    draw = profile_table(w.profile_at, w.profiles)[who.profile]
    old = who.state
    who.state = new
    logons_advance(w, host, t)
    if w.bursts != 0:
        credits_advance(w, host, t)
    if w.wide != 0:
        wide_change(w, person, host, old, new)
    row.cpu += draw.cpu[new] - draw.cpu[old]
    row.variance += draw.variance[new] - draw.variance[old]
    row.memory += draw.memory[new] - draw.memory[old]
    if w.watched > 0:
        watch_draw(w, host, draw.cpu[new] - draw.cpu[old], draw.memory[new] - draw.memory[old])
    level = w.level
    if _LEVEL_OF[old] >= 0:
        level[_LEVEL_OF[old]] -= 1.0
    if _LEVEL_OF[new] >= 0:
        level[_LEVEL_OF[new]] += 1.0
    if old == ACTIVE:
        row.active -= 1
        level[L_WORKING] -= 1.0
    elif old == LOGGING_ON:
        row.logons -= 1
        level[L_LOGONS] -= 1.0
    if new == ACTIVE:
        row.active += 1
        level[L_WORKING] += 1.0
    elif new == LOGGING_ON:
        row.logons += 1
        level[L_LOGONS] += 1.0
    refresh_load(w, host, t)
