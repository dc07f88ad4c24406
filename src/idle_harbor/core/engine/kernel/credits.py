"""When the balance of a burstable host begins, ends, and is found spent."""

from __future__ import annotations

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.engine.kernel.codes import L_SPENT
from idle_harbor.core.engine.kernel.load import logons_advance, refresh_load
from idle_harbor.core.engine.kernel.wide import credits_advance
from idle_harbor.core.engine.kernel.world import of_world, wide_table


@compiled(of_world(2))
def credits_begin(w, host, t):
    """A host that has just started holds its first credits."""
    if w.bursts == 0:
        return
    row = wide_table(w.wide_at, w.hosts)[host]
    row.credits = w.credits_first
    row.since = t
    row.live = 1
    refresh_load(w, host, t)


@compiled()
def credits_end(w, host):
    """A host that stops has no balance any more."""
    if w.bursts == 0:
        return
    row = wide_table(w.wide_at, w.hosts)[host]
    w.level[L_SPENT] -= row.spent
    row.spent = 0
    row.live = 0
    row.dry = -1


@compiled()
def credits_spent(w, host, t):
    """The balance of a host is gone at ``t``, if that was foreseen."""
    if w.bursts == 0 or wide_table(w.wide_at, w.hosts)[host].dry != t:
        return
    logons_advance(w, host, t)
    credits_advance(w, host, t)
    refresh_load(w, host, t)
