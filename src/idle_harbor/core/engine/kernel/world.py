"""The memory of one run: one record of scalars and addresses, and tables of records.

Compiled functions hand each other the world alone, which is a pointer; a named tuple of thirty
arrays was copied at every call and cost ten times the run. CPU is counted in micro-vCPU and
memory in millionths of a GiB, as integers: sums stay exact however many sessions come and go.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from llvmlite import ir
from numba import from_dtype, types
from numba.extending import intrinsic
from numba.np.arrayobj import populate_array

from idle_harbor.core.compiled import CHECKED
from idle_harbor.core.engine.kernel.codes import LEVELS, PERSON_STATES

# What became of a spell: seconds waited in all and in the queue (-1: not reached), where, why
RESULT = np.dtype(
    [("wait", "i4"), ("queued", "i4"), ("host", "i2"), ("outcome", "i1"), ("cause", "i1")],
    align=True,
)
# A person without a history is all zeros, so that a million of them need not be written first.
PERSON = np.dtype(
    [
        # the work at which a logon is done, and the chain of logons in progress on one host
        ("target", "f8"), ("following", "i4"), ("before", "i4"),
        ("timer", "i4"), ("spell", "i4"), ("asked", "i4"), ("back", "i4"), ("slot", "i4"),
        # seconds that this spell had waited when its host failed
        ("waited", "i4"),
        ("host", "i2"), ("profile", "i2"), ("state", "i1"), ("leaving", "i1"), ("behind", "i1"),
    ],
    align=True,
)  # fmt: skip
# What changes with every session on a host: one cache line.
HOST = np.dtype(
    [
        ("cpu", "i8"), ("variance", "i8"), ("memory", "i8"),
        # work done per logon in progress, its rate, and when that was last true
        ("work", "f8"), ("rate", "f8"), ("work_time", "i4"),
        # second of the next logon done; logons in progress, the last to be done first
        ("next_logon", "i4"), ("logon_head", "i4"), ("logon_tail", "i4"),
        ("active", "i2"), ("logons", "i2"), ("strained", "i2"),
    ],
    align=True,
)  # fmt: skip
# What changes when a host starts or stops; ``pending`` until the policy counts it, ``mark`` is
# the second at which it begins to, -1 while that is not known.
POWER = np.dtype(
    [("run_start", "i4"), ("ordinal", "i4"), ("creation", "i4"), ("due", "i4"), ("mark", "i4"),
     ("pending", "i4")], align=True,
)  # fmt: skip
# What only some runs look at: draws beside CPU and memory, people behind slow lines (and as how
# many they are counted), CPU credits at ``since`` and the second at which they will be spent.
WIDE = np.dtype(
    [("credits", "f8"), ("gpu", "i8"), ("ops", "i8"), ("network", "i8"), ("since", "i4"),
     ("dry", "i4"), ("behind", "i4"), ("told", "i4"), ("spent", "i4"), ("live", "i4")],
    align=True,
)  # fmt: skip
PROFILE = np.dtype(
    [
        ("cpu", "i8", (PERSON_STATES,)), ("variance", "i8", (PERSON_STATES,)),
        ("memory", "i8", (PERSON_STATES,)), ("gpu", "i8", (PERSON_STATES,)),
        ("ops", "i8", (PERSON_STATES,)), ("network", "i8", (PERSON_STATES,)),
        ("logon_seconds", "f8"),
    ],
    align=True,
)  # fmt: skip
BIN = np.dtype([("sum", "f8", (LEVELS,)), ("peak", "f8", (LEVELS,))], align=True)
BIN_BYTES = BIN.itemsize
EDGE = np.dtype(
    [("time", "i8"), ("floor", "i8"), ("headroom", "i8"), ("fill", "i8"), ("release", "i8"),
     ("exists", "i8"), ("ceiling", "f8")], align=True,
)  # fmt: skip
ACTION = np.dtype([("time", "i4"), ("host", "i4"), ("action", "i4"), ("cause", "i4")], align=True)
LANE = np.dtype(
    [("time", "i4"), ("host", "i4"), ("state", "i2"), ("sessions", "i2"), ("strained", "i2")],
    align=True,
)  # fmt: skip

_SETTINGS = (
    "hosts", "limit", "patience", "idle_timeout", "disconnected_timeout", "reconnect",
    "stop_seconds", "tick", "end", "counted", "bin_seconds", "record", "bill_step",
    "bill_minimum", "spells", "profiles", "dedicated", "by_list", "standing", "throwaway",
    "reset", "parallel", "counts_from", "settle", "wide", "bursts", "zones", "drill_at",
    "drill_until", "drill_zone", "drill_hosts",
)  # fmt: skip
_STATE = (
    "now", "bin", "bin_end", "bins", "queue_head", "queue_tail", "serve", "heap_size",
    "heap_room", "edge", "edges", "slot_seconds", "ended", "rounding", "actions_size",
    "actions_room", "lanes_size", "lanes_room", "events", "short", "set_words",
    "summary_words", "level_words", "people", "ordinals", "uncounted", "starts_head",
    "starts_tail", "failed", "interrupted", "exists", "groups",
    "starts_room", "queue_room", "limited_life",
    "begun", "pause", "done", "arrival", "next_tick", "most_log", "recorded",
)  # fmt: skip
_TABLES = (
    "start_at", "end_at", "who_at", "fixed_at", "leaving_at", "profile_of_at", "result_at",
    "level_at", "person_at", "host_at", "profile_at", "bin_at", "edge_at", "action_at",
    "lane_at", "heap_at", "queue_at", "set_at", "summary_at", "levels_at", "draw_at",
    "state_at", "sessions_at", "rows_at", "scratch_at",
    "counts_at", "power_at", "home_at", "owner_at", "waits_at", "wide_at", "create_at",
    "starts_at", "group_at", "behind_at", "ticket_at",
)  # fmt: skip
WORLD = np.dtype(
    [
        ("level", "f8", (LEVELS,)),
        ("cpu_capacity", "f8"), ("tolerance_z2", "f8"),
        ("memory_bound", "f8"), ("per_host", "f8"), ("booted_share", "f8"), ("gpu_bound", "f8"),
        ("ops_bound", "f8"), ("network_bound", "f8"), ("baseline", "f8"), ("credits_first", "f8"),
        ("credits_most", "f8"), ("cpu_bound", "f8"), ("baseline_bound", "f8"),
        *((name, "i8") for name in (*_SETTINGS, *_STATE, *_TABLES)),
    ],
    align=True,
)  # fmt: skip
WORLD_TYPE = from_dtype(WORLD)


def of_world(numbers: int) -> Any:
    """The signature of a step that takes the world and so many whole numbers, and returns nothing.

    It is given where callers pass numbers of several sizes: the step is then compiled once.
    """
    return types.void(WORLD_TYPE, *[types.int64] * numbers)


def _true_count(context: Any, builder: Any, address: Any, count: Any, size: Any) -> Any:
    """In the checked build: the items that the table has (see ``arena``), an error where they are
    asked for as more or fewer."""
    word = ir.IntType(64)
    begin = builder.sub(address, ir.Constant(word, 8))
    held = builder.load(builder.inttoptr(begin, word.as_pointer()))
    true = builder.sdiv(held, size)
    with builder.if_then(builder.icmp_signed("!=", true, count), likely=False):
        context.call_conv.return_user_exc(builder, IndexError, ("a table is of another size",))
    return true


def _table(item: types.Type) -> Any:
    """An intrinsic that views ``count`` items at an address as an array, without owning it."""
    array = types.Array(item, 1, "C")

    @intrinsic
    def view(typingctx, address, count):
        def codegen(context, builder, signature, args):
            kind = context.get_data_type(item)
            made = context.make_array(array)(context, builder)
            size = context.get_constant(types.intp, context.get_abi_sizeof(kind))
            count = args[1]
            if CHECKED:
                count = _true_count(context, builder, args[0], count, size)
            populate_array(
                made,
                data=builder.inttoptr(args[0], kind.as_pointer()),
                shape=[count],
                strides=[size],
                itemsize=size,
                meminfo=None,
            )
            return made._getvalue()

        return array(types.int64, types.int64), codegen

    return view


result_table = _table(from_dtype(RESULT))
person_table = _table(from_dtype(PERSON))
host_table = _table(from_dtype(HOST))
power_table = _table(from_dtype(POWER))
wide_table = _table(from_dtype(WIDE))
profile_table = _table(from_dtype(PROFILE))
edge_table = _table(from_dtype(EDGE))
action_table = _table(from_dtype(ACTION))
lane_table = _table(from_dtype(LANE))
longs = _table(types.int64)
ints = _table(types.int32)
words = _table(types.uint64)
shorts = _table(types.int16)
bytes_ = _table(types.int8)
bin_table = _table(from_dtype(BIN))


@intrinsic
def accumulate(typingctx, level_at, bin_at, span):
    """Add levels × span to a bin's sums and raise its peaks, all of a bin at a time.

    The compiler cannot know that the levels and the bin do not overlap, and would go one by one.
    """

    def codegen(context, builder, signature, args):
        vector = ir.VectorType(ir.DoubleType(), LEVELS)
        aligned = 8

        def load(address):
            pointer = builder.inttoptr(address, vector.as_pointer())
            return pointer, builder.load(pointer, align=aligned)

        offset = ir.Constant(ir.IntType(64), 8 * LEVELS)
        _, level = load(args[0])
        sum_pointer, sums = load(args[1])
        peak_pointer, peaks = load(builder.add(args[1], offset))
        spans = ir.Constant(vector, ir.Undefined)
        for k in range(LEVELS):
            spans = builder.insert_element(spans, args[2], ir.Constant(ir.IntType(32), k))
        builder.store(builder.fadd(sums, builder.fmul(level, spans)), sum_pointer, align=aligned)
        higher = builder.fcmp_ordered(">", level, peaks)
        builder.store(builder.select(higher, level, peaks), peak_pointer, align=aligned)
        return context.get_dummy_value()

    return types.void(types.int64, types.int64, types.float64), codegen
