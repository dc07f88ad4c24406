"""``decide()``: the only place that decides to start, create, drain, undrain or stop a host.

It is pure: it reads a view and writes rows of (host, action, cause). The simulator calls the
compiled function at the start of the horizon, at each tick and at each knock;
``controller.Controller`` calls the same function.
"""

from __future__ import annotations

import numpy as np
from numba import types

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.records import ints, longs
from idle_harbor.core.policy.codes import (
    ABSENT,
    DRAINING,
    OFF,
    READY,
    Action,
    Cause,
)
from idle_harbor.core.policy.load_rules import look_at_rules
from idle_harbor.core.policy.targets import look_ahead
from idle_harbor.core.policy.view import (
    DRAIN,
    KEEP_ALL,
    NOBODY,
    NOTICE,
    SETTINGS_TYPE,
    SOMEBODY,
    VIEW_TYPE,
    Settings,
    View,
    row_table,
)

_START, _UNDRAIN, _DRAIN = int(Action.START), int(Action.UNDRAIN), int(Action.DRAIN)
_STOP, _CREATE, _NOTICE = int(Action.STOP), int(Action.CREATE), int(Action.NOTICE)
_FLOOR, _CEILING, _HEADROOM = int(Cause.FLOOR), int(Cause.CEILING), int(Cause.HEADROOM)
_READY_BY, _DRAIN_STEP = int(Cause.READY_BY), int(Cause.DRAIN_STEP)
_LOAD_RULE = int(Cause.LOAD_RULE)
_KNOCK, _ALWAYS = int(Cause.KNOCK), int(Cause.ALWAYS)
_EMPTY, _RELEASE, _DRAINED = int(Cause.EMPTY), int(Cause.RELEASE), int(Cause.DRAINED)
#: Tolerance for rounding in quotients such as 21 / (10 × 0.7).
_HAIR = 1e-9

_NUMBER = types.int64
_RECORDS = (VIEW_TYPE, SETTINGS_TYPE)


@compiled(_NUMBER(VIEW_TYPE), inline=True)
def _people(view: View) -> int:
    """Return the number of people with a session or waiting for one.

    Sessions on draining hosts count: without them one host after the other would be drained.
    """
    return view.on_ready + view.on_draining + view.waiting


@compiled(_NUMBER(*_RECORDS), inline=True)
def _for_ceiling(view: View, settings: Settings) -> int:
    """Return the number of hosts at which all people fill at most the fill ceiling's share of the
    slots."""
    return int(np.ceil(_people(view) / (settings.limit * settings.ceiling) - _HAIR))


@compiled(_NUMBER(*_RECORDS), inline=True)
def _headroom(view: View, settings: Settings) -> int:
    """Return the number of free slots to keep open."""
    share = int(np.ceil(_people(view) * settings.headroom_share - _HAIR))
    return max(settings.headroom, share)


@compiled(_NUMBER(*_RECORDS), inline=True)
def _most(view: View, settings: Settings) -> int:
    """Return the most hosts under the lid, without those that are always on."""
    return max(min(view.hosts, settings.lid), settings.always)


@compiled(_NUMBER(*_RECORDS))
def wanted_hosts(view: View, settings: Settings) -> int:
    """Return the number of hosts that the band's rules ask for, at most those that can exist.

    All people count, waiting or not. Targets and load rules are not included.
    """
    slots = _people(view) + _headroom(view, settings)
    for_room = (slots + settings.limit - 1) // settings.limit
    wanted = max(settings.floor, settings.always, for_room, _for_ceiling(view, settings))
    return min(wanted, _most(view, settings))


@compiled(types.boolean(*_RECORDS), inline=True)
def _keeps(view: View, settings: Settings) -> bool:
    """Return whether no host is released, except by drain steps or after a drain that has begun."""
    return settings.release == KEEP_ALL or view.veto != 0


@compiled(_NUMBER(*_RECORDS, _NUMBER, _NUMBER), inline=True)
def _with_targets(view: View, settings: Settings, have: int, wanted: int) -> int:
    """Return the hosts wanted, with those that targets in force ask for."""
    if view.target >= view.targets:
        return wanted
    most = _most(view, settings)
    kept = have if _keeps(view, settings) else min(have, wanted)
    look_ahead(view, settings, kept, min(have, most))
    return max(wanted, min(view.ready_by, most))


@compiled(_NUMBER(VIEW_TYPE, _NUMBER, _NUMBER, _NUMBER, _NUMBER), inline=True)
def _write(view: View, row: int, host: int, action: int, cause: int) -> int:
    out = row_table(view.rows_at, view.hosts)[row]
    out.host = host
    out.action = action
    out.cause = cause
    return row + 1


@compiled(_NUMBER(*_RECORDS, _NUMBER), inline=True)
def _with_load_rules(view: View, settings: Settings, wanted: int) -> int:
    """Return the hosts wanted, with those that load rules ask for on top."""
    return max(min(wanted + view.extra, _most(view, settings)), wanted)


@compiled(_NUMBER(*_RECORDS, _NUMBER, _NUMBER), inline=True)
def _start_cause(view: View, settings: Settings, ordinal: int, by_ceiling: int) -> int:
    """Return the cause of the ``ordinal``-th host: the first rule that asks for that many."""
    if ordinal <= settings.always:
        return _ALWAYS
    if ordinal <= settings.floor:
        return _FLOOR
    if ordinal <= view.ready_by:
        return _READY_BY
    if ordinal <= by_ceiling:
        return _CEILING
    for_room = (_people(view) + _headroom(view, settings) + settings.limit - 1) // settings.limit
    return _HEADROOM if ordinal <= for_room else _LOAD_RULE


@compiled(_NUMBER(*_RECORDS, _NUMBER, _NUMBER, _NUMBER))
def _raise_capacity(view: View, settings: Settings, have: int, wanted: int, cause: int) -> int:
    """Undrain the lowest-numbered draining hosts, then start the lowest-numbered that are off, then
    create the lowest-numbered that do not exist.

    Each gets the given cause; -1 stands for the rule that asks for it.
    """
    states = longs(view.state_at, view.hosts)
    by_ceiling = _for_ceiling(view, settings)
    rows = 0
    for wanted_state, action in ((DRAINING, _UNDRAIN), (OFF, _START), (ABSENT, _CREATE)):
        if have >= wanted:
            break
        for host in range(view.hosts):
            if states[host] == wanted_state:
                have += 1
                why = cause
                if cause < 0:
                    why = _start_cause(view, settings, have, by_ceiling)
                rows = _write(view, rows, host, action, why)
                if have >= wanted:
                    break
    return rows


@compiled(_NUMBER(*_RECORDS))
def _may_drain(view: View, settings: Settings) -> int:
    """Return how many more hosts may drain now; shares round down, and at least one may."""
    on = view.ready + view.draining
    share = max(int(np.floor(on * settings.draining_share + _HAIR)), 1)
    return min(settings.draining, share) - view.draining


@compiled(_NUMBER(*_RECORDS))
def _free(view: View, settings: Settings) -> int:
    """Return the free slots of hosts that take sessions; a host above its limit has none."""
    states = longs(view.state_at, view.hosts)
    sessions = longs(view.sessions_at, view.hosts)
    free = 0
    for host in range(view.hosts):
        if states[host] == READY:
            free += max(settings.limit - sessions[host], 0)
    return free


@compiled(_NUMBER(*_RECORDS, _NUMBER))
def _step_cap(view: View, settings: Settings, have: int) -> int:
    """Return the most hosts that drain steps leave in service.

    The share applies to the hosts in service when the first step began. The floor and targets limit
    it. Outside of drain steps there is no bound.
    """
    if settings.step_share == 0.0:
        view.stepping = 0
        return view.hosts
    if view.stepping == 0 or view.steps_of != settings.band_begins:
        view.stepping = have
        view.steps_of = settings.band_begins
    gone = max(int(np.floor(view.stepping * settings.step_share + _HAIR)), 1)
    return max(view.stepping - gone, settings.floor, settings.always, view.ready_by)


@compiled(_NUMBER(*_RECORDS, _NUMBER, types.boolean))
def _let_go(view: View, settings: Settings, over: int, by_step: bool) -> int:
    """Stop empty hosts, highest number first; then drain the least loaded hosts while the free
    slots of ready hosts still cover the headroom, with notice if the band gives one.

    Surge hosts have the highest numbers and drain before standing hosts. Hosts that are always on,
    and hosts before their least run, stay. A drain step ignores headroom, least run and the number
    of hosts that may drain at once.
    """
    states = longs(view.state_at, view.hosts)
    sessions = longs(view.sessions_at, view.hosts)
    since = longs(view.since_at, view.hosts)
    limit, latest = settings.limit, view.now - settings.least_run
    free, headroom, more = _free(view, settings), _headroom(view, settings), view.hosts
    empty, least_used = _EMPTY, _RELEASE
    if by_step:
        empty = least_used = _DRAIN_STEP
        latest, free, headroom = view.now, view.hosts * limit, 0
    else:
        more = _may_drain(view, settings)
    rows = 0
    for host in range(view.hosts - 1, settings.always - 1, -1):
        if over == 0:
            return rows
        if states[host] == READY and sessions[host] == 0 and since[host] <= latest:
            rows = _write(view, rows, host, _STOP, empty)
            over -= 1
            free -= limit
    if (settings.release < DRAIN and not by_step) or over == 0 or more <= 0:
        return rows
    drain = _NOTICE if settings.release == NOTICE else _DRAIN
    # Hosts chained by their number of sessions, highest number first within a chain.
    scratch = longs(view.scratch_at, view.hosts + view.holds + 1)
    head, following = scratch[: view.holds + 1], scratch[view.holds + 1 :]
    head[:] = -1
    for host in range(settings.always, view.hosts):
        if states[host] == READY and sessions[host] > 0 and since[host] <= latest:
            following[host] = head[sessions[host]]
            head[sessions[host]] = host
    for surge in (True, False):
        for held in range(1, view.holds + 1):
            room = max(limit - held, 0)
            host = head[held]
            while host >= 0:
                if (host >= settings.standing) == surge:
                    if over == 0 or more == 0 or free - room < headroom:
                        return rows
                    rows = _write(view, rows, host, drain, least_used)
                    free -= room
                    over -= 1
                    more -= 1
                host = following[host]
    return rows


@compiled(_NUMBER(*_RECORDS))
def _any_host(view: View, settings: Settings) -> int:
    """Decide about hosts that take anybody.

    A draining host keeps draining until it is undrained for need or is empty. An empty draining
    host stops in every band, because its release was decided when the drain began.
    """
    have = view.ready + view.coming - view.overdue
    if view.rules > 0:
        look_at_rules(view, settings)
    wanted = _with_targets(view, settings, have, wanted_hosts(view, settings))
    wanted = _with_load_rules(view, settings, wanted)
    cap = _step_cap(view, settings, have)
    wanted = min(wanted, cap)
    rows = 0
    if have > cap:
        rows = _let_go(view, settings, have - cap, True)
    elif have < wanted:
        rows = _raise_capacity(view, settings, have, wanted, -1)
    elif have - wanted >= settings.margin and not _keeps(view, settings):
        rows = _let_go(view, settings, have - wanted, False)
    if view.draining > 0:
        states = longs(view.state_at, view.hosts)
        sessions = longs(view.sessions_at, view.hosts)
        undrained = min(view.draining, max(wanted - have, 0))
        for host in range(view.hosts):
            if states[host] == DRAINING:
                if undrained > 0:
                    undrained -= 1
                elif sessions[host] == 0:
                    rows = _write(view, rows, host, _STOP, _DRAINED)
    return rows


@compiled(_NUMBER(*_RECORDS))
def _named_hosts(view: View, settings: Settings) -> int:
    """Decide about the hosts of a dedicated pool.

    The floor keeps the lowest-numbered hosts ready by the clock, a target likewise, and the
    headroom keeps hosts ready that are nobody's yet. Any other host that is ready and empty stops
    if the band releases, after its least run, unless its person waits. People start their own hosts
    by a knock: see :func:`_knock`.
    """
    states = longs(view.state_at, view.hosts)
    sessions = longs(view.sessions_at, view.hosts)
    owners = ints(view.owner_at, view.hosts)
    waits = longs(view.waits_at, view.hosts)
    since = longs(view.since_at, view.hosts)
    rows = 0
    spare = settings.headroom
    if view.target < view.targets:
        look_ahead(view, settings, 0, 0)
    for host in range(view.hosts):
        by_target = host < view.ready_by
        by_floor = host < settings.floor or by_target
        by_headroom = owners[host] < 0 and spare > 0
        spare -= int(by_headroom)
        if by_floor or by_headroom:
            if states[host] == OFF:
                cause = _FLOOR if host < settings.floor else _READY_BY
                rows = _write(view, rows, host, _START, cause if by_floor else _HEADROOM)
            continue
        unused = states[host] == READY and sessions[host] == 0 and waits[host] == 0
        has_run = since[host] <= view.now - settings.least_run
        if unused and has_run and settings.release != KEEP_ALL:
            rows = _write(view, rows, host, _STOP, _EMPTY)
    return rows


@compiled(_NUMBER(VIEW_TYPE))
def _knock(view: View) -> int:
    """Decide about a host whose person asks for it: start it if it is off, undrain it if it drains.

    A stopping host has to be off first.
    """
    state = longs(view.state_at, view.hosts)[view.knocking]
    if state == OFF:
        return _write(view, 0, view.knocking, _START, _KNOCK)
    if state == DRAINING:
        return _write(view, 0, view.knocking, _UNDRAIN, _KNOCK)
    return 0


@compiled(_NUMBER(*_RECORDS))
def _knock_for_room(view: View, settings: Settings) -> int:
    """Decide about a person without room: one more host, unless the coming hosts have room for
    everyone who waits."""
    coming = view.coming - view.overdue
    have = view.ready + coming
    most = min(_most(view, settings), _step_cap(view, settings, have))
    if view.waiting <= coming * settings.limit or have >= most:
        return 0
    return _raise_capacity(view, settings, have, have + 1, _KNOCK)


@compiled(_NUMBER(*_RECORDS), entry=True)
def decide(view: View, settings: Settings) -> int:
    """Decide about every host of a pool, or about the host whose person knocks.

    ``view`` is what the policy sees; ``settings`` is the row in force. Rows of (host, action,
    cause), at most one per host, are written to the view's ``rows_at``. Returns their number.
    """
    if settings.exists == 0:
        return 0
    if view.knocking == SOMEBODY:
        return _knock_for_room(view, settings)
    if view.knocking != NOBODY:
        return _knock(view)
    if settings.dedicated != 0:
        return _named_hosts(view, settings)
    return _any_host(view, settings)
