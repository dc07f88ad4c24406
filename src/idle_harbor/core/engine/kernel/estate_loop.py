"""The loop over pools that share limits: each goes on as far as the others allow."""

from __future__ import annotations

import numpy as np
from numba import types

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.records import longs
from idle_harbor.core.engine.kernel.codes import (
    CREATING,
    FAR,
    L_QUEUED,
    STARTING,
    STOPPING,
)
from idle_harbor.core.engine.kernel.loop import advance, next_change
from idle_harbor.core.engine.kernel.shared import estate_at, leave_shared, member_table
from idle_harbor.core.engine.kernel.starts import next_starts
from idle_harbor.core.engine.kernel.world import power_table, world_at


@compiled(inline=True)
def _note_bounds(w, member, following):
    """Note the seconds before which a pool neither takes nor gives what is shared, and before which
    it gives nothing. It goes on at ``following``; while hosts wait for a start, that is bounded by
    what it does with hosts, whatever people do.

    While others wait, none of what they lack is left: the pool can only give what it holds now.
    """
    acts = gives = min(next_change(w), w.end)
    acts = min(acts, w.next_tick)
    if w.quota >= 0:
        # What the policy stops then is off later.
        gives = min(gives, w.next_tick + w.stop_seconds)
    rows = power_table(w.power_at, w.hosts)
    states = longs(w.state_at, w.hosts)
    for host in range(w.hosts):
        due, state = np.int64(rows[host].due), states[host]
        if due >= 0 and (state == STARTING or state == STOPPING):
            gives = min(gives, due)
            acts = min(acts, due)
        elif due >= 0 and state == CREATING:
            acts = min(acts, due)
        elif rows[host].grant >= 0:
            gives = min(gives, np.int64(rows[host].grant))
            acts = min(acts, gives)
    queued = w.level[L_QUEUED] > 0
    member.following = member.offset + (acts if queued else following)
    member.gives = max(member.offset + gives, member.following)


@compiled(inline=True)
def _go_on(estate, members, whose):
    """Let a pool go on as far as the others allow."""
    member = members[whose]
    w = world_at(member.world_at)
    granted, ahead = np.int64(FAR), np.int64(FAR)
    for k in range(estate.members):
        if k != whose:
            # In one second the pools go on in their order.
            granted = min(granted, members[k].following + np.int64(whose < k) - 1)
            ahead = min(ahead, members[k].gives)
    w.granted = granted - member.offset
    w.pause = estate.pause - member.offset
    if w.knocks != 0:
        w.pause = min(w.pause, w.granted + 1)
    elif w.level[L_QUEUED] > 0:
        # The second at which it is its turn; later ones up to where it may be given a start.
        w.pause = min(w.pause, max(member.following + 1, ahead) - member.offset)
    following = advance(w)
    estate.short |= w.short
    if w.done != 0:
        member.following = member.gives = FAR
        leave_shared(w)
        next_starts(w, w.end)
    elif w.knocks != 0 or estate.queued == 0:
        member.following = member.gives = member.offset + following
    else:
        _note_bounds(w, member, following)


@compiled(types.void(types.int64), entry=True)
def run_estate_loop(address: int) -> None:
    """Run all pools of the estate at an address on until its ``pause``, or until it is ``done``.

    What people do in one pool means nothing to the others. Whichever pool is to take or give next
    what is shared does so, and runs ahead until it would again: it is taken and given in the order
    of the seconds, in one second in the order of the pools. A pool whose hosts wait for a start
    runs ahead no further than to where others may give it one; one whose hosts people start at any
    second does not run ahead at all.
    """
    estate = estate_at(address)
    members = member_table(estate.member_at, estate.members)
    while estate.short == 0:
        whose, soonest = np.int64(-1), np.int64(FAR)
        for k in range(estate.members):
            if members[k].following < soonest:
                whose, soonest = np.int64(k), members[k].following
        if whose < 0:
            estate.done = 1
            return
        if soonest >= estate.pause:
            return
        _go_on(estate, members, whose)
