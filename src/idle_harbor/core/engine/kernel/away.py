"""People who leave a session and return to it: ends of spells, timeouts, reconnects."""

from __future__ import annotations

import numpy as np

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.records import bytes_, ints, shorts
from idle_harbor.core.engine.kernel.codes import (
    ACTIVE,
    DISCONNECT,
    DISCONNECTED,
    E_BACK,
    IDLE,
    L_WAITING,
    LOGGING_ON,
    NEVER,
    OUT_LOST,
    OUT_RECONNECTED,
    OUT_REFUSED,
    RETURN_FOUND,
    RETURN_NONE,
    RETURN_TIMEOUT,
    RETURNING_DISC,
    RETURNING_IDLE,
    SIGN_OFF,
    WAITING,
)
from idle_harbor.core.engine.kernel.heap import heap_push
from idle_harbor.core.engine.kernel.load import change_state, logon_unlink
from idle_harbor.core.engine.kernel.notice import notice_over, spare, tell_who_left
from idle_harbor.core.engine.kernel.sessions import end_session, refuse, set_end, set_timer
from idle_harbor.core.engine.kernel.world import person_table, result_table
from idle_harbor.core.policy.view import settings_table


@compiled(inline=True)
def _set_timeout(w, person, t, timeout):
    if timeout == NEVER:
        person_table(w.person_at, w.people)[person].timer = NEVER
    else:
        set_timer(w, person, t + timeout)


@compiled(inline=True)
def _in_force(w):
    return settings_table(w.edge_at, w.edges)[w.edge]


@compiled()
def timeouts_change(w, t):
    """Apply the timeouts of a band that begins at ``t``; no session ends before ``t`` because of
    them."""
    people = person_table(w.person_at, w.people)
    settings = _in_force(w)
    for person in range(w.people):
        who = people[person]
        timeout = settings.disconnected_timeout
        if who.state == IDLE:
            timeout = settings.idle_timeout
        elif who.state != DISCONNECTED:
            continue
        since = np.int64(who.since)
        if timeout != NEVER:
            since = max(since, t - timeout)
        _set_timeout(w, np.int64(person), since, timeout)


@compiled()
def come_back(w, index, t):
    """Begin a reconnect: the same host, no new slot, done after the reconnect time."""
    person = np.int64(ints(w.who_at, w.spells)[index])
    who = person_table(w.person_at, w.people)[person]
    result = result_table(w.result_at, w.spells)[index]
    result.wait = result.queued = result.host = -1
    result.outcome = OUT_LOST  # until the reconnect is through
    day = shorts(w.day_at, w.spells)[index]
    result.returned = RETURN_FOUND if who.day == day else RETURN_NONE
    who.spell = index
    who.day = day
    who.leaving = bytes_(w.leaving_at, w.spells)[index]
    who.asked = t
    who.waited = 0
    if who.notice != 0:
        spare(w, person)
    who.back = t + w.reconnect
    set_end(w, person, index, t)
    away = RETURNING_IDLE if who.state == IDLE else RETURNING_DISC
    change_state(w, person, np.int64(who.host), away, t)
    if w.reconnect == 0:
        back(w, person, t)
    else:
        heap_push(w, who.back, E_BACK, person)


@compiled()
def back(w, person, t):
    """Complete a reconnect: the session is active again."""
    who = person_table(w.person_at, w.people)[person]
    if who.back != t or (who.state != RETURNING_IDLE and who.state != RETURNING_DISC):
        return
    result = result_table(w.result_at, w.spells)[who.spell]
    result.outcome = OUT_RECONNECTED
    result.wait = t - who.asked
    result.host = who.host
    change_state(w, person, np.int64(who.host), ACTIVE, t)


@compiled()
def _to_disconnected(w, person, host, t):
    change_state(w, person, host, DISCONNECTED, t)
    person_table(w.person_at, w.people)[person].since = t
    _set_timeout(w, person, t, _in_force(w).disconnected_timeout)
    tell_who_left(w, person, host, t)


@compiled()
def _to_idle(w, person, host, t):
    change_state(w, person, host, IDLE, t)
    person_table(w.person_at, w.people)[person].since = t
    _set_timeout(w, person, t, _in_force(w).idle_timeout)
    tell_who_left(w, person, host, t)


@compiled()
def _leave(w, person, host, t, way):
    person_table(w.person_at, w.people)[person].asked = t
    if way == SIGN_OFF:
        end_session(w, person, t, RETURN_NONE)
    elif way == DISCONNECT:
        _to_disconnected(w, person, host, t)
    else:
        _to_idle(w, person, host, t)


@compiled()
def timer(w, person, t):
    """Handle a person's timer: the end of a spell, a timeout (also one of 0 seconds), then the end
    of a notice."""
    who = person_table(w.person_at, w.people)[person]
    while who.timer == t:
        who.timer = NEVER
        _over(w, person, t)
    if who.notice == t:
        notice_over(w, person, t)


@compiled()
def _over(w, person, t):
    """Handle the end of a spell or a timeout, depending on the person's state."""
    who = person_table(w.person_at, w.people)[person]
    state = who.state
    host = np.int64(who.host)
    if state == IDLE:
        _to_disconnected(w, person, host, t)
        return
    if state == DISCONNECTED:
        end_session(w, person, t, RETURN_TIMEOUT)
        return
    # In any other state the timer is the end of a spell.
    if state == WAITING:
        w.level[L_WAITING] -= 1.0
        refuse(w, person)
    elif state == ACTIVE:
        _leave(w, person, host, t, who.leaving)
    elif state == LOGGING_ON:
        logon_unlink(w, person, host)
        result_table(w.result_at, w.spells)[who.spell].outcome = OUT_REFUSED
        end_session(w, person, t, RETURN_NONE)
    elif state == RETURNING_IDLE:
        _to_idle(w, person, host, t)
    else:
        _to_disconnected(w, person, host, t)
