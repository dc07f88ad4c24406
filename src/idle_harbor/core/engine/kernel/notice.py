"""Drain with notice: who is on a host that begins to drain so is told, and signed off by force when
the notice is over.

A session that is not in one of the chosen states then is spared, and so is one that somebody comes
back to meanwhile, unless everyone is signed off; it gets a new notice when it comes to such a state
again.
"""

from __future__ import annotations

import numpy as np
from numba import types

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.engine.kernel.codes import (
    DISCONNECTED,
    E_TIMER,
    IDLE,
    NONE,
    RETURN_FORCED,
    WAITING,
)
from idle_harbor.core.engine.kernel.heap import heap_push
from idle_harbor.core.engine.kernel.sessions import ask_again, throw_out
from idle_harbor.core.engine.kernel.world import of_world, person_table, power_table
from idle_harbor.core.policy.view import EVERYONE, IDLE_TOO

_FORCED = np.int64(RETURN_FORCED)


@compiled(types.boolean(types.int64, types.int64), inline=True)
def _chosen(whose, state):
    """Whether a session in that state is signed off."""
    if state == DISCONNECTED or whose == EVERYONE:
        return True
    return state == IDLE and whose == IDLE_TOO


@compiled(of_world(3), inline=True)
def _tell(w, person, t, seconds):
    person_table(w.person_at, w.people)[person].notice = t + seconds
    heap_push(w, t + seconds, E_TIMER, person)


@compiled()
def tell(w, t):
    """Tell whoever is on a host that has begun to drain with notice at ``t``."""
    w.to_tell = 0
    people = person_table(w.person_at, w.people)
    power = power_table(w.power_at, w.hosts)
    for person in range(w.people):
        state = people[person].state
        if state == NONE or state == WAITING:
            continue
        row = power[people[person].host]
        if row.notice > 0 and row.told == t:
            _tell(w, np.int64(person), t, np.int64(row.notice))


@compiled(of_world(3))
def tell_who_left(w, person, host, t):
    """A session becomes idle or disconnected: where its host drains with notice and it is under
    none, it gets one."""
    row = power_table(w.power_at, w.hosts)[host]
    who = person_table(w.person_at, w.people)[person]
    if row.notice > 0 and who.notice <= row.told and _chosen(np.int64(row.notice_to), who.state):
        _tell(w, person, t, np.int64(row.notice))


@compiled()
def spare(w, person):
    """Somebody comes back to their session: its notice is void, unless everyone is signed off."""
    who = person_table(w.person_at, w.people)[person]
    if power_table(w.power_at, w.hosts)[who.host].notice_to != EVERYONE:
        who.notice = 0


@compiled()
def notice_over(w, person, t):
    """The notice of a session is over; its host may have been taken back meanwhile."""
    who = person_table(w.person_at, w.people)[person]
    who.notice = 0
    state = who.state
    if state == NONE or state == WAITING:
        return
    row = power_table(w.power_at, w.hosts)[who.host]
    if row.notice == 0 or not _chosen(np.int64(row.notice_to), state):
        return
    if throw_out(w, person, t, _FORCED):
        who.again = -1
        if w.again == 0:
            w.again = person + 1
        else:
            person_table(w.person_at, w.people)[w.again_last].again = person
        w.again_last = person


@compiled()
def thrown_out_ask(w, t):
    """Whoever was thrown out at work in this second asks again, as a new arrival does."""
    people = person_table(w.person_at, w.people)
    person = w.again - 1
    w.again = 0
    while person >= 0:
        following = np.int64(people[person].again)
        ask_again(w, person, t, _FORCED)
        person = following
