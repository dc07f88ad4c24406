"""Which targets are in force: as early as their hosts need to be ready in time."""

from __future__ import annotations

from numba import types

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.records import ints, longs
from idle_harbor.core.policy.codes import CREATING, OFF, QUEUED, READY, RESETTING, STARTING
from idle_harbor.core.policy.lead import CREATED, CREATED_TOO, STARTED, STARTED_TOO
from idle_harbor.core.policy.view import (
    KEEP_ALL,
    SETTINGS_TYPE,
    VIEW_TYPE,
    Settings,
    View,
    target_table,
)

_NUMBER = types.int64
_RECORDS = (VIEW_TYPE, SETTINGS_TYPE)


@compiled(_NUMBER(*_RECORDS, _NUMBER), inline=True)
def _to_start(view: View, settings: Settings, kept: int) -> int:
    """Return the number of hosts that can be started rather than created.

    These are standing hosts that do not stay anyway, in any state, and surge hosts that are off.
    Throwaway hosts are always on or created.
    """
    states = longs(view.state_at, view.hosts)
    found = max(settings.standing - kept, 0) if settings.always == 0 else 0
    for host in range(settings.standing, view.hosts):
        found += int(states[host] == OFF)
    return found


@compiled(_NUMBER(*_RECORDS, _NUMBER, _NUMBER))
def _lead(view: View, settings: Settings, kept: int, missing: int) -> int:
    """Return the seconds until the last of a number of hosts is ready.

    If starts queue, hosts that start or wait for a start come first. If hosts of both kinds are
    missing, created hosts are assumed to start after the others.
    """
    if missing == 0:
        return 0
    row = view.hosts + 1
    table = longs(view.lead_at, 4 * row)
    before = view.coming if view.throttled != 0 else 0
    created = max(missing - _to_start(view, settings, kept), 0)
    started = min(missing - created + before, view.hosts)
    if created == 0:
        return int(table[STARTED * row + started])
    if started == 0:
        return int(table[CREATED * row + created])
    others = int(table[STARTED_TOO * row + started])
    new = int(table[CREATED_TOO * row + created])
    return others + new if view.throttled != 0 else max(others, new)


@compiled(_NUMBER(*_RECORDS, _NUMBER))
def _own_that_stay(view: View, settings: Settings, asked: int) -> int:
    """Return, of the lowest-numbered hosts of a dedicated pool that a target asks for, those that
    are ready or coming and that this look does not release."""
    states = longs(view.state_at, view.hosts)
    owners = ints(view.owner_at, view.hosts)
    spare = settings.headroom
    wanted = max(settings.floor, view.ready_by)
    found = 0
    for host in range(min(asked, view.hosts)):
        for_first = owners[host] < 0 and spare > 0
        spare -= int(for_first)
        state = states[host]
        had = state in (READY, STARTING, QUEUED, CREATING, RESETTING)
        stays = settings.release == KEEP_ALL or host < wanted or for_first
        found += int(had and stays)
    return found


@compiled(_NUMBER(*_RECORDS, _NUMBER, _NUMBER, _NUMBER))
def _in_force_from(view: View, settings: Settings, first: int, kept: int, have: int) -> int:
    """Return 1 if the target comes into force at this look, else 0."""
    target = target_table(view.target_at, view.targets)[first]
    asked = min(target.hosts, view.hosts)
    if settings.dedicated != 0:
        kept = _own_that_stay(view, settings, asked)
    else:
        kept = max(kept, min(have, view.ready_by))
    lead = _lead(view, settings, kept, max(asked - kept, 0))
    return int(target.at <= view.now + view.tick + lead)


@compiled(types.void(*_RECORDS, _NUMBER, _NUMBER))
def look_ahead(view: View, settings: Settings, kept: int, have: int) -> None:
    """Set the number of hosts that targets in force ask for (``view.ready_by``).

    ``have`` hosts are ready or coming; ``kept`` of them stay regardless of targets. A target in
    force keeps the hosts that it asks for. Any other host that a target needs counts as missing,
    because it may be released now. A target is in force from the last look that is early enough
    until its end. In dedicated pools hosts are looked at one by one.
    """
    view.ready_by = 0
    targets = target_table(view.target_at, view.targets)
    while view.target < view.targets and targets[view.target].until <= view.now:
        view.target += 1
    soon = view.now + view.tick + view.longest_lead
    for k in range(view.target, view.targets):
        target = targets[k]
        if target.at > soon:
            break
        if target.in_force != 0 and target.until > view.now:
            view.ready_by = max(view.ready_by, target.hosts)
    for k in range(view.target, view.targets):
        target = targets[k]
        if target.at > soon:
            break
        if target.in_force == 0 and target.until > view.now:
            target.in_force = _in_force_from(view, settings, k, kept, have)
            if target.in_force != 0:
                view.ready_by = max(view.ready_by, target.hosts)
