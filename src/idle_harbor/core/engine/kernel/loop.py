"""The event loop.

Events of one second are handled in this order, then by key: logons done, sign-offs and timeouts,
host completions, reconnects, people waiting, new arrivals, give-ups, policy tick.
"""

from __future__ import annotations

import numpy as np
from numba import types

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.records import ints, longs
from idle_harbor.core.engine.kernel.away import back, come_back, timeouts_change, timer
from idle_harbor.core.engine.kernel.codes import (
    DISCONNECTED,
    E_HOST,
    E_LOGON_DONE,
    E_TIMER,
    FAR,
    IDLE,
    L_WAITING,
    NONE,
    READY,
    WAITING,
)
from idle_harbor.core.engine.kernel.drill import drills_change, pool_begins, pool_ends
from idle_harbor.core.engine.kernel.heap import (
    AHEAD,
    CLASS_MASK,
    CLASS_SHIFT,
    KEY_MASK,
    TIME_SHIFT,
    drop_event,
    fetch_person,
    next_event,
)
from idle_harbor.core.engine.kernel.homes import knock_again
from idle_harbor.core.engine.kernel.hosts import gives_back, host_completes, look, open_horizon
from idle_harbor.core.engine.kernel.notice import tell, thrown_out_ask
from idle_harbor.core.engine.kernel.record import integrate
from idle_harbor.core.engine.kernel.sessions import ask, find_room, logons_done, place, refuse
from idle_harbor.core.engine.kernel.spare import spare_refresh_all
from idle_harbor.core.engine.kernel.world import (
    host_table,
    person_table,
    world_at,
)
from idle_harbor.core.policy.view import settings_table


@compiled(inline=True)
def _in_line(w, place):
    """Return the person who waits at a place of the queue, or -1 if they have left it."""
    person = np.int64(ints(w.queue_at, w.queue_room)[place])
    waits = person_table(w.person_at, w.people)[person].state == WAITING
    if waits and ints(w.ticket_at, w.people)[person] == place:
        return person
    return np.int64(-1)


@compiled()
def _first_waiting(w):
    """Return the person at the head of the queue, or -1; entries of people who left are dropped."""
    while w.queue_head < w.queue_tail:
        person = _in_line(w, w.queue_head)
        if person >= 0:
            return person
        w.queue_head += 1
    return np.int64(-1)


@compiled()
def _serve(w, t):
    """Place waiting people on hosts with room, first come first served."""
    person = _first_waiting(w)
    while person >= 0:
        host = find_room(w)
        if host < 0:
            return
        w.queue_head += 1
        w.level[L_WAITING] -= 1.0
        place(w, person, host, t)
        person = _first_waiting(w)


@compiled()
def _serve_homes(w, t):
    """Place people who wait for their own host, if it is ready, first come first served."""
    knock_again(w, t)
    homes = ints(w.home_at, w.people)
    states = longs(w.state_at, w.hosts)
    _first_waiting(w)
    for place_in_line in range(w.queue_head, w.queue_tail):
        person = _in_line(w, place_in_line)
        if person < 0:
            continue
        home = np.int64(homes[person])
        if states[home] == READY:
            longs(w.waits_at, w.hosts)[home] = 0
            w.level[L_WAITING] -= 1.0
            place(w, person, home, t)


@compiled()
def _give_up(w, t):
    """Refuse people who have waited for the whole patience."""
    people = person_table(w.person_at, w.people)
    person = _first_waiting(w)
    while person >= 0 and people[person].asked + w.patience <= t:
        w.queue_head += 1
        w.level[L_WAITING] -= 1.0
        refuse(w, person)
        person = _first_waiting(w)


@compiled(inline=True)
def _pending(w, t):
    """Handle every pending event of second ``t``.

    Returns False if the event of a host has to wait for the other pools of the estate.
    """
    while True:
        item = next_event(w)
        if item >> TIME_SHIFT != t:
            return True
        kind = (item >> CLASS_SHIFT) & CLASS_MASK
        key = item & KEY_MASK
        if kind == E_HOST and t > w.granted and gives_back(w, key, t):
            return False
        drop_event(w)
        w.events += 1
        if kind == E_TIMER:
            timer(w, key, t)
        elif kind == E_LOGON_DONE:
            if host_table(w.host_at, w.hosts)[key].next_logon == t:
                logons_done(w, key, t)
        elif kind == E_HOST:
            host_completes(w, key, t)
        else:
            back(w, key, t)


@compiled(inline=True)
def _arrivals(w, t, first):
    """Handle the spells that start at ``t``, and people who wait.

    Order: people with a session return to it; waiting people are served; people who were thrown out
    in this second ask again; the others ask. Returns the index of the next spell.
    """
    starts = ints(w.start_at, w.spells)
    whose = ints(w.who_at, w.spells)
    people = person_table(w.person_at, w.people)
    last = first
    while last < w.spells and starts[last] == t:
        fetch_person(w, whose[min(last + AHEAD, w.spells - 1)])
        state = people[whose[last]].state
        if state == IDLE or state == DISCONNECTED:
            come_back(w, last, t)
        last += 1
    if w.serve != 0:
        w.serve = 0
        if w.level[L_WAITING] > 0:
            if w.dedicated != 0:
                _serve_homes(w, t)
            else:
                _serve(w, t)
    if w.again > 0:
        thrown_out_ask(w, t)
    for index in range(first, last):
        if people[whose[index]].state == NONE:
            ask(w, index, t)
    w.events += last - first
    return last


@compiled(inline=True)
def next_change(w):
    """Return the next second at which a band or a drill changes something at once."""
    return w.as_before if w.at_edges != 0 else w.next_drill


@compiled(inline=True)
def _next_time(w, arrival, next_tick):
    """Return the second of the next event of any kind."""
    if w.serve != 0 and w.level[L_WAITING] > 0:
        return w.now
    t = next_tick
    if arrival < w.spells:
        t = min(t, np.int64(ints(w.start_at, w.spells)[arrival]))
    t = min(t, next_event(w) >> TIME_SHIFT)
    if w.level[L_WAITING] > 0 and w.patience >= 0:
        asked = person_table(w.person_at, w.people)[_first_waiting(w)].asked
        t = min(t, np.int64(asked) + w.patience)
    return min(t, next_change(w))


@compiled(inline=True)
def _goes_on_until(w):
    """Note the second at which the next band or drill begins or ends."""
    w.as_before = min(settings_table(w.edge_at, w.edges)[w.edge + 1].begins, w.next_drill)


@compiled()
def _before_all_else(w, t):
    """Handle changes of the band, of drills, and of the pool's dates."""
    edges = settings_table(w.edge_at, w.edges)
    took = edges[w.edge].limit
    idle, disconnected = edges[w.edge].idle_timeout, edges[w.edge].disconnected_timeout
    while edges[w.edge + 1].begins <= t:
        w.edge += 1
    if edges[w.edge].limit != took:
        w.serve = 1
        if w.spare_leaves > 0:
            spare_refresh_all(w)
    now = edges[w.edge]
    if now.idle_timeout != idle or now.disconnected_timeout != disconnected:
        timeouts_change(w, t)
    exists = edges[w.edge].exists
    if exists != w.exists:
        if exists != 0:
            pool_begins(w, t)
        else:
            pool_ends(w, t)
    if t == w.next_drill:
        drills_change(w, t)
    _goes_on_until(w)


@compiled(inline=True)
def _tick(w, t):
    """Let the policy look; returns False if that has to wait for the other pools of the estate."""
    if w.exists != 0:
        if not look(w, t):
            return False
        if w.to_tell != 0:
            tell(w, t)
    w.events += 1
    return True


@compiled()
def advance(w):
    """Run a pool until nothing more happens before second ``pause``, or until it is ``done``.

    Returns the second of the next event, FAR if there is none. A pool of an estate stops before it
    takes or gives back shared limits in a second after ``granted``. All state is in the world's
    tables; the next call continues from there.
    """
    if w.begun == 0:
        w.begun = 1
        open_horizon(w)
        _goes_on_until(w)
        w.next_tick = w.tick if w.tick > 0 else FAR
    arrival = w.arrival
    next_tick = w.next_tick
    t = np.int64(w.now)
    while w.short == 0:
        t = min(_next_time(w, arrival, next_tick), w.end)
        if t >= w.pause:
            break
        integrate(w, t)
        if t == w.end or t >= w.as_before:
            if t > w.granted:
                break
            if t == w.end:
                w.done = 1
                break
            _before_all_else(w, t)
        if not _pending(w, t):
            break
        arrival = _arrivals(w, t, arrival)
        if w.level[L_WAITING] > 0 and w.patience > 0:
            _give_up(w, t)
        if t == next_tick:
            if not _tick(w, t):
                break
            next_tick += w.tick
    w.arrival = arrival
    w.next_tick = next_tick
    return np.int64(FAR) if w.done != 0 else t


@compiled(types.void(types.int64), entry=True)
def run_loop(address: int) -> None:
    """Run the pool whose world is at an address until its ``pause``, or until it is ``done``."""
    advance(world_at(address))
