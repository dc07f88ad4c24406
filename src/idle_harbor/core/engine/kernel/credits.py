"""CPU credits of burstable hosts: when a balance begins, ends, and runs out."""

from __future__ import annotations

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.engine.kernel.codes import L_SPENT
from idle_harbor.core.engine.kernel.load import logons_advance, refresh_load
from idle_harbor.core.engine.kernel.wide import credits_advance
from idle_harbor.core.engine.kernel.world import of_world, wide_table


@compiled(of_world(2))
def credits_begin(w, host, t):
    """Give a host that has just started its first credits."""
    if w.bursts == 0:
        return
    row = wide_table(w.wide_at, w.hosts)[host]
    row.credits = w.credits_first
    row.since = t
    row.live = 1
    refresh_load(w, host, t)


@compiled()
def credits_end(w, host):
    """Clear the balance of a host that stops."""
    if w.bursts == 0:
        return
    row = wide_table(w.wide_at, w.hosts)[host]
    w.level[L_SPENT] -= row.spent
    row.spent = 0
    row.live = 0
    row.dry = -1


@compiled()
def credits_spent(w, host, t):
    """Note that a host's balance has run out at ``t``, if that was predicted."""
    if w.bursts == 0 or wide_table(w.wide_at, w.hosts)[host].dry != t:
        return
    logons_advance(w, host, t)
    credits_advance(w, host, t)
    refresh_load(w, host, t)
