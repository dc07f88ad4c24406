"""The memory of one run: one record of scalars and addresses, and tables of records.

Compiled functions hand each other the world alone, which is a pointer; a named tuple of thirty
arrays was copied at every call and cost ten times the run. CPU is counted in micro-vCPU and
memory in KiB, as integers: sums stay exact however many sessions come and go.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import from_dtype, types
from numba.extending import intrinsic
from numba.np.arrayobj import populate_array

from idle_harbor.core.kernel.codes import LEVELS, PERSON_STATES

SPELL = np.dtype(
    [
        ("person", "i4"), ("start", "i4"), ("end", "i4"), ("from_connection", "i4"),
        ("leaving", "i4"), ("profile", "i4"),
        # results: outcome, seconds waited in all and in the queue (-1: not reached), why, where
        ("outcome", "i4"), ("wait", "i4"), ("queued", "i4"), ("cause", "i4"), ("host", "i4"),
        ("spare", "i4"),
    ],
    align=True,
)  # fmt: skip
PERSON = np.dtype(
    [
        ("state", "i4"), ("host", "i4"), ("timer", "i4"), ("spell", "i4"), ("asked", "i4"),
        ("back", "i4"), ("profile", "i4"), ("slot", "i4"),
        # the ring of logons in progress on one host, and the work at which this one is done
        ("following", "i4"), ("before", "i4"), ("target", "f8"),
    ],
    align=True,
)  # fmt: skip
HOST = np.dtype(
    [
        ("active", "i4"), ("logons", "i4"), ("strained", "i4"), ("logon_head", "i4"),
        ("cpu", "i8"), ("variance", "i8"), ("memory", "i8"),
        # work done per logon in progress, when that was last true, and its rate
        ("work", "f8"), ("work_time", "f8"), ("rate", "f8"),
        ("next_logon", "i4"), ("run_start", "i4"), ("ordinal", "i4"), ("due", "i4"),
    ],
    align=True,
)  # fmt: skip
PROFILE = np.dtype(
    [
        ("cpu", "i8", (PERSON_STATES,)), ("variance", "i8", (PERSON_STATES,)),
        ("memory", "i8", (PERSON_STATES,)), ("logon_seconds", "f8"),
    ],
    align=True,
)  # fmt: skip
BIN = np.dtype([("sum", "f8", (LEVELS,)), ("peak", "f8", (LEVELS,))], align=True)
EDGE = np.dtype(
    [("time", "i8"), ("floor", "i8"), ("headroom", "i8"), ("fill", "i8"), ("release", "i8"),
     ("ceiling", "f8")], align=True,
)  # fmt: skip
ACTION = np.dtype([("time", "i4"), ("host", "i4"), ("action", "i4"), ("cause", "i4")], align=True)
LANE = np.dtype(
    [("time", "i4"), ("host", "i4"), ("state", "i2"), ("sessions", "i2"), ("strained", "i2")],
    align=True,
)  # fmt: skip

_SETTINGS = (
    "hosts", "limit", "patience", "idle_timeout", "disconnected_timeout", "reconnect",
    "stop_seconds", "tick", "end", "counted", "bin_seconds", "record", "bill_step",
    "bill_minimum", "spells", "profiles",
)  # fmt: skip
_STATE = (
    "now", "bin", "bin_end", "bins", "queue_head", "queue_tail", "serve", "heap_size",
    "heap_room", "edge", "edges", "slot_seconds", "ended", "rounding", "actions_size",
    "actions_room", "lanes_size", "lanes_room", "events", "short", "set_words",
    "summary_words", "level_words", "people", "ordinals",
)  # fmt: skip
_TABLES = (
    "spell_at", "person_at", "host_at", "profile_at", "bin_at", "edge_at", "action_at",
    "lane_at", "heap_at", "queue_at", "set_at", "summary_at", "levels_at", "draw_at",
    "state_at", "sessions_at", "rows_at", "scratch_at",
)  # fmt: skip
WORLD = np.dtype(
    [
        ("level", "f8", (LEVELS,)),
        ("cpu_capacity", "f8"), ("cpu_bound", "f8"), ("tolerance_z", "f8"),
        ("memory_bound", "f8"), ("per_host", "f8"),
        *((name, "i8") for name in (*_SETTINGS, *_STATE, *_TABLES)),
    ],
    align=True,
)  # fmt: skip
WORLD_TYPE = from_dtype(WORLD)


def _table(item: types.Type) -> Any:
    """An intrinsic that views ``count`` items at an address as an array, without owning it."""
    array = types.Array(item, 1, "C")

    @intrinsic
    def view(typingctx, address, count):
        def codegen(context, builder, signature, args):
            kind = context.get_data_type(item)
            made = context.make_array(array)(context, builder)
            size = context.get_constant(types.intp, context.get_abi_sizeof(kind))
            populate_array(
                made,
                data=builder.inttoptr(args[0], kind.as_pointer()),
                shape=[args[1]],
                strides=[size],
                itemsize=size,
                meminfo=None,
            )
            return made._getvalue()

        return array(types.int64, types.int64), codegen

    return view


spell_table = _table(from_dtype(SPELL))
person_table = _table(from_dtype(PERSON))
host_table = _table(from_dtype(HOST))
profile_table = _table(from_dtype(PROFILE))
bin_table = _table(from_dtype(BIN))
edge_table = _table(from_dtype(EDGE))
action_table = _table(from_dtype(ACTION))
lane_table = _table(from_dtype(LANE))
longs = _table(types.int64)
ints = _table(types.int32)
words = _table(types.uint64)
