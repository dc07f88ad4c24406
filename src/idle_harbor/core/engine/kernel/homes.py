"""Dedicated pools: which host belongs to whom, and hosts that start because their person knocks."""

from __future__ import annotations

import numpy as np

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.records import ints, longs
from idle_harbor.core.engine.kernel.codes import OFF, READY
from idle_harbor.core.engine.kernel.hosts import look_for

NOBODY = -1


@compiled()
def home_of(w, person):
    """Return the person's host; at a first logon, if the pool assigns hosts then, one that is
    nobody's.

    Ready hosts come before hosts that are off. Returns -1 if there is none.
    """
    homes = ints(w.home_at, w.people)
    if homes[person] != NOBODY or w.by_list != 0:
        return np.int64(homes[person])
    owners = ints(w.owner_at, w.hosts)
    states = longs(w.state_at, w.hosts)
    chosen = np.int64(NOBODY)
    for host in range(w.hosts):
        if owners[host] == NOBODY:
            if states[host] == READY:
                chosen = np.int64(host)
                break
            if chosen == NOBODY:
                chosen = np.int64(host)
    if chosen != NOBODY:
        owners[chosen] = person
        homes[person] = chosen
    return chosen


@compiled()
def knock_again(w, t):
    """Start the hosts of people who knocked while their host was stopping, once it is off."""
    owners = ints(w.owner_at, w.hosts)
    states = longs(w.state_at, w.hosts)
    waiting = longs(w.waits_at, w.hosts)
    for host in range(w.hosts):
        if waiting[host] != 0 and states[host] == OFF and owners[host] != NOBODY:
            look_for(w, t, host)
