"""Starts of hosts: at once, or as soon as the limits of the pool and of its estate allow.

Shared limits go to the host whose start was asked for first. Within a second the order of the pools
decides, then the order in which the policy named the hosts.
"""

from __future__ import annotations

import numpy as np

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.records import ints, longs
from idle_harbor.core.engine.kernel.codes import (
    BOOTED,
    DRILL_MUTES,
    E_HOST,
    FAR,
    L_QUEUED,
    L_STARTING,
    POWERED,
    QUEUED,
    SHORT_OF_DRAWS,
    SHORT_OF_STARTS,
    STARTING,
)
from idle_harbor.core.engine.kernel.drill_rows import drilled
from idle_harbor.core.engine.kernel.heap import heap_push
from idle_harbor.core.engine.kernel.host_states import begin, expect, reached, set_host_state
from idle_harbor.core.engine.kernel.shared import (
    estate_at,
    member_table,
    quota_allows,
    reserve_shared,
    throttle_allows,
)
from idle_harbor.core.engine.kernel.world import of_world, power_table, world_at

#: Agents of hosts: the agent registers; it will not once the host has started; it has not.
SPEAKS, WILL_BE_SILENT, SILENT = range(3)


@compiled()
def _power_on(w, host, t):
    """Begin a start with the host's next draw."""
    row = power_table(w.power_at, w.hosts)[host]
    ordinal = np.int64(row.ordinal)
    if ordinal >= w.ordinals:
        w.short |= SHORT_OF_DRAWS
        return
    row.ordinal = ordinal + 1
    row.run_start = t
    draw = ints(w.draw_at, w.ordinals * w.hosts)[ordinal * w.hosts + host]
    # A failed start has a negative draw.
    row.fails = np.int64(draw < 0)
    draw = abs(draw)
    begin(w, host, STARTING, t, draw)
    row.silent = WILL_BE_SILENT if drilled(w, np.int64(DRILL_MUTES), host, t) else SPEAKS
    if w.counts_from == POWERED:
        reached(w, host)
    elif w.counts_from == BOOTED:
        row.point = t + np.int64(np.rint(w.booted_share * draw))
        heap_push(w, np.int64(row.point), E_HOST, host)


@compiled()
def may_start(w):
    """Return whether one more host of the pool may start now."""
    own = w.parallel == 0 or w.level[L_STARTING] - w.silent + w.grants < w.parallel
    return own and throttle_allows(w) and quota_allows(w)


@compiled()
def start_or_queue(w, host, t):
    """Start a host, or put it in the queue for starts; a queued host is not expected."""
    if may_start(w):
        _power_on(w, host, t)
        return
    if w.starts_tail - w.starts_head >= w.starts_room:
        w.short |= SHORT_OF_STARTS
        return
    set_host_state(w, host, QUEUED, t)
    if w.estate_at != 0:
        # Noted now: later the pool may be behind others, or ahead of them.
        w.quota_short = np.int64(not quota_allows(w))
        # Another pool may grant the start from the next second on.
        w.pause = min(w.pause, t + 1)
    row = power_table(w.power_at, w.hosts)[host]
    row.late = -1
    row.asked = t
    row.ticket = w.starts_tail
    ints(w.starts_at, w.starts_room)[w.starts_tail % w.starts_room] = host
    w.starts_tail += 1


@compiled()
def _first_queued(w):
    """Return the host of the pool that has waited longest for its start, or -1.

    Dropped are entries of hosts that no longer wait, or that have asked again since.
    """
    queue = ints(w.starts_at, w.starts_room)
    states = longs(w.state_at, w.hosts)
    rows = power_table(w.power_at, w.hosts)
    while w.starts_head < w.starts_tail:
        host = np.int64(queue[w.starts_head % w.starts_room])
        if states[host] == QUEUED and rows[host].ticket == w.starts_head:
            return host
        w.starts_head += 1
    return np.int64(-1)


@compiled(of_world(2))
def _start_queued(w, host, t):
    """Start a host that has waited for its start."""
    expect(w, host, t + w.overdue_start)
    _power_on(w, host, t)


@compiled()
def _starts_of_estate(w, t):
    """Begin, or grant, all starts that the limits of the estate allow now."""
    estate = estate_at(w.estate_at)
    members = member_table(estate.member_at, estate.members)
    now = t + members[w.member].offset
    while estate.short == 0 and w.short == 0:
        first, asked, whose = np.int64(-1), np.int64(FAR), np.int64(-1)
        for k in range(estate.members):
            other = world_at(members[k].world_at)
            if now - members[k].offset >= other.end:
                continue
            host = _first_queued(other)
            if host < 0 or not may_start(other):
                continue
            at = np.int64(power_table(other.power_at, other.hosts)[host].asked) + members[k].offset
            if at < asked:
                first, asked, whose = host, at, k
        if whose < 0:
            return
        other = world_at(members[whose].world_at)
        other.starts_head += 1
        if whose == w.member:
            _start_queued(w, first, t)
            continue
        # The other pool may be behind: it starts the host when it reaches this second.
        then = now - members[whose].offset
        power_table(other.power_at, other.hosts)[first].grant = then
        heap_push(other, then, E_HOST, first)
        reserve_shared(other, np.int64(1))
        estate.short |= other.short
        members[whose].following = members[whose].gives = now
        w.granted = t
        if w.knocks != 0 or w.level[L_QUEUED] > 0:
            w.pause = t + 1


@compiled(of_world(1))
def next_starts(w, t):
    """Begin the starts that the limits allow now, the longest waiting first."""
    if w.estate_at != 0:
        _starts_of_estate(w, t)
    elif w.parallel > 0:
        host = _first_queued(w)
        while host >= 0 and may_start(w):
            w.starts_head += 1
            _start_queued(w, host, t)
            host = _first_queued(w)


@compiled()
def granted(w, host, t):
    """Begin a start that another pool has made possible, if the host still waits for it."""
    power_table(w.power_at, w.hosts)[host].grant = -1
    reserve_shared(w, np.int64(-1))
    if longs(w.state_at, w.hosts)[host] == QUEUED:
        _start_queued(w, host, t)
    else:
        next_starts(w, t)
