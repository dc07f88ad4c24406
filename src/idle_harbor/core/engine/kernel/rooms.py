"""Choice of the host for the next session without a scan of all hosts.

Hosts that take sessions are in bit sets, one for each number of sessions held. Each set has a
summary of its non-empty words, and there is one summary of the non-empty sets. To choose or move a
host takes a few words at any pool size: words of 64 hosts, summaries of 4,096.
"""

from __future__ import annotations

import numpy as np
from llvmlite import ir
from numba import types
from numba.extending import intrinsic

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.records import words

ONE = np.uint64(1)
ZERO = np.uint64(0)
_ALL = np.uint64(2**64 - 1)


@intrinsic
def _lowest_bit(typingctx, word):
    def codegen(context, builder, signature, args):
        return builder.cttz(args[0], ir.Constant(ir.IntType(1), 0))

    return types.int64(types.uint64), codegen


@intrinsic
def _leading_zeros(typingctx, word):
    def codegen(context, builder, signature, args):
        return builder.ctlz(args[0], ir.Constant(ir.IntType(1), 0))

    return types.int64(types.uint64), codegen


def room_words(hosts: int, limit: int) -> tuple[int, int, int]:
    """Return the words of one set, of its summary, and of the summary of sets (one for each number
    of sessions from 0 to limit − 1)."""
    in_set = max((hosts + 63) // 64, 1)
    return in_set, max((in_set + 63) // 64, 1), max((limit + 63) // 64, 1)


@compiled(inline=True)
def room_add(w, host, sessions):
    """Add a host that takes sessions and holds ``sessions`` of them (fewer than its limit)."""
    sets = words(w.set_at, w.limit * w.set_words)
    summaries = words(w.summary_at, w.limit * w.summary_words)
    levels = words(w.levels_at, w.level_words)
    word = host >> 6
    sets[sessions * w.set_words + word] |= ONE << np.uint64(host & 63)
    summaries[sessions * w.summary_words + (word >> 6)] |= ONE << np.uint64(word & 63)
    levels[sessions >> 6] |= ONE << np.uint64(sessions & 63)


@compiled(inline=True)
def room_remove(w, host, sessions):
    """Remove a host from the set of hosts that hold ``sessions``."""
    sets = words(w.set_at, w.limit * w.set_words)
    word = host >> 6
    at = sessions * w.set_words + word
    sets[at] &= ~(ONE << np.uint64(host & 63))
    if sets[at] != ZERO:
        return
    summaries = words(w.summary_at, w.limit * w.summary_words)
    first = sessions * w.summary_words
    summaries[first + (word >> 6)] &= ~(ONE << np.uint64(word & 63))
    for k in range(first, first + w.summary_words):
        if summaries[k] != ZERO:
            return
    levels = words(w.levels_at, w.level_words)
    levels[sessions >> 6] &= ~(ONE << np.uint64(sessions & 63))


@compiled(inline=True)
def _lowest_host(w, sessions):
    sets = words(w.set_at, w.limit * w.set_words)
    summaries = words(w.summary_at, w.limit * w.summary_words)
    for upper in range(w.summary_words):
        summary = summaries[sessions * w.summary_words + upper]
        if summary != ZERO:
            word = (upper << 6) + _lowest_bit(summary)
            return (word << 6) + _lowest_bit(sets[sessions * w.set_words + word])
    return np.int64(-1)


@compiled(inline=True)
def room_spread(w, below):
    """Return the lowest host among those with the fewest sessions, if below a bound, or -1."""
    levels = words(w.levels_at, w.level_words)
    for k in range(w.level_words):
        if levels[k] != ZERO:
            fewest = (k << 6) + _lowest_bit(levels[k])
            return _lowest_host(w, fewest) if fewest < below else np.int64(-1)
    return np.int64(-1)


@compiled(inline=True)
def room_fill(w, below):
    """Return the lowest host among those with the most sessions below a bound, or -1."""
    levels = words(w.levels_at, w.level_words)
    last = (below - 1) >> 6
    for k in range(min(last, w.level_words - 1), -1, -1):
        word = levels[k]
        if k == last:
            word &= _ALL >> np.uint64(63 - ((below - 1) & 63))
        if word != ZERO:
            return _lowest_host(w, (k << 6) + 63 - _leading_zeros(word))
    return np.int64(-1)
