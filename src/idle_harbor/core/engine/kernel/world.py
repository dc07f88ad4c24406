"""The memory of one run: one record of scalars and addresses, and tables of records.

CPU is counted in micro-vCPU and memory in millionths of a GiB, as integers: sums stay exact
however many sessions come and go.
"""

from __future__ import annotations

from typing import Annotated, Any

from llvmlite import ir
from numba import from_dtype, types
from numba.extending import intrinsic

from idle_harbor.core.base.records import (
    Address,
    Byte,
    Int,
    Long,
    Real,
    Short,
    layout,
    record_at,
    rows_of,
)
from idle_harbor.core.engine.kernel.codes import (
    L_ALL,
    L_LEAST_ACTIVE,
    L_LEAST_ALL,
    LEVELS,
    PERSON_STATES,
)
from idle_harbor.core.policy.view import View

#: An integer for each state of a person, and a float for each level.
ByState = Annotated[list[int], "i8", (PERSON_STATES,)]
ByLevel = Annotated[list[float], "f8", (LEVELS,)]


class Result:
    """The result of a spell."""

    wait: Int  # seconds until it was connected or back, -1: it was not
    queued: Int  # seconds of them without a host, -1: it got none
    host: Short  # where, -1: nowhere
    outcome: Byte  # OUT_...
    cause: Byte  # of its wait (WaitCause)
    returned: Byte  # what it came back to (RETURN_...)


class Person:
    """A person's one session in the pool, and their present spell.

    A person without a history is all zeros, so that the table need not be filled.
    """

    target: Real  # the work at which their logon is done
    following: Int  # chain of the logons in progress on one host
    before: Int
    timer: Int  # second at which their spell ends or a timeout strikes
    spell: Int
    asked: Int  # second at which they asked for a desktop; while they are away, left their work
    back: Int  # second at which a reconnect is through
    slot: Int  # second from which they hold a slot
    waited: Int  # seconds that this spell had waited when its host failed
    since: Int  # second at which they left their session, or it was disconnected
    notice: Int  # second at which they are signed off by force, 0: nothing was told them
    again: Int  # next of those who are thrown out and ask again in this second
    host: Short
    profile: Short
    day: Short  # working day of their spell
    state: Byte
    leaving: Byte
    behind: Byte  # whether they are behind a slow line
    left: Byte  # what became of that session (RETURN_...)


class Host:
    """Fields of a host that change with every session: one cache line."""

    cpu: Long
    variance: Long
    memory: Long
    work: Real  # done for each logon in progress, at ``work_time``
    rate: Real  # at which it has gone on since
    work_time: Int
    next_logon: Int  # second of the next logon done
    logon_head: Int  # logons in progress, the last to be done first
    logon_tail: Int
    active: Short
    logons: Short
    strained: Short


class Power:
    """Fields of a host that change when it starts or stops."""

    run_start: Int  # second from which it is billed
    ordinal: Int  # starts and creations so far
    creation: Int
    due: Int  # second at which what it does is over, -1: nothing is under way
    point: Int  # second at which it is a host for the policy, -1: not known, or it is
    late: Int  # second from which it is overdue without, -1: never
    asked: Int  # second at which its start was asked for, while it waits for it
    ticket: Int  # its place in the queue for starts, while it waits for it
    grant: Int  # second at which another pool gives what it waits for, -1: not known
    overdue: Int  # whether it is
    silent: Int  # whether its agent does not register
    fails: Int  # whether its start will have failed
    notice: Int  # seconds from a notice to the sign-off, 0: it does not drain with one
    notice_to: Int  # whose sessions are signed off
    told: Int  # second at which it began to drain so


class Wide:
    """Fields of a host that only some runs use: other resources, slow lines, credits."""

    credits: Real  # at ``since``
    gpu: Long
    ops: Long
    network: Long
    since: Int
    dry: Int  # second at which the credits will be spent
    behind: Int  # people at work behind slow lines
    told: Int  # as how many they are counted
    spent: Int  # whether the credits are
    live: Int  # whether it has a balance


class Draws:
    """The load of a profile's sessions by the person's state, and the work of a logon."""

    cpu: ByState
    variance: ByState
    memory: ByState
    gpu: ByState
    ops: ByState
    network: ByState  # in the busy minute
    egress: ByState  # on average
    logon_seconds: Real
    logon_alone: Long  # whole seconds until a logon is done that nobody slows down


class Bin:
    """Levels over five minutes: integrals in level-seconds, and maxima."""

    sum: ByLevel
    peak: ByLevel


class DrillRow:
    """A drill from one second to another."""

    at: Int
    until: Int
    zone: Int  # -1: by number
    hosts: Int  # so many of the lowest
    kind: Int  # DRILL_FAILS or another


class ActionRow:
    """An action on a host, and its cause."""

    time: Int
    host: Int
    action: Int
    cause: Int


class LaneRow:
    """A host after a change."""

    time: Int
    host: Int
    state: Short
    sessions: Short
    strained: Int


class SignalRow:
    """The signal of a load rule."""

    kind: Long  # SIGNAL_...
    level: Long  # the level that it is, if it is one


class LoadRow:
    """A load rule at a look."""

    value: Real  # what its signal said
    extra: Int  # hosts that it asks for
    change: Int  # of them: 1 they became more, -1 fewer


class LookRow:
    """What the policy saw at a look."""

    now: Long  # second of the horizon
    knocking: Long  # as in View
    waiting: Long
    overdue: Long


class LookHost:
    """What the policy saw of a host, and what it decided about it."""

    since: Long
    sessions: Int
    owner: Int
    state: Byte
    waits: Byte
    action: Byte  # 0: none
    cause: Byte


class World:
    """One run: its settings, its state, and the addresses of its tables."""

    level: ByLevel
    seen: View  # what the policy is told; hosts of the pool, and its tables, are there for good

    # the pool
    hosts: Long  # hosts that there can be
    limit: Long  # sessions that a host may hold in any band
    per_host: Real  # 1 / limit
    standing: Long  # hosts that are started; the others are created
    throwaway: Long  # whether hosts keep no disk
    dedicated: Long  # whether each host is one person's
    by_list: Long  # whether only people on the list have one
    zones: Long
    at_edges: Long  # whether a band that begins changes something at that second
    patience: Long  # seconds until people give up; NEVER
    reconnect: Long  # seconds of a return to one's session
    parallel: Long  # hosts that may start at once, 0: any number
    counts_from: Long  # point of a start from which a host is had (POWERED ...)
    booted_share: Real  # part of a start after which a host has booted
    overdue_start: Long  # seconds after which a host that starts is overdue
    overdue_create: Long  # and one that is created
    reset: Long  # seconds that a host is cleaned
    stays_off: Long  # seconds that a surge host is off before it is removed
    stop_seconds: Long
    bill_step: Long  # seconds that are billed at once
    bill_minimum: Long
    tick: Long  # seconds between two looks of the policy

    # what a host bears
    wide: Long  # whether more than CPU and memory is looked at
    bursts: Long  # whether hosts are on credits
    cpu_capacity: Real  # micro-vCPU that there are
    cpu_bound: Real  # that may be wanted before work is strained
    tolerance_z2: Real  # square of the quantile at which it is
    memory_bound: Real
    memory_capacity: Real  # millionths of a GiB that there are
    gpu_bound: Real
    ops_bound: Real
    network_bound: Real
    baseline: Real  # micro-vCPU without credits
    baseline_bound: Real
    credits_first: Real
    credits_most: Real

    # the horizon
    end: Long
    counted: Long  # second from which figures count
    bin_seconds: Long
    record: Long  # whether actions and lanes are noted
    recorded: Long  # until when they are

    # where the run is
    begun: Long
    done: Long
    pause: Long  # second before which it stops for a look
    now: Long
    next_tick: Long
    arrival: Long  # next spell
    ended_until: Long  # next of the ends that are known beforehand
    edge: Long  # settings in force
    exists: Long  # whether the pool is there
    next_drill: Long  # second at which a drill begins or ends
    as_before: Long  # second before which neither a band nor a drill begins or ends
    serve: Long  # whether there may be room for people waiting
    bin: Long
    bin_end: Long
    short: Long  # what the run was short of (SHORT_OF_...)

    # who is thrown out in this second, and asks again after those who wait
    again: Long  # 1 + the first of them, 0: nobody
    again_last: Long
    to_tell: Long  # whether hosts have begun to drain with notice at this look

    # what signals add up
    watched: Long  # load rules: their signals are added up
    cpu_ready: Real  # CPU and memory wanted on ready hosts, as on a host
    memory_ready: Real
    # since the last look, level-seconds beside those of the bins:
    cpu_area: Real  # of these two
    memory_area: Real
    slots_area: Real  # of sessions that ready hosts take
    free_area: Real  # of those that they could still take
    some_ready: Real  # seconds in which a host was ready
    logons_done: Real
    logon_seconds: Real  # that these took
    last_look: Long  # second of it
    look_bin: Long  # its bin
    loads_room: Long
    looks_room: Long  # looks that are noted at most
    looks_size: Long

    # what it counts
    counted_ends: Long  # sessions that ended in the counted horizon
    forced: Long  # those of them that were ended by force
    lost_work: Long  # those ended by force or by a timeout soon after work in them
    failed: Long  # hosts that have
    overdue: Long  # hosts that should have come by now
    silent: Long  # hosts that have started and whose agents do not register
    slot_seconds: Long
    ended: Long  # sessions
    interrupted: Long  # people at work whose session ended
    rounding: Long  # seconds that billing adds
    events: Long

    # what it shares with other pools
    estate_at: Address  # 0: nothing
    member: Long  # which of the estate's pools it is
    knocks: Long  # whether people may start hosts at any second
    granted: Long  # second up to which it may take what is shared, and give it back
    quota_short: Long  # whether its last start that has to wait was asked for without quota left
    grants: Long  # starts that others have given it, and that are still to begin
    decided: Long  # 1 + actions of a look that wait until it may, 0: no look does
    throttle: Long  # which of the estate's limits bounds its starts, -1: none
    quota: Long  # and which its CPU
    quota_each: Long  # micro-vCPU of a host

    # how large the tables are
    spells: Long
    ends: Long
    profiles: Long
    people: Long
    groups: Long
    edges: Long
    drills: Long
    bins: Long
    ordinals: Long  # starts and creations of one host
    heap_room: Long
    heap_size: Long
    queue_room: Long
    queue_head: Long
    queue_tail: Long
    starts_room: Long
    starts_head: Long
    starts_tail: Long
    actions_room: Long
    actions_size: Long
    lanes_room: Long
    lanes_size: Long
    most_log: Long
    set_words: Long
    summary_words: Long
    level_words: Long
    spare_leaves: Long  # 0 where nobody looks for the most to spare

    # spells
    start_at: Address
    end_at: Address
    ends_at: Address
    who_at: Address
    fixed_at: Address
    leaving_at: Address
    profile_of_at: Address
    group_at: Address
    day_at: Address
    result_at: Address
    # people
    person_at: Address
    home_at: Address
    ticket_at: Address
    queue_at: Address
    behind_at: Address
    # hosts
    host_at: Address
    power_at: Address
    wide_at: Address
    state_at: Address
    sessions_at: Address
    owner_at: Address
    waits_at: Address
    starts_at: Address
    draw_at: Address
    create_at: Address
    set_at: Address
    summary_at: Address
    levels_at: Address
    since_at: Address
    signal_at: Address
    looked_at: Address  # what that bin had added up by then, level by level
    load_at: Address
    look_at: Address
    look_host_at: Address
    spare_at: Address
    # the rest
    profile_at: Address
    edge_at: Address
    drill_at: Address
    rows_at: Address
    scratch_at: Address
    heap_at: Address
    level_at: Address
    bin_at: Address
    action_at: Address
    lane_at: Address


(
    RESULT,
    PERSON,
    HOST,
    POWER,
    WIDE,
    PROFILE,
    BIN,
    DRILL,
    ACTION,
    LANE,
    SIGNAL,
    LOAD,
    LOOK,
    LOOK_HOST,
    WORLD,
) = (
    layout(each)
    for each in (
        Result,
        Person,
        Host,
        Power,
        Wide,
        Draws,
        Bin,
        DrillRow,
        ActionRow,
        LaneRow,
        SignalRow,
        LoadRow,
        LookRow,
        LookHost,
        World,
    )
)
BIN_BYTES = BIN.itemsize
WORLD_TYPE = from_dtype(WORLD)
world_at = record_at(WORLD_TYPE)

result_table, person_table, host_table = rows_of(Result), rows_of(Person), rows_of(Host)
power_table, wide_table, profile_table = rows_of(Power), rows_of(Wide), rows_of(Draws)
bin_table, drill_table = rows_of(Bin), rows_of(DrillRow)
action_table, lane_table = rows_of(ActionRow), rows_of(LaneRow)
signal_table, load_table = rows_of(SignalRow), rows_of(LoadRow)
look_table, look_host_table = rows_of(LookRow), rows_of(LookHost)


def of_world(numbers: int, answer: types.Type = types.void) -> Any:
    """Return the signature of a step with the world and ``numbers`` integers.

    It is declared if callers pass integers of several sizes, so that the step is compiled once.
    """
    return answer(WORLD_TYPE, *[types.int64] * numbers)


@intrinsic
def accumulate(typingctx, level_at, bin_at, span, everyone, least_active, least_all):
    """Add each level × span to a bin's sums and update its maxima, all levels at once.

    The compiler cannot know that levels and bin do not overlap, and would handle them one by one.
    The levels that follow from others (L_ALL, L_LEAST_ACTIVE, L_LEAST_ALL) are arguments: to read
    them back right after they were written would stall.
    """
    follow = (L_ALL, L_LEAST_ACTIVE, L_LEAST_ALL)

    def codegen(context, builder, signature, args):
        vector = ir.VectorType(ir.DoubleType(), LEVELS)
        aligned = 8

        def load(address):
            pointer = builder.inttoptr(address, vector.as_pointer())
            return pointer, builder.load(pointer, align=aligned)

        offset = ir.Constant(ir.IntType(64), 8 * LEVELS)
        _, level = load(args[0])
        for place, value in zip(follow, args[3:], strict=True):
            level = builder.insert_element(level, value, ir.Constant(ir.IntType(32), place))
        sum_pointer, sums = load(args[1])
        peak_pointer, peaks = load(builder.add(args[1], offset))
        spans = ir.Constant(vector, ir.Undefined)
        for k in range(LEVELS):
            spans = builder.insert_element(spans, args[2], ir.Constant(ir.IntType(32), k))
        builder.store(builder.fadd(sums, builder.fmul(level, spans)), sum_pointer, align=aligned)
        higher = builder.fcmp_ordered(">", level, peaks)
        builder.store(builder.select(higher, level, peaks), peak_pointer, align=aligned)
        return context.get_dummy_value()

    reals = (types.float64,) * 4
    return types.void(types.int64, types.int64, *reals), codegen
