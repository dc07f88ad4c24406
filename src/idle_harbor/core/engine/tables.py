"""The tables of a run, each with the reason for its size.

A size that is known before the run is exact. Other tables grow: the event loop notes which table
was too small, and the run is repeated with a larger one (see :class:`Room`). So results never
depend on sizes.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtri

from idle_harbor.core.base.arena import Table
from idle_harbor.core.base.units import MICRO, micro, micro_bound, micro_squared
from idle_harbor.core.calendar.clock import Horizon
from idle_harbor.core.demand import draws
from idle_harbor.core.demand.spells import Spells
from idle_harbor.core.engine.kernel import codes
from idle_harbor.core.engine.kernel.heap import CHILDREN
from idle_harbor.core.engine.kernel.load import WORK_DUST
from idle_harbor.core.engine.kernel.rooms import room_words
from idle_harbor.core.engine.kernel.spare import spare_leaves
from idle_harbor.core.engine.kernel.world import (
    ACTION,
    BIN,
    DRILL,
    HOST,
    LANE,
    LOAD,
    LOOK,
    LOOK_HOST,
    PERSON,
    POWER,
    PROFILE,
    RESULT,
    SIGNAL,
    WIDE,
)
from idle_harbor.core.engine.setting import Drill, Setting
from idle_harbor.core.plan import COUNTS_FROM, Pool, Profile, Size
from idle_harbor.core.policy.in_force import (
    at_edges,
    bands_of,
    has_targets,
    load_rules_of,
    seconds_or_never,
)
from idle_harbor.core.policy.lead import lead_table
from idle_harbor.core.policy.overdue import overdue_after
from idle_harbor.core.policy.view import (
    ROW,
    RULE,
    TARGET,
)

BIN_SECONDS = 300
#: Most rows of a log, 64 MB each; a run with more changes is recorded up to there.
MOST_LOG = 4_000_000
_LONG, _INT, _WORD = np.dtype(np.int64), np.dtype(np.int32), np.dtype(np.uint64)
_BYTE = np.dtype(np.int8)
_REAL = np.dtype(np.float64)


@lru_cache(maxsize=64)
def _profile_rows(profiles: tuple[Profile, ...]) -> NDArray[np.void]:
    """Return the draw of each profile by person state, in millionths of each unit, and its logon
    seconds.

    The rows are shared and read-only.
    """
    rows = np.zeros(len(profiles), dtype=PROFILE)
    for row, profile in zip(rows, profiles, strict=True):
        row["logon_seconds"] = profile.logon.seconds
        row["logon_alone"] = math.ceil(profile.logon.seconds - WORK_DUST)
        row["cpu"][codes.LOGGING_ON] = micro(profile.logon.vcpu)
        row["cpu"][codes.ACTIVE] = micro(profile.cpu.mean)
        row["variance"][codes.ACTIVE] = micro_squared(profile.cpu.sd)
        for state in (codes.LOGGING_ON, codes.ACTIVE):
            row["memory"][state] = micro(profile.memory_gib.active)
        for state in (codes.IDLE, codes.RETURNING_IDLE):
            row["cpu"][state] = micro(profile.cpu.idle)
            row["memory"][state] = micro(profile.memory_gib.idle)
        for state in (codes.DISCONNECTED, codes.RETURNING_DISC):
            row["memory"][state] = micro(profile.memory_gib.disconnected)
        row["gpu"][codes.LOGGING_ON :] = micro(profile.gpu_gib)
        row["ops"][codes.ACTIVE] = micro(profile.disk_ops)
        row["network"][codes.ACTIVE] = micro(profile.display.busy_mbit)
        row["egress"][codes.ACTIVE] = micro(profile.display.network_mbit)
    rows.flags.writeable = False
    return rows


def _burst(size: Size, load_limit: float) -> dict[str, float]:
    if size.burst is None:
        return {}
    credit = 3600 * MICRO
    return {
        "bursts": 1,
        "baseline": micro_bound(1.0, size.vcpu, size.burst.baseline),
        "baseline_bound": micro_bound(load_limit, size.vcpu, size.burst.baseline),
        "credits_first": size.burst.first * credit,
        "credits_most": size.burst.most * credit,
    }


def _drill_rows(drills: tuple[Drill, ...]) -> NDArray[np.void]:
    rows = np.zeros(len(drills), dtype=DRILL)
    for row, drill in zip(rows, drills, strict=True):
        row["at"], row["until"] = drill.at, drill.at + drill.seconds
        row["zone"] = -1 if drill.zone is None else drill.zone
        row["hosts"], row["kind"] = drill.hosts, drill.kind
    return rows


def settings_of(setting: Setting, horizon: Horizon, record: bool) -> dict[str, float]:
    """Return the scalar settings of a world by name."""
    pool, size = setting.pool, setting.size
    overdue_start, overdue_create = overdue_after(pool)
    return {
        "hosts": pool.hosts.most,
        "standing": pool.hosts.standing,
        "throwaway": int(pool.hosts.throwaway),
        "reset": pool.reset_seconds,
        "stays_off": 60 * pool.hosts.surge_stays_minutes,
        "parallel": pool.start.parallel or 0,
        "counts_from": COUNTS_FROM.index(pool.start.counts_from),
        "overdue_start": overdue_start,
        "overdue_create": overdue_create,
        "booted_share": pool.start.booted_share,
        "wide": int(setting.wide),
        "zones": max(setting.zones, 1),
        "at_edges": int(at_edges(setting)),
        "cpu_bound": micro_bound(pool.load.limit, size.vcpu),
        "memory_capacity": size.memory_gib * MICRO,
        "memory_bound": micro_bound(pool.load.limit, size.memory_gib),
        "gpu_bound": micro_bound(pool.load.limit, size.gpu_gib),
        "ops_bound": micro_bound(pool.load.limit, size.disk_ops),
        "network_bound": micro_bound(pool.load.limit, size.network_mbit),
        **_burst(size, pool.load.limit),
        "limit": pool.session_limit,
        "per_host": 1.0 / pool.session_limit,
        "patience": seconds_or_never(pool.patience_seconds),
        "reconnect": pool.reconnect_seconds,
        "stop_seconds": pool.stop_seconds,
        "tick": setting.schedule.tick_seconds,
        "end": horizon.end - horizon.start,
        "counted": horizon.counted - horizon.start,
        "bin_seconds": BIN_SECONDS,
        "bin_end": BIN_SECONDS,
        "record": int(record),
        "bill_step": size.billing_step_seconds,
        "bill_minimum": size.billing_minimum_seconds,
        "cpu_capacity": size.vcpu * MICRO,
        "tolerance_z2": float(ndtri(1.0 - pool.load.tolerance)) ** 2,
        "dedicated": int(pool.kind == "dedicated"),
        "by_list": int(pool.assign == "by list"),
    }


def homes_and_owners(setting: Setting, people: int) -> tuple[NDArray[np.int32], NDArray[np.int32]]:
    """Return each person's host and each host's person; -1 stands for none."""
    homes = np.full(people, -1, dtype=np.int32)
    owners = np.full(setting.pool.hosts.most, -1, dtype=np.int32)
    for person, host in setting.homes:
        if person < people:
            homes[person], owners[host] = host, person
    return homes, owners


def leaves_of(setting: Setting) -> int:
    """Return the leaves of the tree over the hosts' spare capacity; 0 if no band places people by
    it."""
    if all(band.rule != "by room" for band in bands_of(setting)):
        return 0
    return spare_leaves(setting.pool.hosts.most)


@dataclass(frozen=True, slots=True)
class Room:
    """Sizes of the tables whose need is not known before a run.

    ``ordinals`` is the number of starts and creations of one host, ``heap`` of pending events,
    ``log`` of rows in each log, ``queue`` of places in the people's queue, and ``starts`` of hosts
    that wait for a start.
    """

    ordinals: int
    heap: int
    log: int
    queue: int
    starts: int

    @staticmethod
    def guess(spells: int, people: int, hosts: int) -> Room:
        """Return sizes that are enough for nearly every run."""
        return Room(
            ordinals=16,
            heap=max(4096, 2 * people + 4 * hosts),
            log=min(4 * spells + 16 * hosts + 4096, MOST_LOG),
            queue=spells,
            starts=hosts,
        )

    def larger(self, short: int) -> Room:
        """Return larger sizes for a run that was short of some (bits ``codes.SHORT_OF_...``)."""

        def grown(size: int, by: int, code: int) -> int:
            return by * max(size, 1) if short & code else size

        return Room(
            grown(self.ordinals, 2, codes.SHORT_OF_DRAWS),
            grown(self.heap, 4, codes.SHORT_OF_HEAP),
            min(grown(self.log, 4, codes.SHORT_OF_LOG), MOST_LOG),
            grown(self.queue, 2, codes.SHORT_OF_QUEUE),
            grown(self.starts, 2, codes.SHORT_OF_STARTS),
        )


def fill_hosts(rows: NDArray[np.void], pool: Pool) -> None:
    """Fill the rows of hosts without sessions."""
    rows["cpu"] = micro(pool.load.base_vcpu)
    rows["memory"] = micro(pool.load.base_gib)
    for name in ("logon_head", "logon_tail", "next_logon"):
        rows[name] = -1


def _creates(pool: Pool) -> bool:
    """Return whether hosts of the pool are ever created; otherwise all are standing hosts."""
    return pool.hosts.surge > 0 or pool.hosts.throwaway


def _wide(setting: Setting) -> bool:
    """Return whether the run follows more than CPU and memory of a host."""
    return setting.wide or setting.size.burst is not None


def _groups(setting: Setting, spells: Spells) -> int:
    """Return the number of groups: those of the setting, and those of the spells."""
    return max(len(setting.behind), int(spells.group.max(initial=-1)) + 1)


def _looks(setting: Setting, loads: int) -> dict[str, Table]:
    """Return the tables of the policy's looks: load rules at each tick and, on request, what it
    saw."""
    return {
        "load_at": Table(LOAD, loads),
        "look_at": Table(LOOK, setting.looks),
        "look_host_at": Table(LOOK_HOST, setting.looks * setting.pool.hosts.most),
    }


def tables_of(
    setting: Setting,
    spells: Spells,
    bins: int,
    room: Room,
    log: int,
    *,
    targets: int = 0,
    ticks: int = 0,
) -> dict[str, Table]:
    """Return every table that a run writes, with the reason for its size."""
    rules = len(load_rules_of(setting))
    hosts, limit = setting.pool.hosts.most, setting.pool.session_limit
    in_set, in_summary, in_levels = room_words(hosts, limit)
    return {
        # one row for each spell, person, host or bin
        "result_at": Table(RESULT, len(spells)),
        "person_at": Table(PERSON, spells.people),
        "home_at": Table(_INT, spells.people),
        "ticket_at": Table(_INT, spells.people),
        "host_at": Table(HOST, hosts),
        "power_at": Table(POWER, hosts),
        "state_at": Table(_LONG, hosts),
        "sessions_at": Table(_LONG, hosts),
        "owner_at": Table(_INT, hosts),
        "waits_at": Table(_LONG, hosts),
        "since_at": Table(_LONG, hosts),
        "wide_at": Table(WIDE, hosts if _wide(setting) else 0),
        "bin_at": Table(BIN, bins),
        # one for each group, even if nobody is behind a slow line
        "behind_at": Table(_BYTE, _groups(setting, spells)),
        # a set of hosts for each number of sessions below the limit
        "set_at": Table(_WORD, limit * in_set),
        "summary_at": Table(_WORD, limit * in_summary),
        "levels_at": Table(_WORD, in_levels),
        # a leaf for each host, and the inner nodes
        "spare_at": Table(_REAL, 2 * leaves_of(setting)),
        # the policy writes at most one (host, action, cause) for each host ...
        "rows_at": Table(ROW, hosts, cleared=False),
        # ... and chains hosts by their sessions: a head for 0 to limit, a link for each host
        "scratch_at": Table(_LONG, hosts + limit + 1, cleared=False),
        # targets; the policy notes which of them are in force
        "target_at": Table(TARGET, targets),
        # load rules: timers, signals, and both at each look
        "rule_at": Table(RULE, rules),
        "signal_at": Table(SIGNAL, rules),
        "looked_at": Table(_REAL, codes.LEVELS),
        **_looks(setting, rules * ticks),
        # these grow: one entry for each pending event, each change, each wait
        "heap_at": Table(_LONG, room.heap + CHILDREN, cleared=False),
        "action_at": Table(ACTION, log, cleared=False),
        "lane_at": Table(LANE, log, cleared=False),
        "queue_at": Table(_INT, room.queue, cleared=False),
        "starts_at": Table(_INT, room.starts, cleared=False),
    }


def _starts(pool: Pool, seed: int, ordinals: int) -> NDArray[np.int32]:
    """Return the seconds of every host's starts, shape (ordinals, hosts); failed starts are
    negative."""
    start, hosts = pool.start, pool.hosts.most
    seconds = draws.host_seconds(seed, "host start", ordinals, hosts, start.mean_seconds, start.cv)
    if start.failure_share == 0.0:
        return seconds
    return np.where(
        draws.host_failures(seed, ordinals, hosts, start.failure_share), -seconds, seconds
    )


def given_tables(
    setting: Setting, edges: NDArray[np.void], spells: Spells, seed: int, room: Room
) -> dict[str, NDArray[Any]]:
    """Return the tables that a run only reads: spells, draws, profiles and band edges."""
    pool = setting.pool
    leads = np.zeros((0, 0), np.int64)
    if has_targets(setting.schedule):
        leads = lead_table(pool, setting.schedule.tick_seconds)
    creations = room.ordinals if _creates(pool) else 0
    return {
        "start_at": spells.start,
        "end_at": spells.end,
        "ends_at": spells.ends,
        "who_at": spells.person,
        "fixed_at": spells.from_connection,
        "leaving_at": spells.leaving,
        "profile_of_at": spells.profile,
        "group_at": spells.group,
        "day_at": spells.day,
        "drill_at": _drill_rows(setting.drills),
        "profile_at": _profile_rows(setting.profiles),
        "edge_at": edges,
        "lead_at": leads.reshape(-1),
        "draw_at": _starts(pool, seed, room.ordinals),
        "create_at": draws.host_seconds(
            seed,
            "host creation",
            creations,
            pool.hosts.most,
            pool.create.mean_seconds,
            pool.create.cv,
            pool.create.script_seconds,
        ),
    }
