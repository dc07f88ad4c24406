"""Records of the policy: what it sees of a pool, the settings in force, and what it decides."""

from __future__ import annotations

from numba import from_dtype

from idle_harbor.core.base.records import Address, Long, Real, layout, rows_of
from idle_harbor.core.plan import Release
from idle_harbor.core.plan.schedules import Rule, Told

#: Ordered: from DRAIN on, hosts with sessions are drained.
KEEP_ALL, WHEN_EMPTY, DRAIN, NOTICE = range(4)
RELEASE_CODES: dict[Release, int] = {
    "keep all": KEEP_ALL,
    "when empty": WHEN_EMPTY,
    "drain": DRAIN,
    "drain with notice": NOTICE,
}
#: Who is signed off after a notice; each includes those before it.
DISCONNECTED_ONLY, IDLE_TOO, EVERYONE = range(3)
TOLD_CODES: dict[Told, int] = {
    "disconnected": DISCONNECTED_ONLY,
    "idle too": IDLE_TOO,
    "everyone": EVERYONE,
}
SPREAD, FILL, TO_MARK, BY_ROOM = range(4)
RULE_CODES: dict[Rule, int] = {
    "spread": SPREAD,
    "fill": FILL,
    "fill to a mark": TO_MARK,
    "by room": BY_ROOM,
}
#: Longer than any least run, in seconds.
LONG_AGO = 2**40
#: Stand for the host of a knock: nobody knocks, or somebody without a host does.
NOBODY, SOMEBODY = -1, -2


class View:
    """What the policy sees of a pool at one moment.

    Totals over hosts come first, so that a tick without anything to do reads no single host. The
    tables have one entry per host.
    """

    # the clock
    now: Long  # second of the horizon
    # the hosts
    hosts: Long  # hosts that there can be
    holds: Long  # sessions that each of them can hold
    ready: Long  # hosts that take sessions
    coming: Long  # hosts that start, wait for their start, are created or cleaned
    draining: Long  # hosts that take nobody new
    overdue: Long  # coming ones that should have come by now
    # the people
    on_ready: Long  # sessions on ready hosts, in every state
    on_draining: Long  # sessions on draining hosts
    waiting: Long  # people without a session
    # what is to come
    tick: Long  # seconds between two looks
    targets: Long  # how many there are, by when they are to be met
    target: Long  # the first of them that has not ended
    ready_by: Long  # hosts that those in force ask for
    longest_lead: Long  # seconds
    stepping: Long  # hosts that were had when drain steps began; 0 outside of them
    steps_of: Long  # second at which the band of these steps began
    throttled: Long  # whether starts wait for each other
    # what load rules ask for
    rules: Long  # how many there are
    extra: Long  # hosts that those of the band ask for beyond all else
    veto: Long  # whether one of them lets no host go
    band_begins: Long  # second at which the band of the last look began
    # who knocks
    knocking: Long  # the host whose person asks for it; SOMEBODY without one; NOBODY at a tick
    # host by host
    state_at: Address  # its state (longs)
    sessions_at: Address  # its sessions (longs)
    since_at: Address  # second at which it had started (longs)
    owner_at: Address  # its person in a dedicated pool, -1 where it is nobody's (ints)
    waits_at: Address  # whether its person waits for it (longs)
    # the targets, and how long before them so many hosts have to be started (lead.lead_table)
    target_at: Address
    lead_at: Address  # longs
    rule_at: Address  # the load rules, with what their signals say and how far they are
    # what is written
    rows_at: Address  # room for a row for each host
    scratch_at: Address  # room for hosts + holds + 1 longs, whatever they hold


class Settings:
    """The settings from one band edge to the next."""

    begins: Long  # second of the horizon from which they hold
    band_begins: Long  # and from which their band does: drain steps part a band
    exists: Long  # whether there is a pool at all
    dedicated: Long  # whether each host is one person's
    standing: Long  # hosts that are started; the others are created
    always: Long  # hosts that are on whatever the band says: standing ones that cannot be off
    limit: Long  # sessions that a host takes
    floor: Long  # ready hosts at least
    lid: Long  # hosts on at most
    headroom: Long  # free slots to keep open; of a dedicated pool hosts that are nobody's
    headroom_share: Real  # the same as a share of the sessions, where that is more
    rule: Long  # who the next person goes to (RULE_CODES)
    mark: Long  # sessions up to which a host is filled before the next one
    knocks: Long  # whether a host starts for a person who finds no room
    release: Long  # what happens to hosts beyond the need (RELEASE_CODES)
    margin: Long  # hosts beyond the need before any is let go
    least_run: Long  # seconds that a host is ready before it is let go
    draining: Long  # hosts that drain at once at most
    draining_share: Real  # the same as a share of those that are on
    step_share: Real  # share of the hosts that take nobody new by now, 0: no drain step
    notice: Long  # seconds from a notice to the sign-off
    notice_to: Long  # whose sessions are signed off (TOLD_CODES)
    rules: Long  # a bit for each load rule that is at work
    idle_timeout: Long  # seconds after which an idle session is disconnected, or NEVER
    disconnected_timeout: Long  # and a disconnected one is signed off
    ceiling: Real  # share of the slots at which the next host is started


class ActionOfHost:
    """One action on one host, and its cause."""

    host: Long
    action: Long
    cause: Long


class TargetRow:
    """A number of hosts that are to be ready from one second of the horizon to another."""

    at: Long
    until: Long
    hosts: Long
    in_force: Long  # a timer of the policy: once it is, it stays so


class RuleRow:
    """A load rule: its marks, its signal, and its timers."""

    value: Real  # of its signal since the last look; not a number where there is none
    low: Long  # whether little of the signal asks for hosts
    asks: Long  # whether it asks for hosts at all
    asks_at: Real
    asks_hold: Long  # seconds
    adds: Long
    permits: Long  # whether it has a mark beyond which hosts may go
    permits_at: Real
    permits_hold: Long  # seconds
    takes_back: Long
    pause: Long  # seconds
    # how far it is: timers of the policy
    asked_since: Long  # look since which the signal is beyond the one mark at each, -1: it is not
    permitted_since: Long  # and beyond the other
    changed_at: Long  # second of the last change of what it asks for
    extra: Long  # hosts that it asks for
    change: Long  # of them at this look: 1 they became more, -1 fewer


#: A load rule before the first look.
NEW_RULE: dict[str, float] = {
    "value": float("nan"),
    "asked_since": -1,
    "permitted_since": -1,
    "changed_at": -LONG_AGO,
}

VIEW, SETTINGS, ROW, TARGET, RULE = (
    layout(each) for each in (View, Settings, ActionOfHost, TargetRow, RuleRow)
)
VIEW_TYPE, SETTINGS_TYPE, RULE_TYPE = from_dtype(VIEW), from_dtype(SETTINGS), from_dtype(RULE)
settings_table, row_table, target_table = (
    rows_of(Settings),
    rows_of(ActionOfHost),
    rows_of(TargetRow),
)
rule_table = rows_of(RuleRow)
