"""How many are present over time: a compiled sweep over sorted beginnings and ends."""

from __future__ import annotations

from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.demand.kernel.leaving import DISCONNECT, FAR, SIGN_OFF, WALK_AWAY

Bytes: TypeAlias = NDArray[np.int8]
Shorts: TypeAlias = NDArray[np.int16]
Ints: TypeAlias = NDArray[np.int32]
Longs: TypeAlias = NDArray[np.int64]


@compiled("void(i4[::1], i4[::1], i8, i8, f8[::1], i4[::1])", entry=True)
def sweep(
    begins: Ints,
    ends: Ints,
    step: int,
    length: int,
    seconds: NDArray[np.float64],
    highest: Ints,
) -> None:
    """Fill person-seconds and the highest presence of every ``step`` seconds up to ``length``.

    Those who end at a second are gone before those who begin at it come.
    """
    count = begins.shape[0]
    began = ended = present = 0
    now = 0
    while now < length:
        while ended < count and ends[ended] <= now:
            ended += 1
            present -= 1
        while began < count and begins[began] <= now:
            began += 1
            present += 1
        here = now // step
        if present > highest[here]:
            highest[here] = present
        until = length
        if began < count:
            until = min(until, int(begins[began]))
        if ended < count:
            until = min(until, int(ends[ended]))
        while now < until:
            here = now // step
            if present > highest[here]:
                highest[here] = present
            stop = min(until, (here + 1) * step)
            seconds[here] += present * (stop - now)
            now = stop


@compiled(
    "void(i4[::1], i4[::1], i4[::1], i1[::1], i1[::1], i2[::1], i8[::1], i8, i8, i8, "
    "i8[::1], i8[::1], i8[::1], i8[::1], i8[::1], i4[::1])",
    entry=True,
)
def follow_sessions(
    person: Ints,
    start: Ints,
    end: Ints,
    leaving: Bytes,
    by_connection: Bytes,
    profile: Shorts,
    logon: Longs,
    idle: int,
    gone: int,
    reconnect: int,
    until: Longs,
    idle_until: Longs,
    latest: Longs,
    begins: Longs,
    ends: Longs,
    session_end: Ints,
) -> None:
    """What becomes of every spell's session where there is always room and logons run at full
    speed, under the same rules as the event loop.

    ``begins`` and ``ends`` get when each spell's session is active, logons included; equal where
    it never is. ``session_end`` gets a session's end at its first spell's index, -1 elsewhere.
    ``logon`` has whole seconds by profile; ``idle`` and ``gone`` are the timeouts. ``until``,
    ``idle_until`` (0 for every person) and ``latest`` (-1) are scratch.

    A spell that ends during its logon is signed off there; one that ends during its reconnect
    leaves the session in the state it had, timeouts starting anew.
    """
    for k in range(start.shape[0]):
        who = person[k]
        begin = int(start[k])
        stop = int(end[k])
        work = logon[profile[k]]
        if by_connection[k] != 0:
            stop += begin + work
        returns = begin < until[who]
        way = int(leaving[k])
        if returns:
            if reconnect > 0 and stop <= begin + reconnect:
                way = WALK_AWAY if begin < idle_until[who] else DISCONNECT
                begin = stop
            else:
                begin += reconnect
        elif by_connection[k] == 0 and stop < begin + work:
            way = SIGN_OFF
        begins[k] = begin
        ends[k] = stop
        idle_until[who] = stop + idle if way == WALK_AWAY else 0
        if way == WALK_AWAY:
            until[who] = stop + idle + gone
        else:
            until[who] = stop + gone if way == DISCONNECT else stop
        session_end[k] = -1
        if not returns:
            latest[who] = k
        session_end[latest[who]] = min(until[who], FAR)
