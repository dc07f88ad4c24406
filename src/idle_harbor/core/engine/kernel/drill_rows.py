"""Which drills strike a host at a moment."""

from __future__ import annotations

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.engine.kernel.codes import FAR
from idle_harbor.core.engine.kernel.world import drill_table


@compiled(inline=True)
def _hits(w, drill, host):
    """Return whether a drill strikes the host: by its zone, or as one of the lowest-numbered."""
    if drill.zone >= 0:
        return host % w.zones == drill.zone
    return host < drill.hosts


@compiled()
def drilled(w, kind, host, t):
    """Return whether a drill of a kind strikes the host at ``t``."""
    for k in range(w.drills):
        drill = drill_table(w.drill_at, w.drills)[k]
        if drill.kind == kind and drill.at <= t and t < drill.until and _hits(w, drill, host):
            return True
    return False


@compiled()
def after(w, t):
    """Return the next second after ``t`` at which a drill begins or ends."""
    found = FAR
    for k in range(w.drills):
        drill = drill_table(w.drill_at, w.drills)[k]
        for edge in (drill.at, drill.until):
            if edge > t:
                found = min(found, edge)
    return found
