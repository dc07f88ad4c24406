"""Drain with notice: people on a draining host are told, and signed off by force after the notice.

A session that is not in one of the chosen states then is spared, and so is one that its person
comes back to meanwhile, unless everyone is signed off. A spared session gets a new notice when it
reaches a chosen state again.
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
    """Return whether a session in that state is signed off."""
    if state == DISCONNECTED or whose == EVERYONE:
        return True
    return state == IDLE and whose == IDLE_TOO


@compiled(of_world(3), inline=True)
def _tell(w, person, t, seconds):
    person_table(w.person_at, w.people)[person].notice = t + seconds
    heap_push(w, t + seconds, E_TIMER, person)


@compiled()
def tell(w, t):
    """Give notice to everyone on hosts that have begun to drain with notice at ``t``."""
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
    """Give notice to a session that becomes idle or disconnected on a host that drains with
    notice."""
    row = power_table(w.power_at, w.hosts)[host]
    who = person_table(w.person_at, w.people)[person]
    if row.notice > 0 and who.notice <= row.told and _chosen(np.int64(row.notice_to), who.state):
        _tell(w, person, t, np.int64(row.notice))


@compiled()
def spare(w, person):
    """Cancel the notice of a person who comes back to their session, unless everyone is signed
    off."""
    who = person_table(w.person_at, w.people)[person]
    if power_table(w.power_at, w.hosts)[who.host].notice_to != EVERYONE:
        who.notice = 0


@compiled()
def notice_over(w, person, t):
    """End the notice of a session; its host may have been undrained meanwhile."""
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
    """Let people who were thrown out at work in this second ask again, like new arrivals."""
    people = person_table(w.person_at, w.people)
    person = w.again - 1
    w.again = 0
    while person >= 0:
        following = np.int64(people[person].again)
        ask_again(w, person, t, _FORCED)
        person = following
