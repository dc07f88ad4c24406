"""Compiled loops over people: a day of patterns becomes spells; spells are ordered and joined.

Tables are float64 rows whose columns are the constants below; times are seconds, walls count from
00:00 of the local date, instants from the horizon's start.
"""

from __future__ import annotations

from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.demand.kernel.presence import Bytes, Ints, Longs, Shorts
from idle_harbor.core.demand.kernel.quantiles import histogram_quantile, normal_quantile

Reals: TypeAlias = NDArray[np.float64]

#: Nobody's working day is shorter than this, whatever the draw says.
LEAST_LENGTH = 600

# A spread: mean and deviation of a normal, or first and step of the histogram at an offset
(SPREAD_A, SPREAD_B, SPREAD_AT, SPREAD_COUNT) = range(4)
SPREAD_COLUMNS = 4
# A pattern: attendance, two spreads, edges of the ways of leaving, its rows of the break table
P_ATTENDS = 0
P_START = 1
P_LENGTH = P_START + SPREAD_COLUMNS
P_SIGN_OFF = P_LENGTH + SPREAD_COLUMNS
P_DISCONNECT = P_SIGN_OFF + 1
P_BREAK, P_BREAKS = P_DISCONNECT + 1, P_DISCONNECT + 2
PATTERN_COLUMNS = P_BREAKS + 1
# A break: probability, clock time (or -1) or seconds after the start, spreads, edges of leaving,
# the number of its draws, and seconds of work after a break at the end of the day (or 0)
(
    B_TAKEN,
    B_AT,
    B_AFTER,
    B_SD,
    B_MEAN,
    B_LENGTH_SD,
    B_SIGN_OFF,
    B_DISCONNECT,
    B_DRAWS,
    B_ON,
) = range(10)
BREAK_COLUMNS = 10
# Rows of the uniforms: five for the day, then four for each break
(U_PATTERN, U_ATTENDS, U_START, U_LENGTH, U_LEAVING) = range(5)
U_BREAKS = 5
(U_TAKEN, U_AT, U_AWAY, U_WAY) = range(4)
BREAK_DRAWS = 4
# Columns of a wall piece: from which wall, what to take off, the earliest instant
(W_FROM, W_OFF, W_LEAST) = range(3)

_CUT_LOW = 0.0013498980316300945  # Φ(-3): starts are cut at three deviations
_CUT_WIDTH = 1.0 - 2.0 * _CUT_LOW
_TINY = 2.0**-54


@compiled("f8(f8[::1], i8, f8, b1, f8[::1])", inline=True)
def _spread(row, at, u, cut, histograms):
    """The value of a spread at the uniform ``u``."""
    u = max(u, _TINY)
    if row[at + SPREAD_AT] >= 0.0:
        steps = histogram_quantile(
            u, histograms, np.int64(row[at + SPREAD_AT]), np.int64(row[at + SPREAD_COUNT])
        )
        return row[at + SPREAD_A] + row[at + SPREAD_B] * steps
    if cut:
        u = _CUT_LOW + u * _CUT_WIDTH
    if row[at + SPREAD_B] == 0.0:
        return row[at + SPREAD_A]
    return row[at + SPREAD_A] + row[at + SPREAD_B] * normal_quantile(u)


@compiled("i8(f8, i8[:, ::1])", inline=True)
def _instant(wall, pieces):
    """The instant of a local time: see ``calendar.clock.wall_rows``."""
    seconds = np.int64(np.rint(wall))
    k = pieces.shape[0] - 1
    while k > 0 and seconds < pieces[k, W_FROM]:
        k -= 1
    return max(seconds - pieces[k, W_OFF], pieces[k, W_LEAST])


@compiled("i8(f8[::1], f8, f8, i8[:, ::1], i8, i8)", inline=True)
def _break_begins(pause, u, shift, pieces, came, end):
    """The instant at which a break begins, at the uniform ``u``, of somebody who ``came`` and stays
    until ``end``: at a clock time, so long after they came, or at the end of their stay."""
    if pause[B_ON] > 0.0:
        return end
    moved = pause[B_SD] * normal_quantile(_CUT_LOW + max(u, _TINY) * _CUT_WIDTH)
    if pause[B_AT] >= 0.0:
        return _instant(pause[B_AT] + moved + shift, pieces)
    return came + np.int64(np.rint(pause[B_AFTER] + moved))


@compiled("i8(f8, f8, f8)", inline=True)
def _way(u, sign_off, disconnect):
    return np.int64(u >= sign_off) + np.int64(u >= disconnect)


@compiled(
    "i8(i8, f8[:, ::1], f8[::1], i8[::1], i8, f8[:, ::1], f8[:, ::1], f8[::1], i8[:, ::1], "
    "f8, u1[::1], i4[::1], i8, i4[::1], i4[::1], i4[::1], i1[::1], i8)",
    entry=True,
)
def day_spells(
    people: int,
    uniforms: Reals,
    edges: Reals,
    crews: Longs,
    crew_shift: int,
    patterns: Reals,
    breaks: Reals,
    histograms: Reals,
    pieces: Longs,
    shift: float,
    opens: NDArray[np.uint8],
    ids: Ints,
    length: int,
    out_person: Ints,
    out_start: Ints,
    out_end: Ints,
    out_leaving: Bytes,
    cursor: int,
) -> int:
    """Spells of the first ``people`` of one group on one local date; returns the new cursor.

    ``edges`` are the cumulated shares of the patterns; ``crews``, when not empty, gives the
    pattern of each place in the rotation instead (-1 rests). ``opens`` says who opens this pool
    on the date (empty: everyone). Spells outside the horizon of ``length`` seconds are left out.
    """
    turns = crews.shape[0]
    for k in range(people):
        if opens.shape[0] > 0 and opens[k] == 0:
            continue
        if turns > 0:
            chosen = crews[(k + crew_shift) % turns]
            if chosen < 0:
                continue
        else:
            chosen = 0
            while chosen < edges.shape[0] - 1 and uniforms[U_PATTERN, k] >= edges[chosen]:
                chosen += 1
        row = patterns[chosen]
        if row[P_ATTENDS] < 1.0 and uniforms[U_ATTENDS, k] >= row[P_ATTENDS]:
            continue
        clock = _spread(row, P_START, uniforms[U_START, k], True, histograms) + shift
        start = _instant(clock, pieces)
        stay = _spread(row, P_LENGTH, uniforms[U_LENGTH, k], False, histograms)
        end = start + max(np.int64(np.rint(stay)), LEAST_LENGTH)
        if end <= 0 or start >= length:
            continue
        came = start
        first_break = np.int64(row[P_BREAK])
        for b in range(first_break, first_break + np.int64(row[P_BREAKS])):
            pause = breaks[b]
            u = U_BREAKS + BREAK_DRAWS * np.int64(pause[B_DRAWS])
            if uniforms[u + U_TAKEN, k] >= pause[B_TAKEN]:
                continue
            away = _break_begins(pause, uniforms[u + U_AT, k], shift, pieces, came, end)
            drawn = max(uniforms[u + U_AWAY, k], _TINY)
            pausing = pause[B_MEAN] + pause[B_LENGTH_SD] * normal_quantile(drawn)
            back = away + max(np.int64(np.rint(pausing)), 1)
            if pause[B_ON] > 0.0:
                end = back + np.int64(pause[B_ON])
            if away <= start or back >= end:
                continue
            if away > 0 and start < length:
                out_person[cursor] = ids[k]
                out_start[cursor] = max(start, 0)
                out_end[cursor] = away
                out_leaving[cursor] = _way(
                    uniforms[u + U_WAY, k], pause[B_SIGN_OFF], pause[B_DISCONNECT]
                )
                cursor += 1
            start = back
        if start < length:
            out_person[cursor] = ids[k]
            out_start[cursor] = max(start, 0)
            out_end[cursor] = end
            out_leaving[cursor] = _way(uniforms[U_LEAVING, k], row[P_SIGN_OFF], row[P_DISCONNECT])
            cursor += 1
    return cursor


@compiled(
    "i8(i4[::1], i4[::1], i4[::1], i4[::1], i1[::1], i2[::1], i2[::1], i1[::1], i4[::1], "
    "i4[::1], i4[::1], i4[::1], i1[::1], i2[::1], i2[::1])",
    entry=True,
)
def join_spells(
    order: Ints,
    person: Ints,
    start: Ints,
    end: Ints,
    leaving: Bytes,
    member: Shorts,
    day: Shorts,
    by_connection: Bytes,
    last: Ints,
    out_person: Ints,
    out_start: Ints,
    out_end: Ints,
    out_leaving: Bytes,
    out_member: Shorts,
    out_day: Shorts,
) -> int:
    """Spells in the given order, overlapping ones of a person joined; returns how many remain.

    A joined spell leaves as the part of it that ends last. ``last`` is scratch, -1 for every
    person. Where ``by_connection`` of a member is 1, ends are lengths and nothing is joined.
    """
    count = 0
    for k in range(order.shape[0]):
        item = order[k]
        who = person[item]
        if by_connection[member[item]] == 0:
            before = last[who]
            if before >= 0 and start[item] < out_end[before]:
                if end[item] > out_end[before]:
                    out_end[before] = end[item]
                    out_leaving[before] = leaving[item]
                continue
            last[who] = count
        out_person[count] = who
        out_start[count] = start[item]
        out_end[count] = end[item]
        out_leaving[count] = leaving[item]
        out_member[count] = member[item]
        out_day[count] = day[item]
        count += 1
    return count
