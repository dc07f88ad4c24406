"""Hosts for a peak, with some to spare, or with enough left when one zone is lost."""

from __future__ import annotations

from math import ceil


def hosts_for(peak: int, limit: int, *, spare: int = 0, zones: int = 0) -> int:
    """Hosts that hold a peak with so many to spare, or after the loss of one of ``zones`` zones.

    ceil(peak / limit) + spare, and at least ceil(peak / limit) × Z / (Z − 1) rounded up: of hosts
    dealt out over Z zones the largest has ceil(hosts / Z), and the others hold the peak. Fewer
    than two zones have none to lose.
    """
    least = ceil(peak / limit)
    after_loss = ceil(least * zones / (zones - 1) - 1e-9) if zones > 1 else least
    return max(least + spare, after_loss)


def hosts_left(hosts: int, zones: int) -> int:
    """Hosts that are left when the largest of several zones is lost, dealt out over all of them."""
    return hosts - ceil(hosts / zones)
