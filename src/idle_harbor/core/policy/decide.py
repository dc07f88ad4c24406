"""``decide()``: the one place where it is decided to start, drain, undrain or stop a host.

It is pure: what it sees in, actions with their causes out. The simulator calls the compiled form
at each tick; :func:`decide_for` is the same function for everyone else.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from idle_harbor.core.compiled import compiled
from idle_harbor.core.engine.kernel.codes import (
    ABSENT,
    CREATING,
    DRAINING,
    HOST_STATE_NAMES,
    OFF,
    QUEUED,
    READY,
    RESETTING,
    STARTING,
    Action,
    Cause,
)
from idle_harbor.core.plan import Release

KEEP_ALL, WHEN_EMPTY, DRAIN = 0, 1, 2

#: What ``decide`` is told of the hosts as a whole: coming are those that start, wait for their
#: start, are created or cleaned; uncounted are the ready and coming ones that have not reached the
#: point of their start from which the pool counts them.
N_READY, N_COMING, N_DRAINING, N_ON_READY, N_ON_DRAINING, N_UNCOUNTED = range(6)
N_COUNTS = 6

RELEASE_CODES: dict[Release, int] = {"keep all": KEEP_ALL, "when empty": WHEN_EMPTY, "drain": DRAIN}

_START, _UNDRAIN, _DRAIN = int(Action.START), int(Action.UNDRAIN), int(Action.DRAIN)
_STOP, _CREATE = int(Action.STOP), int(Action.CREATE)
_FLOOR, _CEILING, _HEADROOM = int(Cause.FLOOR), int(Cause.CEILING), int(Cause.HEADROOM)
_KNOCK, _ALWAYS = int(Cause.KNOCK), int(Cause.ALWAYS)
_EMPTY, _RELEASE, _DRAINED = int(Cause.EMPTY), int(Cause.RELEASE), int(Cause.DRAINED)
#: Guards quotients such as 21 / (10 × 0.7) against being a hair above a whole number.
_HAIR = 1e-9


@compiled("i8(i8, i8, f8)", inline=True)
def wanted_for_ceiling(people, limit, ceiling):
    """Hosts at which ``people`` fill no more than ``ceiling`` of the slots."""
    return np.int64(np.ceil(people / (limit * ceiling) - _HAIR))


@compiled("i8(i8, i8, i8, f8, i8, i8, i8)", inline=True)
def wanted_hosts(people, limit, floor, ceiling, headroom, always, hosts):
    """Hosts wanted for ``people`` (all sessions and people waiting), cut at those there can be.

    ``always`` are on whatever the band says: standing hosts that cannot be off.
    """
    for_room = (people + headroom + limit - 1) // limit
    wanted = max(floor, always, for_room, wanted_for_ceiling(people, limit, ceiling))
    return min(wanted, hosts)


@compiled("i8(i8, i8, i8, i8)", inline=True)
def _start_cause(ordinal, always, floor, wanted_by_ceiling):
    """Cause of the ``ordinal``-th host: the first rule that asks for so many."""
    if ordinal <= always:
        return _ALWAYS
    if ordinal <= floor:
        return _FLOOR
    if ordinal <= wanted_by_ceiling:
        return _CEILING
    return _HEADROOM


@compiled("i8(i8[:], i8, i8, i8, i8)", inline=True)
def _write(out, row, host, action, cause):
    out[3 * row] = host
    out[3 * row + 1] = action
    out[3 * row + 2] = cause
    return row + 1


@compiled("i8(i8[:], i8, i8, i8, i8, i8, i8[:], i8)")
def _raise_capacity(state, short, have, always, floor, by_ceiling, out, rows):
    """Undrain the lowest-numbered draining hosts, then start the lowest-numbered that are off,
    then create the lowest-numbered that do not exist."""
    for wanted_state, action in ((DRAINING, _UNDRAIN), (OFF, _START), (ABSENT, _CREATE)):
        if short == 0:
            break
        for host in range(state.shape[0]):
            if state[host] == wanted_state:
                have += 1
                cause = _start_cause(have, always, floor, by_ceiling)
                rows = _write(out, rows, host, action, cause)
                short -= 1
                if short == 0:
                    break
    return rows


@compiled("i8(i8[:], i8[:], i8, i8, i8, i8, i8, i8, i8, i8[:], i8, i8[:])")
def _let_go(
    state, sessions, over, free, limit, headroom, release, standing, always, out, rows, scratch
):
    """Stop empty hosts, highest number first; then drain the least loaded of the rest.

    Surge hosts have the highest numbers, and drain before standing ones; the ``always`` lowest
    are kept.
    """
    hosts = state.shape[0]
    for host in range(hosts - 1, always - 1, -1):
        if over == 0:
            return rows
        if state[host] == READY and sessions[host] == 0:
            rows = _write(out, rows, host, _STOP, _EMPTY)
            over -= 1
            free -= limit
    if release != DRAIN or over == 0:
        return rows
    # Hosts chained by their number of sessions, highest number first within a chain.
    head, following = scratch[: limit + 1], scratch[limit + 1 :]
    head[:] = -1
    for host in range(always, hosts):
        if state[host] == READY and sessions[host] > 0:
            following[host] = head[sessions[host]]
            head[sessions[host]] = host
    for surge in (True, False):
        for held in range(1, limit + 1):
            host = head[held]
            while host >= 0:
                if (host >= standing) == surge:
                    if over == 0 or free - (limit - held) < headroom:
                        return rows
                    rows = _write(out, rows, host, _DRAIN, _RELEASE)
                    free -= limit - held
                    over -= 1
                host = following[host]
    return rows


@compiled("void(i8[:], i8[:], i8[:])")
def count_hosts(state, sessions, counts):
    """Fill ``counts`` from the hosts: ready, coming, draining, sessions on ready ones, on
    draining ones, none uncounted. The simulator keeps these numbers as it goes."""
    counts[:] = 0
    for host in range(state.shape[0]):
        if state[host] == READY:
            counts[N_READY] += 1
            counts[N_ON_READY] += sessions[host]
        elif state[host] == DRAINING:
            counts[N_DRAINING] += 1
            counts[N_ON_DRAINING] += sessions[host]
        elif state[host] in (STARTING, QUEUED, CREATING, RESETTING):
            counts[N_COMING] += 1


@compiled("i8(i8[:], i8[:], i8[:], i8, i8, i8, f8, i8, i8, i8, i8, i8[:], i8[:])")
def decide(
    state, sessions, counts, waiting, limit, floor, ceiling, headroom, release, standing, always,
    out, scratch,
):  # fmt: skip
    """Decide about every host of a shared or lent pool.

    ``state`` and ``sessions`` hold each host's state and sessions and ``counts`` what
    :func:`count_hosts` says of them, so that a tick at which there is nothing to do looks at no
    host; ``waiting`` counts people without a session; then the band's settings; the ``standing``
    hosts are the lowest-numbered, the others are created, and the first ``always`` are never let
    go (standing hosts that cannot be off). Rows of
    (host, action, cause) are written to ``out``, one after the other, at most one per host; their
    number is returned. ``scratch`` needs hosts + limit + 1 entries, whatever they hold.

    A host that drains keeps doing so until it is undrained for need, or is empty: then it stops
    in every band, since letting it go was decided when its drain began.
    """
    people = counts[N_ON_READY] + counts[N_ON_DRAINING] + waiting
    wanted = wanted_hosts(people, limit, floor, ceiling, headroom, always, state.shape[0])
    have = counts[N_READY] + counts[N_COMING] - counts[N_UNCOUNTED]
    rows = np.int64(0)
    if have < wanted:
        by_ceiling = wanted_for_ceiling(people, limit, ceiling)
        short = wanted - have
        rows = _raise_capacity(state, short, have, always, floor, by_ceiling, out, rows)
    elif have > wanted and release != KEEP_ALL:
        free = have * limit - counts[N_ON_READY]
        rows = _let_go(
            state, sessions, have - wanted, free, limit, headroom, release, standing, always,
            out, rows, scratch,
        )  # fmt: skip
    if counts[N_DRAINING] > 0:
        undrained = min(counts[N_DRAINING], max(wanted - have, 0))
        for host in range(state.shape[0]):
            if state[host] == DRAINING:
                if undrained > 0:
                    undrained -= 1
                elif sessions[host] == 0:
                    rows = _write(out, rows, host, _STOP, _DRAINED)
    return rows


@compiled("UniTuple(i8, 2)(i8)")
def knock(state):
    """What a person who finds their own host not ready makes happen: (action, cause) or (-1, 0).

    A host that is off starts, one that drains is taken back; one that stops has to be off first.
    """
    if state == OFF:
        return _START, _KNOCK
    if state == DRAINING:
        return _UNDRAIN, _KNOCK
    return np.int64(-1), np.int64(0)


@compiled("i8(i8[:], i8[:], i4[:], i8[:], i8, i8, i8, i8[:])")
def decide_dedicated(state, sessions, owner, waiting, floor, headroom, release, out):
    """Decide about every host of a dedicated pool at a tick; rows as :func:`decide` writes them.

    The ``floor`` lowest-numbered hosts are ready by the clock, and of those that are nobody's
    (``owner`` -1) the ``headroom`` lowest-numbered, for first logons. Whatever else is ready and
    empty stops where the band releases, unless its person is ``waiting``. People in need start
    their own hosts: see :func:`knock`.
    """
    rows = np.int64(0)
    spare = headroom
    for host in range(state.shape[0]):
        by_floor = host < floor
        by_headroom = owner[host] < 0 and spare > 0
        spare -= np.int64(by_headroom)
        if by_floor or by_headroom:
            if state[host] == OFF:
                cause = _FLOOR if by_floor else _HEADROOM
                rows = _write(out, rows, host, _START, cause)
            continue
        unused = state[host] == READY and sessions[host] == 0 and waiting[host] == 0
        if unused and release != KEEP_ALL:
            rows = _write(out, rows, host, _STOP, _EMPTY)
    return rows


@dataclass(frozen=True, slots=True)
class BandSettings:
    """The settings of the band in force, as ``decide`` takes them."""

    floor: int
    fill_ceiling: float
    headroom: int
    release: Release


@dataclass(frozen=True, slots=True)
class Decision:
    """One action on one host and its cause."""

    host: int
    action: Action
    cause: Cause


@dataclass(frozen=True, slots=True)
class HostsView:
    """How many of the hosts stand (all where None), are never let go, and do not count yet."""

    standing: int | None = None
    always: int = 0
    uncounted: int = 0


def decide_for(
    states: Sequence[str],
    sessions: Sequence[int],
    waiting: int,
    limit: int,
    band: BandSettings,
    hosts: HostsView = HostsView(),
) -> list[Decision]:
    """:func:`decide` over plain Python values: state names as in ``HOST_STATE_NAMES``."""
    codes = np.array([HOST_STATE_NAMES.index(state) for state in states], dtype=np.int64)
    out = np.empty(3 * (len(states) + 1), dtype=np.int64)
    held = np.array(sessions, dtype=np.int64)
    counts = np.empty(N_COUNTS, dtype=np.int64)
    count_hosts(codes, held, counts)
    counts[N_UNCOUNTED] = hosts.uncounted
    rows = decide(
        codes,
        held,
        counts,
        waiting,
        limit,
        band.floor,
        band.fill_ceiling,
        band.headroom,
        RELEASE_CODES[band.release],
        len(states) if hosts.standing is None else hosts.standing,
        hosts.always,
        out,
        np.empty(len(states) + limit + 1, dtype=np.int64),
    )
    return [
        Decision(int(host), Action(int(action)), Cause(int(cause)))
        for host, action, cause in out[: 3 * rows].reshape(-1, 3)
    ]
