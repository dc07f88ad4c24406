"""One run: a pool, its schedule and given spells over a horizon, through the compiled loop."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtri

from idle_harbor.core import draws
from idle_harbor.core.calendar import Horizon, band_edges
from idle_harbor.core.demand import Spells
from idle_harbor.core.kernel import codes as k
from idle_harbor.core.kernel.loop import run_loop
from idle_harbor.core.kernel.rooms import room_words
from idle_harbor.core.kernel.world import (
    ACTION,
    BIN,
    EDGE,
    HOST,
    LANE,
    PERSON,
    POWER,
    PROFILE,
    RESULT,
    WIDE,
    WORLD,
)
from idle_harbor.core.plan import Pool, Profile, Schedule, Size
from idle_harbor.core.plan_hosts import COUNTS_FROM
from idle_harbor.core.policy import N_COUNTS, RELEASE_CODES

BIN_SECONDS = 300
_MOST_REPEATS = 24
_CACHE_LINE = 64
#: A host can be in the queue of starts again after a drill, and again after a pool's first date.
_STARTS_ROOM = 4
_LEVEL_OFFSET = int(WORLD.fields["level"][1])  # type: ignore[index]


@dataclass(frozen=True, slots=True)
class Drill:
    """Hosts that fail at a second of the horizon and are back some seconds later.

    Those of a zone (0 = first), or where ``zone`` is None the ``hosts`` lowest-numbered.
    """

    at: int
    seconds: int
    zone: int | None = None
    hosts: int = 0


@dataclass(frozen=True, slots=True)
class Setting:
    """What a run needs of a plan besides the people: pool, schedule, size and profiles.

    Size and profiles are as the pool's place and image make them (``core.workload``). ``homes``
    has (person, host), both from 0, of a dedicated pool's list; ``behind`` tells of each of the
    plan's groups whether it is behind a slow line (none: nobody is); hosts are dealt out over
    ``zones``; with ``measures_network`` the run keeps account of it though nothing limits it.
    """

    pool: Pool
    schedule: Schedule
    size: Size
    profiles: tuple[Profile, ...]
    homes: tuple[tuple[int, int], ...] = ()
    behind: tuple[bool, ...] = ()
    zones: int = 1
    measures_network: bool = False
    drill: Drill | None = None

    @property
    def wide(self) -> bool:
        """Whether anything beside CPU and memory has to be looked at."""
        limits = self.size.disk_ops is not None or self.size.network_mbit is not None
        gpu = any(profile.gpu_gib > 0.0 for profile in self.profiles)
        return limits or gpu or self.measures_network or any(self.behind)


@dataclass(frozen=True, slots=True)
class Run:
    """What happened in one run. Times are seconds from the horizon's start.

    ``results`` has a row per spell with ``outcome``, ``wait``, ``queued``, ``cause`` and ``host``
    (seconds, codes in ``kernel.codes``; see ``kernel.world.RESULT``); ``bins`` and ``peaks`` have
    shape (five-minute bins, levels): integrals in level-seconds, and maxima. ``actions`` (time,
    host, action, cause) and ``lanes`` (time, host, state, sessions, strained) are empty unless
    the run was recorded.
    """

    horizon: Horizon
    spells: Spells
    results: NDArray[np.void]
    bins: NDArray[np.float64]
    peaks: NDArray[np.float64]
    actions: NDArray[np.void]
    lanes: NDArray[np.void]
    rounding_seconds: int
    slot_seconds: int
    ended_sessions: int
    events: int
    interrupted: int

    @property
    def counted_from(self) -> int:
        """Seconds from the horizon's start at which counting begins."""
        return self.horizon.counted - self.horizon.start

    def counted_bins(self) -> NDArray[np.float64]:
        """The bins of the counted horizon."""
        return self.bins[self.counted_from // BIN_SECONDS :]

    def counted_peaks(self) -> NDArray[np.float64]:
        """The maxima of the counted horizon's bins."""
        return self.peaks[self.counted_from // BIN_SECONDS :]

    def total(self, level: int) -> float:
        """Integral of one level over the counted horizon, in level-seconds."""
        return float(self.counted_bins()[:, level].sum())


def _profile_rows(profiles: tuple[Profile, ...]) -> NDArray[np.void]:
    """Draw by profile and person state: micro-vCPU, its variance, KiB; and logon seconds."""
    rows = np.zeros(max(len(profiles), 1), dtype=PROFILE)
    for row, profile in zip(rows, profiles, strict=False):
        row["logon_seconds"] = profile.logon_seconds
        row["cpu"][k.LOGGING_ON] = round(profile.logon_vcpu * k.MICRO)
        row["cpu"][k.ACTIVE] = round(profile.cpu_mean * k.MICRO)
        row["variance"][k.ACTIVE] = round((profile.cpu_sd * k.MICRO) ** 2)
        for state in (k.LOGGING_ON, k.ACTIVE):
            row["memory"][state] = round(profile.memory_active * k.KIB_PER_GIB)
        for state in (k.IDLE, k.RETURNING_IDLE):
            row["cpu"][state] = round(profile.cpu_idle * k.MICRO)
            row["memory"][state] = round(profile.memory_idle * k.KIB_PER_GIB)
        for state in (k.DISCONNECTED, k.RETURNING_DISC):
            row["memory"][state] = round(profile.memory_disconnected * k.KIB_PER_GIB)
        row["gpu"][k.LOGGING_ON :] = round(profile.gpu_gib * k.KIB_PER_GIB)
        row["ops"][k.ACTIVE] = round(profile.disk_ops * k.MICRO)
        row["network"][k.ACTIVE] = round(profile.display.network_mbit * k.MICRO)
    return rows


def _bound(load_limit: float, limit: float | None, unit: int) -> float:
    return np.inf if limit is None else load_limit * limit * unit


def _burst(size: Size) -> dict[str, float]:
    if size.burst is None:
        return {}
    credit = 3600 * k.MICRO
    return {
        "bursts": 1,
        "baseline": size.burst.baseline * size.vcpu * k.MICRO,
        "credits_first": size.burst.first * credit,
        "credits_most": size.burst.most * credit,
    }


def _drill(drill: Drill | None) -> dict[str, float]:
    if drill is None:
        return {"drill_at": -1, "drill_until": -1}
    return {
        "drill_at": drill.at,
        "drill_until": drill.at + drill.seconds,
        "drill_zone": -1 if drill.zone is None else drill.zone,
        "drill_hosts": drill.hosts,
    }


def _timeout(seconds: int | None) -> int:
    return k.NEVER if seconds is None else seconds


def _settings(setting: Setting, horizon: Horizon, record: bool) -> dict[str, float]:
    """The world's scalar settings by name."""
    pool, size = setting.pool, setting.size
    return {
        "hosts": pool.hosts,
        "standing": pool.standing,
        "throwaway": int(pool.throwaway),
        "reset": pool.reset_seconds,
        "parallel": pool.parallel_starts or 0,
        "counts_from": COUNTS_FROM.index(pool.counts_from),
        "settle": pool.settle_seconds,
        "booted_share": pool.booted_share,
        "wide": int(setting.wide),
        "zones": max(setting.zones, 1),
        "limited_life": int(pool.first_date is not None or pool.last_date is not None),
        "load_limit": pool.load_limit,
        "gpu_bound": _bound(pool.load_limit, size.gpu_gib, k.KIB_PER_GIB),
        "ops_bound": _bound(pool.load_limit, size.disk_ops, k.MICRO),
        "network_bound": _bound(pool.load_limit, size.network_mbit, k.MICRO),
        **_burst(size),
        **_drill(setting.drill),
        "limit": pool.session_limit,
        "per_host": 1.0 / pool.session_limit,
        "patience": _timeout(pool.patience_seconds),
        "idle_timeout": _timeout(pool.idle_timeout),
        "disconnected_timeout": _timeout(pool.disconnected_timeout),
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
        "cpu_capacity": size.vcpu * k.MICRO,
        "tolerance_z2": float(ndtri(1.0 - pool.load_tolerance)) ** 2,
        "memory_bound": pool.load_limit * size.memory_gib * k.KIB_PER_GIB,
        "dedicated": int(pool.kind == "dedicated"),
        "by_list": int(pool.assign == "by list"),
    }


def _homes(setting: Setting, people: int) -> tuple[NDArray[np.int32], NDArray[np.int32]]:
    """The host of every person and the owner of every host, -1 where there is none."""
    homes = np.full(people, -1, dtype=np.int32)
    owners = np.full(max(setting.pool.hosts, 1), -1, dtype=np.int32)
    for person, host in setting.homes:
        if person < people:
            homes[person], owners[host] = host, person
    return homes, owners


def _edge_rows(schedule: Schedule, horizon: Horizon, pool: Pool) -> NDArray[np.void]:
    """Band edges in seconds of the horizon, with a last one that is never reached."""
    edges = band_edges(schedule, horizon)
    rows = np.zeros(len(edges) + 1, dtype=EDGE)
    for row, edge in zip(rows, edges, strict=False):
        band = schedule.day_types[edge.day_type].bands[edge.band]
        row["time"] = edge.instant - horizon.start
        row["floor"] = band.floor
        row["headroom"] = band.headroom
        row["ceiling"] = band.fill_ceiling
        row["fill"] = band.rule == "fill"
        row["release"] = RELEASE_CODES[band.release]
        row["exists"] = pool.exists_on(edge.day)
    rows[-1]["time"] = k.FAR
    return rows


@dataclass(slots=True)
class _Room:
    """Sizes of the arrays whose need is not known before a run."""

    ordinals: int = 16
    heap: int = 4096
    log: int = 4096

    def larger(self, short: int) -> _Room:
        return _Room(
            self.ordinals * (2 if short & k.SHORT_OF_DRAWS else 1),
            self.heap * (4 if short & k.SHORT_OF_HEAP else 1),
            self.log * (4 if short & k.SHORT_OF_LOG else 1),
        )


def _aligned(count: int, dtype: np.dtype[np.void]) -> NDArray[np.void]:
    """Zeroed records that begin at a cache line, so that one of 64 bytes never lies on two."""
    size = count * dtype.itemsize
    raw = np.zeros(size + _CACHE_LINE, dtype=np.uint8)
    skip = -raw.ctypes.data % _CACHE_LINE
    return raw[skip : skip + size].view(dtype)


def _host_rows(pool: Pool) -> NDArray[np.void]:
    rows = _aligned(max(pool.hosts, 1), HOST)
    rows["cpu"] = round(pool.base_vcpu * k.MICRO)
    rows["memory"] = round(pool.base_gib * k.KIB_PER_GIB)
    for name in ("logon_head", "logon_tail", "next_logon"):
        rows[name] = -1
    return rows


def _power_rows(pool: Pool) -> NDArray[np.void]:
    rows = np.zeros(max(pool.hosts, 1), dtype=POWER)
    rows["due"] = rows["mark"] = -1
    return rows


def _wide_rows(setting: Setting) -> NDArray[np.void]:
    """A row per host where a run looks at more than CPU and memory."""
    used = setting.wide or setting.size.burst is not None
    rows = np.zeros(max(setting.pool.hosts, 1) if used else 1, dtype=WIDE)
    rows["dry"] = -1
    return rows


class _World:
    """A world record with the tables it points to, kept alive together."""

    def __init__(
        self,
        setting: Setting,
        horizon: Horizon,
        spells: Spells,
        seed: int,
        record: bool,
        room: _Room,
    ) -> None:
        pool = setting.pool
        hosts, limit = pool.hosts, pool.session_limit
        in_set, in_summary, in_levels = room_words(hosts, limit)
        self.bin_count = -(-(horizon.end - horizon.start) // BIN_SECONDS)
        log = room.log if record else 1
        edges = _edge_rows(setting.schedule, horizon, pool)
        profiles = _profile_rows(setting.profiles)
        homes, owners = _homes(setting, max(spells.people, 1))
        self.tables: dict[str, NDArray[Any]] = {
            "start_at": np.ascontiguousarray(spells.start),
            "end_at": np.ascontiguousarray(spells.end),
            "who_at": np.ascontiguousarray(spells.person),
            "fixed_at": np.ascontiguousarray(spells.from_connection),
            "leaving_at": np.ascontiguousarray(spells.leaving),
            "profile_of_at": np.ascontiguousarray(spells.profile),
            "result_at": np.zeros(max(len(spells), 1), dtype=RESULT),
            "person_at": _aligned(max(spells.people, 1), PERSON),
            "host_at": _host_rows(pool),
            "power_at": _power_rows(pool),
            "profile_at": profiles,
            "bin_at": np.zeros(self.bin_count + 1, dtype=BIN),
            "edge_at": edges,
            "action_at": np.empty(log, dtype=ACTION),
            "lane_at": np.empty(log, dtype=LANE),
            "heap_at": np.empty(room.heap, dtype=np.int64),
            "queue_at": np.empty(max(len(spells), 1), dtype=np.int32),
            "set_at": np.zeros(limit * in_set, dtype=np.uint64),
            "summary_at": np.zeros(limit * in_summary, dtype=np.uint64),
            "levels_at": np.zeros(in_levels, dtype=np.uint64),
            "draw_at": draws.host_seconds(
                seed, "host start", room.ordinals, hosts, pool.start_mean_seconds, pool.start_cv
            ),
            "create_at": self._creations(pool, seed, room.ordinals),
            "wide_at": _wide_rows(setting),
            "starts_at": np.zeros(_STARTS_ROOM * max(hosts, 1), dtype=np.int32),
            "group_at": np.ascontiguousarray(spells.group),
            "behind_at": np.array(setting.behind or (False,), dtype=np.int8),
            "state_at": np.zeros(max(hosts, 1), dtype=np.int64),
            "sessions_at": np.zeros(max(hosts, 1), dtype=np.int64),
            "rows_at": np.empty(3 * (hosts + 1), dtype=np.int64),
            "home_at": homes,
            "owner_at": owners,
            "waits_at": np.zeros(max(hosts, 1), dtype=np.int64),
            "counts_at": np.empty(N_COUNTS, dtype=np.int64),
            "scratch_at": np.empty(hosts + limit + 1, dtype=np.int64),
        }
        self.world = np.zeros(1, dtype=WORLD)
        values: dict[str, float] = {
            **_settings(setting, horizon, record),
            "spells": len(spells),
            "profiles": len(profiles),
            "people": max(spells.people, 1),
            "bins": self.bin_count + 1,
            "edges": len(edges),
            "ordinals": room.ordinals,
            "groups": max(len(setting.behind), 1),
            "starts_room": _STARTS_ROOM * max(hosts, 1),
            "heap_room": room.heap,
            "actions_room": log,
            "lanes_room": log,
            "set_words": in_set,
            "summary_words": in_summary,
            "level_words": in_levels,
            **{name: table.ctypes.data for name, table in self.tables.items()},
        }
        values["level_at"] = self.world.ctypes.data + _LEVEL_OFFSET
        for name, value in values.items():
            self.world[name] = value

    @staticmethod
    def _creations(pool: Pool, seed: int, ordinals: int) -> NDArray[np.int32]:
        """Times of creations; pools whose hosts all stand have none."""
        if pool.surge == 0 and not pool.throwaway:
            return np.zeros(1, dtype=np.int32)
        return draws.host_seconds(
            seed, "host creation", ordinals, pool.hosts, pool.create_mean_seconds, pool.create_cv,
            pool.script_seconds,
        )  # fmt: skip

    def go(self) -> int:
        """Run; returns what the run was short of, 0 where it went through."""
        run_loop(self.world[0])
        return int(self.world["short"][0])

    def count(self, name: str) -> int:
        return int(self.world[name][0])


def run(
    setting: Setting, horizon: Horizon, spells: Spells, seed: int, *, record: bool = False
) -> Run:
    """Simulate one horizon.

    ``seed`` selects the hosts' start times; the spells carry their own draws. With ``record``
    the actions with their causes and the lanes of all hosts are kept. Same arguments, same
    result, bit for bit. Raises nothing: what a plan may hold has been checked at its edge.
    """
    room = _Room(log=4 * len(spells) + 16 * setting.pool.hosts + 4096)
    room.heap = max(room.heap, 2 * spells.people + 4 * setting.pool.hosts)
    for _ in range(_MOST_REPEATS):
        world = _World(setting, horizon, spells, seed, record, room)
        short = world.go()
        if not short:
            break
        room = room.larger(short)
    tables = world.tables
    return Run(
        horizon=horizon,
        spells=spells,
        results=tables["result_at"][: len(spells)],
        bins=tables["bin_at"]["sum"][: world.bin_count],
        peaks=tables["bin_at"]["peak"][: world.bin_count],
        actions=tables["action_at"][: world.count("actions_size")],
        lanes=tables["lane_at"][: world.count("lanes_size")],
        rounding_seconds=world.count("rounding"),
        slot_seconds=world.count("slot_seconds"),
        ended_sessions=world.count("ended"),
        events=world.count("events"),
        interrupted=world.count("interrupted"),
    )
