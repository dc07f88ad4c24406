"""How many are present over time: a compiled sweep over sorted beginnings and ends."""

from __future__ import annotations

import numpy as np

from idle_harbor.core.compiled import compiled


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
