"""Resources that only some runs follow: GPU memory, disk, network, slow lines, CPU credits.

A credit here is one micro-vCPU for one second. A burstable host earns its baseline and spends the
CPU that it uses, integrated exactly between events. Without balance it has only its baseline, until
it wants no more than that.
"""

from __future__ import annotations

import numpy as np

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.units import MICRO
from idle_harbor.core.engine.kernel.codes import ACTIVE, E_HOST, FAR, L_BEHIND, L_NETWORK, L_SPENT
from idle_harbor.core.engine.kernel.heap import heap_push
from idle_harbor.core.engine.kernel.world import (
    host_table,
    of_world,
    person_table,
    profile_table,
    wide_table,
)

#: Credits that count as none: one micro-vCPU for one second.
_DUST = 1.0


@compiled(inline=True)
def cpu_capacity(w, host):
    """Return the micro-vCPU that the host can give now."""
    if w.bursts != 0 and wide_table(w.wide_at, w.hosts)[host].spent != 0:
        return w.baseline
    return w.cpu_capacity


@compiled(inline=True)
def cpu_bound(w, host):
    """Return the micro-vCPU that may be wanted on the host before work on it is strained."""
    if w.bursts != 0 and wide_table(w.wide_at, w.hosts)[host].spent != 0:
        return w.baseline_bound
    return w.cpu_bound


@compiled(of_world(4))
def wide_change(w, person, host, old, new):
    """Update a host's load beside CPU and memory for a session that changes its state."""
    who = person_table(w.person_at, w.people)[person]
    draw = profile_table(w.profile_at, w.profiles)[who.profile]
    row = wide_table(w.wide_at, w.hosts)[host]
    row.gpu += draw.gpu[new] - draw.gpu[old]
    row.ops += draw.ops[new] - draw.ops[old]
    row.network += draw.network[new] - draw.network[old]
    w.level[L_NETWORK] += (draw.egress[new] - draw.egress[old]) / MICRO
    if who.behind != 0:
        row.behind += np.int32(new == ACTIVE) - np.int32(old == ACTIVE)


@compiled()
def wide_beyond(w, host):
    """Return whether GPU memory, disk operations or network are beyond the host's bounds."""
    row = wide_table(w.wide_at, w.hosts)[host]
    return row.gpu > w.gpu_bound or row.ops > w.ops_bound or row.network > w.network_bound


@compiled()
def tell_behind(w, host, strained):
    """Update the number of people behind a slow line; on a strained host they count as strained."""
    row = wide_table(w.wide_at, w.hosts)[host]
    counts = np.int32(0) if strained else row.behind
    w.level[L_BEHIND] += counts - row.told
    row.told = counts


@compiled()
def credits_advance(w, host, t):
    """Update the balance up to ``t`` with the CPU used so far."""
    row = wide_table(w.wide_at, w.hosts)[host]
    if row.live == 0:
        return
    used = min(np.float64(host_table(w.host_at, w.hosts)[host].cpu), cpu_capacity(w, host))
    left = row.credits + (w.baseline - used) * (t - row.since)
    row.credits = min(max(left, 0.0), w.credits_most)
    row.since = t


@compiled(of_world(2))
def credits_predict(w, host, t):
    """Note that the balance is spent, or predict the second at which it will be."""
    row = wide_table(w.wide_at, w.hosts)[host]
    if row.live == 0:
        return
    wants = np.float64(host_table(w.host_at, w.hosts)[host].cpu)
    spent = np.int32(wants > w.baseline and row.credits < _DUST)
    w.level[L_SPENT] += spent - row.spent
    row.spent = spent
    net = w.baseline - min(wants, w.cpu_capacity)
    row.dry = -1
    if spent == 0 and net < 0.0:
        seconds = np.ceil(row.credits / -net)
        if t + seconds < FAR:
            row.dry = np.int32(t + max(seconds, 1.0))
            heap_push(w, row.dry, E_HOST, host)
