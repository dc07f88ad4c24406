"""What only some runs look at on a host: GPU memory, disk, network, slow lines, CPU credits.

A credit is here a micro-vCPU for a second. A burstable host earns its baseline and spends the CPU
that it uses, exactly integrated between events; once the balance is gone it has its baseline
alone, until it wants no more than that.
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

#: Credits that count as none: a micro-vCPU for a second.
_DUST = 1.0


@compiled(inline=True)
def cpu_capacity(w, host):
    """Micro-vCPU that the host can give now."""
    if w.bursts != 0 and wide_table(w.wide_at, w.hosts)[host].spent != 0:
        return w.baseline
    return w.cpu_capacity


@compiled(inline=True)
def cpu_bound(w, host):
    """Micro-vCPU that may be wanted on the host now before work on it is strained."""
    if w.bursts != 0 and wide_table(w.wide_at, w.hosts)[host].spent != 0:
        return w.baseline_bound
    return w.cpu_bound


@compiled(of_world(4))
def wide_change(w, person, host, old, new):
    """A session's state changes: its draws beside CPU and memory."""
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
    """Whether GPU memory, disk operations or network pass what the host should bear."""
    row = wide_table(w.wide_at, w.hosts)[host]
    return row.gpu > w.gpu_bound or row.ops > w.ops_bound or row.network > w.network_bound


@compiled()
def tell_behind(w, host, strained):
    """People behind a slow line count as such unless their host is strained anyway."""
    row = wide_table(w.wide_at, w.hosts)[host]
    counts = np.int32(0) if strained else row.behind
    w.level[L_BEHIND] += counts - row.told
    row.told = counts


@compiled()
def credits_advance(w, host, t):
    """Bring the balance up to ``t`` with the CPU that has been used so far."""
    row = wide_table(w.wide_at, w.hosts)[host]
    if row.live == 0:
        return
    used = min(np.float64(host_table(w.host_at, w.hosts)[host].cpu), cpu_capacity(w, host))
    left = row.credits + (w.baseline - used) * (t - row.since)
    row.credits = min(max(left, 0.0), w.credits_most)
    row.since = t


@compiled(of_world(2))
def credits_predict(w, host, t):
    """Whether the balance is spent, or else the second at which it will be."""
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
