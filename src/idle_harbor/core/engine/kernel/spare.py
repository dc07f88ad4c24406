"""Choice of the host with the most spare CPU and memory without a scan of all hosts.

A tree of maxima over the hosts: a leaf for each host, and each inner node has the larger of two. A
change of a host moves up only as far as it changes a maximum. The way down leads to the host with
the most to spare; of several, the lowest.
"""

from __future__ import annotations

import numpy as np

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.records import longs, reals
from idle_harbor.core.engine.kernel.codes import READY
from idle_harbor.core.engine.kernel.world import host_table, of_world
from idle_harbor.core.policy.view import settings_table

#: Spare capacity of a host that takes no sessions.
NOTHING_TO_SPARE = -1e300


def spare_leaves(hosts: int) -> int:
    """Return the leaves of a tree over so many hosts: a power of two."""
    return int(1 << max(hosts - 1, 0).bit_length())


@compiled(of_world(1))
def spare_refresh(w, host):
    """Update a host's spare capacity: the smaller share of CPU and memory that is left."""
    tree = reals(w.spare_at, 2 * w.spare_leaves)
    limit = settings_table(w.edge_at, w.edges)[w.edge].limit
    value = NOTHING_TO_SPARE
    if longs(w.state_at, w.hosts)[host] == READY and longs(w.sessions_at, w.hosts)[host] < limit:
        row = host_table(w.host_at, w.hosts)[host]
        cpu = 1.0 - row.cpu / w.cpu_bound
        memory = 1.0 - row.memory / w.memory_bound
        value = min(cpu, memory)
    node = w.spare_leaves + host
    if tree[node] == value:
        return
    tree[node] = value
    node >>= 1
    while node >= 1:
        most = max(tree[2 * node], tree[2 * node + 1])
        if tree[node] == most:
            return
        tree[node] = most
        node >>= 1


@compiled(of_world(0))
def spare_refresh_all(w):
    """Update the spare capacity of all hosts after a change of the session limit."""
    for host in range(w.hosts):
        spare_refresh(w, np.int64(host))


@compiled(inline=True)
def spare_most(w):
    """Return the lowest host among those with the most to spare, or -1 if none takes sessions."""
    tree = reals(w.spare_at, 2 * w.spare_leaves)
    if tree[1] == NOTHING_TO_SPARE:
        return np.int64(-1)
    node = np.int64(1)
    while node < w.spare_leaves:
        node <<= 1
        if tree[node] < tree[node + 1]:
            node += 1
    return node - w.spare_leaves
