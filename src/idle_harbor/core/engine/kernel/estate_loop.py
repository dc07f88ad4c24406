"""The event loop over pools that share limits: each runs ahead as far as the others allow."""

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
    """Note lower bounds on when a pool next takes or gives back what is shared.

    ``following`` bounds both; ``gives`` bounds what it gives back. While hosts of the pool wait for
    a start, its bounds depend on its hosts alone, not on what people do. While hosts of other pools
    wait for a limit, that limit is used up. No further start can take from it, so this pool can
    give back only its present part.
    """
    acts = gives = min(next_change(w), w.end)
    acts = min(acts, w.next_tick)
    if w.quota >= 0:
        # A host that the policy stops at the next tick is off after that.
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
    # Nothing happens before its next event. This also guarantees that each turn makes progress.
    acts = max(acts, following)
    queued = w.level[L_QUEUED] > 0
    member.following = member.offset + (acts if queued else following)
    member.gives = max(member.offset + gives, member.following)


@compiled(inline=True)
def _go_on(estate, members, whose):
    """Run a pool as far as the others allow, and note its bounds."""
    member = members[whose]
    w = world_at(member.world_at)
    granted, ahead = np.int64(FAR), np.int64(FAR)
    for k in range(estate.members):
        if k != whose:
            # Within a second the pools run in their order.
            granted = min(granted, members[k].following + np.int64(whose < k) - 1)
            ahead = min(ahead, members[k].gives)
    w.granted = granted - member.offset
    w.pause = estate.pause - member.offset
    if w.knocks != 0:
        w.pause = min(w.pause, w.granted + 1)
    elif w.level[L_QUEUED] > 0:
        # It is this pool's turn for one second; after it, another pool may give it a start.
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
    """Run all pools of the estate at an address until its ``pause``, or until it is ``done``.

    What people do in one pool does not matter to the others. The pool with the earliest bound
    changes the shared limits, and then runs ahead until it would change them again. So shared
    limits change in the order of seconds, and within a second in the order of the pools. A pool
    with hosts that wait for a start stops at the first second at which another pool may give it
    one. A pool in which people start hosts at any second does not run ahead.
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
