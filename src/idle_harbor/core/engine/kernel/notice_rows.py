"""Hosts that drain with notice."""

from __future__ import annotations

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.engine.kernel.world import power_table
from idle_harbor.core.policy.view import settings_table


@compiled()
def give_notice(w, host, t):
    """Let the host drain with the notice of the band in force; later bands do not change it."""
    settings = settings_table(w.edge_at, w.edges)[w.edge]
    row = power_table(w.power_at, w.hosts)[host]
    row.notice = settings.notice
    row.notice_to = settings.notice_to
    row.told = t
    w.to_tell = 1
