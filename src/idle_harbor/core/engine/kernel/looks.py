"""A record of what the policy saw and decided at each look."""

from __future__ import annotations

import numpy as np

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.records import ints, longs
from idle_harbor.core.engine.kernel.world import look_host_table, look_table
from idle_harbor.core.policy.view import row_table


@compiled()
def note_look(w, count):
    """Note a look with its decided actions before they are carried out, while there is room."""
    size = w.looks_size
    if size >= w.looks_room:
        return
    w.looks_size = size + 1
    row = look_table(w.look_at, w.looks_room)[size]
    row.now = w.seen.now
    row.knocking = w.seen.knocking
    row.waiting = w.seen.waiting
    row.overdue = w.seen.overdue
    first = size * w.hosts
    hosts = look_host_table(w.look_host_at, w.looks_room * w.hosts)
    for host in range(w.hosts):
        seen = hosts[first + host]
        seen.state = np.int8(longs(w.state_at, w.hosts)[host])
        seen.sessions = np.int32(longs(w.sessions_at, w.hosts)[host])
        seen.since = longs(w.since_at, w.hosts)[host]
        seen.owner = ints(w.owner_at, w.hosts)[host]
        seen.waits = np.int8(longs(w.waits_at, w.hosts)[host])
    rows = row_table(w.rows_at, w.hosts)
    for k in range(count):
        seen = hosts[first + rows[k].host]
        seen.action = np.int8(rows[k].action)
        seen.cause = np.int8(rows[k].cause)
