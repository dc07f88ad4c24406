"""How many are present over time: a compiled sweep over sorted beginnings and ends."""

from __future__ import annotations

import numpy as np

from idle_harbor.core.compiled import compiled
from idle_harbor.core.kernel.codes import FAR


@compiled("void(i4[::1], i4[::1], i8, i8, f8[::1], i4[::1])")
def sweep(begins, ends, step, length, seconds, highest):
    """Fill person-seconds and the highest presence of every ``step`` seconds up to ``length``.

    Those who end at a second are gone before those who begin at it come.
    """
    count = begins.shape[0]
    began = ended = present = np.int64(0)
    now = np.int64(0)
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
            until = min(until, np.int64(begins[began]))
        if ended < count:
            until = min(until, np.int64(ends[ended]))
        while now < until:
            here = now // step
            if present > highest[here]:
                highest[here] = present
            stop = min(until, (here + 1) * step)
            seconds[here] += present * (stop - now)
            now = stop


@compiled("void(i4[::1], i4[::1], i4[::1], i1[::1], i8[::1], i8[::1], i8[::1], i8[::1], i4[::1])")
def join_sessions(person, start, end, leaving, logon, lives, until, latest, session_end):
    """Spells become sessions: a person who returns in time goes on with theirs.

    ``session_end`` gets every session's end at its first spell's index and -1 elsewhere;
    ``logon`` holds seconds of logon to add where a spell's end is a length, -1 elsewhere, and is
    left with the end of work. ``until`` and ``latest`` are scratch: 0 and -1 for every person.
    """
    for k in range(start.shape[0]):
        who = person[k]
        stop = np.int64(end[k])
        if logon[k] >= 0:
            stop += start[k] + logon[k]
        logon[k] = stop
        gone = min(stop + lives[leaving[k]], FAR)
        if start[k] < until[who] and latest[who] >= 0:
            session_end[k] = -1
            session_end[latest[who]] = gone
        else:
            session_end[k] = gone
            latest[who] = k
        until[who] = gone
