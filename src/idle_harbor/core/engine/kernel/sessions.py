"""The life of a session: asked for, placed, connected, left, timed out, ended."""

from __future__ import annotations

import numpy as np
from numba import types

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.records import bytes_, ints, longs, shorts
from idle_harbor.core.engine.kernel.codes import (
    ACTIVE,
    DISCONNECTED,
    DRAINING,
    E_TIMER,
    FAILED,
    IDLE,
    L_CREATING,
    L_DRAINING,
    L_OCCUPIED,
    L_ON_DRAINING,
    L_QUEUED,
    L_READY,
    L_RESETTING,
    L_STARTING,
    L_WAITING,
    LOGGING_ON,
    NEVER,
    NONE,
    OFF,
    OUT_CONNECTED,
    OUT_LOST,
    OUT_PENDING,
    OUT_REFUSED,
    QUEUED,
    READY,
    RETURN_FORCED,
    RETURN_FOUND,
    RETURN_NONE,
    RETURN_TIMEOUT,
    RETURNING_DISC,
    RETURNING_IDLE,
    SHORT_OF_QUEUE,
    STARTING,
    UNSAVED_SECONDS,
    WAITING,
    WaitCause,
)
from idle_harbor.core.engine.kernel.heap import heap_push
from idle_harbor.core.engine.kernel.homes import home_of
from idle_harbor.core.engine.kernel.hosts import begin_reset, look_for
from idle_harbor.core.engine.kernel.load import (
    WORK_DUST,
    change_state,
    logon_link,
    logon_unlink,
    logons_advance,
)
from idle_harbor.core.engine.kernel.record import log_lane
from idle_harbor.core.engine.kernel.rooms import room_add, room_fill, room_remove, room_spread
from idle_harbor.core.engine.kernel.signals import watch_logon
from idle_harbor.core.engine.kernel.spare import spare_most, spare_refresh
from idle_harbor.core.engine.kernel.world import (
    host_table,
    of_world,
    person_table,
    profile_table,
    result_table,
)
from idle_harbor.core.policy.view import BY_ROOM, FILL, SOMEBODY, TO_MARK, settings_table

_STARTING = int(WaitCause.STARTING)
_NOT_ASKED = int(WaitCause.NOT_ASKED)
_EXHAUSTED = int(WaitCause.EXHAUSTED)
_DRAINING = int(WaitCause.DRAINING)
_RUSH = int(WaitCause.RUSH)
_NO_HOST = int(WaitCause.NO_HOST)
_RESETTING = int(WaitCause.RESETTING)
_CREATING = int(WaitCause.CREATING)
_QUEUED = int(WaitCause.QUEUED)
_FAILED = int(WaitCause.FAILED)
_LID = int(WaitCause.LID)
_QUOTA = int(WaitCause.QUOTA)


@compiled(of_world(2), inline=True)
def set_timer(w, person, t):
    """Set the one second at which :func:`away.timer` handles a person."""
    person_table(w.person_at, w.people)[person].timer = t
    heap_push(w, t, E_TIMER, person)


@compiled(inline=True)
def set_end(w, person, index, t):
    """Set a person's timer to the end of a spell; an end that is sorted beforehand needs no event,
    unless its second has begun."""
    end = np.int64(ints(w.end_at, w.spells)[index])
    if bytes_(w.fixed_at, w.spells)[index] == 0 and end > t:
        person_table(w.person_at, w.people)[person].timer = end
    else:
        set_timer(w, person, end)


@compiled(inline=True)
def find_room(w):
    """Return the host for the next session under the balancing rule in force, or -1."""
    settings = settings_table(w.edge_at, w.edges)[w.edge]
    if settings.rule == BY_ROOM:
        return spare_most(w)
    host = np.int64(-1)
    if settings.rule == FILL:
        host = room_fill(w, settings.limit)
    elif settings.rule == TO_MARK:
        host = room_fill(w, settings.mark)
    if host < 0 and settings.rule != FILL:
        host = room_spread(w, settings.limit)
    return host


@compiled(inline=True)
def _take_slot(w, host, t):
    sessions = longs(w.sessions_at, w.hosts)
    held = sessions[host]
    room_remove(w, host, held)
    held += 1
    sessions[host] = held
    if held < w.limit:
        room_add(w, host, held)
    if held == 1:
        w.level[L_OCCUPIED] += 1.0
    log_lane(w, host, t)


@compiled(inline=True)
def _free_slot(w, host, t):
    sessions = longs(w.sessions_at, w.hosts)
    state = longs(w.state_at, w.hosts)[host]
    held = sessions[host]
    sessions[host] = held - 1
    if state == READY:
        if held < w.limit:
            room_remove(w, host, held)
        room_add(w, host, held - 1)
        if w.spare_leaves > 0:
            spare_refresh(w, host)
        w.serve = 1
        if held == 1 and w.reset > 0:
            begin_reset(w, host, t)
    elif state == DRAINING:
        w.level[L_ON_DRAINING] -= 1.0
    if held == 1:
        w.level[L_OCCUPIED] -= 1.0
    log_lane(w, host, t)


@compiled(inline=True)
def _at_work(state, seconds):
    """Return whether somebody in that state works in their session, or did so ``seconds`` ago and
    the work may not be saved."""
    if state == IDLE or state == DISCONNECTED:
        return seconds <= UNSAVED_SECONDS
    return state != LOGGING_ON


@compiled(of_world(3))
def end_session(w, person, t, left):
    """End a session and give back its load and its slot.

    ``left`` is what the person finds when they come back (RETURN_...).
    """
    who = person_table(w.person_at, w.people)[person]
    host = np.int64(who.host)
    state = who.state
    change_state(w, person, host, NONE, t)
    who.timer = NEVER
    who.left = left
    w.slot_seconds += t - who.slot
    w.ended += 1
    if t >= w.counted:
        w.counted_ends += 1
        w.forced += np.int64(left == RETURN_FORCED)
        if left == RETURN_FORCED or left == RETURN_TIMEOUT:
            w.lost_work += np.int64(_at_work(state, t - who.asked))
    _free_slot(w, host, t)


@compiled(inline=True)
def _connected(w, person, t):
    """Complete a logon; spells that count from the connection get their end now."""
    who = person_table(w.person_at, w.people)[person]
    result = result_table(w.result_at, w.spells)[who.spell]
    waited = t - who.asked
    result.outcome = OUT_CONNECTED
    result.wait = waited + who.waited
    alone = profile_table(w.profile_at, w.profiles)[who.profile].logon_alone
    if result.cause == 0 and waited > alone:
        result.cause = _RUSH
    if w.watched > 0:
        watch_logon(w, waited - result.queued)
    if bytes_(w.fixed_at, w.spells)[who.spell] != 0:
        set_timer(w, person, t + ints(w.end_at, w.spells)[who.spell])


@compiled()
def place(w, person, host, t):
    """Begin a logon on a host with room; without logon work the person is connected at once."""
    who = person_table(w.person_at, w.people)[person]
    result = result_table(w.result_at, w.spells)[who.spell]
    result.queued = t - who.asked
    result.host = host
    who.host = host
    who.slot = t
    _take_slot(w, host, t)
    if profile_table(w.profile_at, w.profiles)[who.profile].logon_seconds > 0.0:
        logon_link(w, person, host, t)
        change_state(w, person, host, LOGGING_ON, t)
    else:
        change_state(w, person, host, ACTIVE, t)
        _connected(w, person, t)


@compiled()
def logons_done(w, host, t):
    """Connect everyone on the host whose logon work is done at ``t``."""
    row = host_table(w.host_at, w.hosts)[host]
    people = person_table(w.person_at, w.people)
    row.next_logon = -1
    logons_advance(w, host, t)
    done = row.work + WORK_DUST
    person = np.int64(row.logon_tail)
    while person >= 0 and people[person].target <= done:
        before = np.int64(people[person].before)
        logon_unlink(w, person, host)
        change_state(w, person, host, ACTIVE, t)
        _connected(w, person, t)
        person = before


@compiled()
def refuse(w, person):
    """Refuse a waiting person: they give up, or the spell is over."""
    who = person_table(w.person_at, w.people)[person]
    if w.dedicated != 0:
        home = ints(w.home_at, w.people)[person]
        if home >= 0:
            longs(w.waits_at, w.hosts)[home] = 0
    result_table(w.result_at, w.spells)[who.spell].outcome = OUT_REFUSED
    who.state = NONE
    who.timer = NEVER


@compiled(inline=True)
def _queued_cause(w):
    """Return why hosts wait for their start: the quota, or the number of starts."""
    return _QUEUED if w.quota_short == 0 else _QUOTA


@compiled()
def _wait_cause(w):
    """Return why there is no room now; the cause that a planner can change most directly comes
    first."""
    level = w.level
    if level[L_RESETTING] > 0:
        return _RESETTING
    if level[L_QUEUED] > 0:
        return _queued_cause(w)
    if level[L_STARTING] > 0:
        return _STARTING
    if level[L_CREATING] > 0:
        return _CREATING
    if level[L_READY] + level[L_DRAINING] + w.failed < w.hosts:
        lid = settings_table(w.edge_at, w.edges)[w.edge].lid
        return _LID if level[L_READY] >= lid else _NOT_ASKED
    if w.failed > 0:
        return _FAILED
    if level[L_DRAINING] > 0:
        return _DRAINING
    return _EXHAUSTED


@compiled(inline=True)
def _home_cause(w, state):
    """Return why the person's own host does not take them now."""
    if state == STARTING:
        return _STARTING
    if state == OFF:
        return _NOT_ASKED
    if state == QUEUED:
        return _queued_cause(w)
    if state == FAILED:
        return _FAILED
    return _DRAINING


@compiled(inline=True)
def _stand_in_line(w, person):
    """Put a person at the end of the queue; their ticket is the place in it.

    A person who is thrown out queues again; only the place on the ticket counts.
    """
    place_in_line = w.queue_tail
    if place_in_line >= w.queue_room:
        w.short |= SHORT_OF_QUEUE
        return
    ints(w.queue_at, w.queue_room)[place_in_line] = person
    ints(w.ticket_at, w.people)[person] = place_in_line
    w.queue_tail = place_in_line + 1
    person_table(w.person_at, w.people)[person].state = WAITING
    w.level[L_WAITING] += 1.0


@compiled()
def _knock(w, person, t):
    """Let the policy look for a person without room; return whether they have a host at once.

    That is so if a draining host is undrained and nobody waits already.
    """
    w.level[L_WAITING] += 1.0
    look_for(w, t, np.int64(SOMEBODY))
    w.level[L_WAITING] -= 1.0
    if w.level[L_WAITING] > 0:
        return False
    host = find_room(w)
    if host < 0:
        return False
    result_table(w.result_at, w.spells)[person_table(w.person_at, w.people)[person].spell].cause = 0
    place(w, person, host, t)
    return True


@compiled()
def ask(w, index, t):
    """Let a person without a session ask for a logon: they are placed, wait, or are refused."""
    person = np.int64(ints(w.who_at, w.spells)[index])
    who = person_table(w.person_at, w.people)[person]
    result = result_table(w.result_at, w.spells)[index]
    result.wait = result.queued = result.host = -1
    result.returned = RETURN_NONE
    if who.left != RETURN_NONE:
        if who.day == shorts(w.day_at, w.spells)[index]:
            result.returned = who.left
        who.left = RETURN_NONE
    who.spell = index
    who.day = shorts(w.day_at, w.spells)[index]
    who.profile = shorts(w.profile_of_at, w.spells)[index]
    who.leaving = bytes_(w.leaving_at, w.spells)[index]
    who.asked = t
    who.waited = 0
    who.timer = NEVER
    if w.wide != 0:
        who.behind = bytes_(w.behind_at, w.groups)[shorts(w.group_at, w.spells)[index]]
    if bytes_(w.fixed_at, w.spells)[index] == 0:
        set_end(w, person, index, t)
    host = np.int64(-1)
    home = np.int64(-1)
    if w.dedicated == 0:
        host = find_room(w)
    else:
        home = home_of(w, person)
        if home < 0:
            result.cause = _NO_HOST
            refuse(w, person)
            return
        if longs(w.state_at, w.hosts)[home] == READY:
            host = home
    if host >= 0:
        place(w, person, host, t)
        return
    result.cause = _wait_cause(w)
    if w.dedicated != 0:
        result.cause = _home_cause(w, longs(w.state_at, w.hosts)[home])
        look_for(w, t, home)
        if longs(w.state_at, w.hosts)[home] == READY:
            place(w, person, home, t)
            return
    elif settings_table(w.edge_at, w.edges)[w.edge].knocks != 0 and _knock(w, person, t):
        return
    if w.patience == 0:
        refuse(w, person)
        return
    if home >= 0:
        longs(w.waits_at, w.hosts)[home] = 1
    _stand_in_line(w, person)


@compiled(of_world(3, types.boolean))
def throw_out(w, person, t, left):
    """End a person's session in any state; return whether they were active."""
    who = person_table(w.person_at, w.people)[person]
    state = who.state
    host = np.int64(who.host)
    if state == LOGGING_ON:
        logon_unlink(w, person, host)
    end_session(w, person, t, left)
    busy = state == ACTIVE or state == LOGGING_ON
    return busy or state == RETURNING_IDLE or state == RETURNING_DISC


@compiled(of_world(3))
def ask_again(w, person, t, left):
    """Let a person whose session has ended (``left``: RETURN_...) ask for a logon within the same
    spell.

    Their earlier wait counts on. A spell that counts from the connection begins anew. A lost return
    becomes a logon.
    """
    who = person_table(w.person_at, w.people)[person]
    index = np.int64(who.spell)
    wait = np.int64(result_table(w.result_at, w.spells)[index].wait)
    before = wait if wait >= 0 else t - who.asked + who.waited
    w.interrupted += 1
    result = result_table(w.result_at, w.spells)[index]
    returned = result.returned
    if returned == RETURN_FOUND and result.outcome == OUT_LOST:
        returned = who.left
    result.outcome = OUT_PENDING
    ask(w, index, t)
    result.returned = returned
    if who.state == NONE or who.state == WAITING:
        who.left = left
    elif result.outcome == OUT_CONNECTED:
        # Connected at once: there was room and no logon work.
        result.wait += before
    who.waited = before
