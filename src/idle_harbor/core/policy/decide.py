"""``decide()``: the one place where it is decided to start, create, drain, undrain or stop a host.

It is pure: what it sees in, rows of (host, action, cause) out. The simulator calls the compiled
form at the horizon's start, at each tick and where a person knocks; ``controller.Controller`` asks
the same function for everyone else.
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
#: Guards quotients such as 21 / (10 × 0.7) against being a hair above a whole number.
_HAIR = 1e-9

_NUMBER = types.int64
_RECORDS = (VIEW_TYPE, SETTINGS_TYPE)


@compiled(_NUMBER(VIEW_TYPE), inline=True)
def _people(view: View) -> int:
    """Everyone with a session or without: counting those on draining hosts out would drain one
    host after the other."""
    return view.on_ready + view.on_draining + view.waiting


@compiled(_NUMBER(*_RECORDS), inline=True)
def _for_ceiling(view: View, settings: Settings) -> int:
    """Hosts at which everyone, waiting or not, fills no more than the ceiling of the slots."""
    return int(np.ceil(_people(view) / (settings.limit * settings.ceiling) - _HAIR))


@compiled(_NUMBER(*_RECORDS), inline=True)
def _headroom(view: View, settings: Settings) -> int:
    """Free slots to keep open."""
    share = int(np.ceil(_people(view) * settings.headroom_share - _HAIR))
    return max(settings.headroom, share)


@compiled(_NUMBER(*_RECORDS), inline=True)
def _most(view: View, settings: Settings) -> int:
    """Hosts that there can be under the lid, but for those that are always on."""
    return max(min(view.hosts, settings.lid), settings.always)


@compiled(_NUMBER(*_RECORDS))
def wanted_hosts(view: View, settings: Settings) -> int:
    """Hosts that the band wants for everyone, waiting or not, cut at those that there can be: but
    for the targets, which look at what would be there without them."""
    slots = _people(view) + _headroom(view, settings)
    for_room = (slots + settings.limit - 1) // settings.limit
    wanted = max(settings.floor, settings.always, for_room, _for_ceiling(view, settings))
    return min(wanted, _most(view, settings))


@compiled(types.boolean(*_RECORDS), inline=True)
def _keeps(view: View, settings: Settings) -> bool:
    """Whether no host is let go, but for those whose drain has begun and by drain steps."""
    return settings.release == KEEP_ALL or view.veto != 0


@compiled(_NUMBER(*_RECORDS, _NUMBER, _NUMBER), inline=True)
def _with_targets(view: View, settings: Settings, have: int, wanted: int) -> int:
    """Hosts wanted with what is to be ready by and by."""
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
    """Hosts wanted with what load rules ask for beyond all else."""
    return max(min(wanted + view.extra, _most(view, settings)), wanted)


@compiled(_NUMBER(*_RECORDS, _NUMBER, _NUMBER), inline=True)
def _start_cause(view: View, settings: Settings, ordinal: int, by_ceiling: int) -> int:
    """Cause of the ``ordinal``-th host: the first rule that asks for so many."""
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
    """Undrain the lowest-numbered draining hosts, then start the lowest-numbered that are off,
    then create the lowest-numbered that do not exist.

    The cause of each is the one given, or where that is -1 the rule that asks for it.
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
    """How many more hosts may drain at once; shares round down, and one always may."""
    on = view.ready + view.draining
    share = max(int(np.floor(on * settings.draining_share + _HAIR)), 1)
    return min(settings.draining, share) - view.draining


@compiled(_NUMBER(*_RECORDS))
def _free(view: View, settings: Settings) -> int:
    """Free slots of hosts that take sessions; one that holds more than it takes now has none."""
    states = longs(view.state_at, view.hosts)
    sessions = longs(view.sessions_at, view.hosts)
    free = 0
    for host in range(view.hosts):
        if states[host] == READY:
            free += max(settings.limit - sessions[host], 0)
    return free


@compiled(_NUMBER(*_RECORDS, _NUMBER))
def _step_cap(view: View, settings: Settings, have: int) -> int:
    """Hosts that drain steps leave: of those that were had when the first began, so many take
    nobody new, as far as the floor and what is to be ready allow. Outside of steps: any number."""
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
    """Stop empty hosts, highest number first; then drain the least loaded of the rest, as long as
    the free slots of ready hosts are the headroom afterwards, with notice where the band gives one.

    Surge hosts have the highest numbers, and drain before standing ones; those that are always on
    are kept, and so are those that have not run for long enough. A drain step looks at neither
    headroom nor least run, nor at how many may drain.
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
    """Hosts that take anybody: as many as are wanted.

    A host that drains keeps doing so until it is undrained for need, or is empty: then it stops
    in every band, since letting it go was decided when its drain began.
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
    """Hosts that are each one person's.

    The floor's lowest-numbered hosts are ready by the clock, as many by a target, and of those that
    are nobody's as many as the headroom, for first logons. Whatever else is ready and empty stops
    where the band releases, once it has run for long enough, unless its person waits. People in
    need start their own hosts: see :func:`_knock`.
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
    """A person finds their own host not ready: it starts if it is off, and is taken back if it
    drains; one that stops has to be off first."""
    state = longs(view.state_at, view.hosts)[view.knocking]
    if state == OFF:
        return _write(view, 0, view.knocking, _START, _KNOCK)
    if state == DRAINING:
        return _write(view, 0, view.knocking, _UNDRAIN, _KNOCK)
    return 0


@compiled(_NUMBER(*_RECORDS))
def _knock_for_room(view: View, settings: Settings) -> int:
    """A person finds no room: one more host, unless those that are coming have room for everyone
    who waits."""
    coming = view.coming - view.overdue
    have = view.ready + coming
    most = min(_most(view, settings), _step_cap(view, settings, have))
    if view.waiting <= coming * settings.limit or have >= most:
        return 0
    return _raise_capacity(view, settings, have, have + 1, _KNOCK)


@compiled(_NUMBER(*_RECORDS), entry=True)
def decide(view: View, settings: Settings) -> int:
    """Decide about every host of a pool, or about the one whose person knocks.

    Rows of (host, action, cause) are written to the view's ``rows_at``, one after the other, at
    most one for each host; their number is returned.
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
