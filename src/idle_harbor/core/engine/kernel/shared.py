"""What pools of an estate share: limits, and the pools that take parts of them.

A **throttle** bounds how many hosts of a place start at once; a **quota** bounds how much CPU of
one size is on at once. A pool has at most one of each. A pool that shares nothing has no estate.
"""

from __future__ import annotations

import numpy as np
from numba import from_dtype

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.records import Address, Long, layout, record_at, rows_of
from idle_harbor.core.engine.kernel.codes import (
    DRAINING,
    L_STARTING,
    POWERED_LEVELS,
    QUEUED,
    READY,
    RESETTING,
    STARTING,
    STOPPING,
)
from idle_harbor.core.engine.kernel.world import of_world


class Limit:
    """A throttle in starts, or a quota in micro-vCPU."""

    most: Long
    taken: Long


class Member:
    """A pool of the estate."""

    world_at: Address
    offset: Long  # seconds from the estate's start to the start of its horizon
    # Lower bounds, in seconds of the estate, on when it next takes or gives back shared limits, and
    # on when it next gives back; FAR once it is done.
    following: Long
    gives: Long


class Estate:
    """The pools that share limits, and their tables."""

    pause: Long  # second of the estate before which it stops for a look
    done: Long
    short: Long  # what a member was short of (SHORT_OF_...)
    queued: Long  # hosts of all members that wait for a start
    members: Long
    limits: Long
    member_at: Address
    limit_at: Address


LIMIT, MEMBER, ESTATE = layout(Limit), layout(Member), layout(Estate)
estate_at = record_at(from_dtype(ESTATE))
limit_table, member_table = rows_of(Limit), rows_of(Member)


@compiled(inline=True)
def is_on(state):
    """Return whether a host in that state is powered, and so counts against a quota."""
    runs = state == READY or state == DRAINING or state == RESETTING
    return runs or state == STARTING or state == STOPPING


@compiled(of_world(2))
def take_shared(w, old, new):
    """Update the limits for a host that changes its state."""
    estate = estate_at(w.estate_at)
    estate.queued += np.int64(new == QUEUED) - np.int64(old == QUEUED)
    limits = limit_table(estate.limit_at, estate.limits)
    if w.throttle >= 0:
        limits[w.throttle].taken += np.int64(new == STARTING) - np.int64(old == STARTING)
    if w.quota >= 0:
        limits[w.quota].taken += w.quota_each * (np.int64(is_on(new)) - np.int64(is_on(old)))


@compiled(of_world(1))
def reserve_shared(w, change):
    """Reserve the limits for ``change`` more starts that are granted and have not begun."""
    w.grants += change
    estate = estate_at(w.estate_at)
    limits = limit_table(estate.limit_at, estate.limits)
    if w.throttle >= 0:
        limits[w.throttle].taken += change
    if w.quota >= 0:
        limits[w.quota].taken += change * w.quota_each


@compiled()
def leave_shared(w):
    """Give back everything at the end of the pool's horizon."""
    limits = limit_table(estate_at(w.estate_at).limit_at, estate_at(w.estate_at).limits)
    if w.throttle >= 0:
        limits[w.throttle].taken -= np.int64(w.level[L_STARTING]) - w.silent
    if w.quota >= 0:
        for level in POWERED_LEVELS:
            limits[w.quota].taken -= w.quota_each * np.int64(w.level[level])


@compiled(of_world(1))
def silent_hosts(w, change):
    """Count ``change`` more hosts whose agents do not register; they no longer count as starts."""
    w.silent += change
    if w.estate_at != 0 and w.throttle >= 0:
        estate = estate_at(w.estate_at)
        limit_table(estate.limit_at, estate.limits)[w.throttle].taken -= change


@compiled(inline=True)
def quota_allows(w):
    """Return whether the quota allows one more host to be on."""
    if w.estate_at == 0 or w.quota < 0:
        return True
    estate = estate_at(w.estate_at)
    limit = limit_table(estate.limit_at, estate.limits)[w.quota]
    return limit.taken + w.quota_each <= limit.most


@compiled(inline=True)
def throttle_allows(w):
    """Return whether the throttle allows one more start."""
    if w.estate_at == 0 or w.throttle < 0:
        return True
    estate = estate_at(w.estate_at)
    limit = limit_table(estate.limit_at, estate.limits)[w.throttle]
    return limit.taken < limit.most
