"""One run: simulate pools with their schedules and given spells over a horizon."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.base.caches import bytes_in
from idle_harbor.core.calendar.clock import Horizon
from idle_harbor.core.demand.spells import Spells
from idle_harbor.core.engine.kernel.world import LOAD
from idle_harbor.core.engine.setting import Estate, Member, Setting
from idle_harbor.core.engine.tables import BIN_SECONDS, Room
from idle_harbor.core.engine.tally import Tally, tally
from idle_harbor.core.engine.together import Worlds
from idle_harbor.core.engine.worlds import World
from idle_harbor.core.errors import EngineError

__all__ = ["BIN_SECONDS", "Run", "run", "run_estate"]

#: Bound on repeats. Each at least doubles the table that was short, so memory runs out first.
_MOST_REPEATS = 64


@dataclass(frozen=True, slots=True)
class Looks:
    """What the policy saw and decided at each look; the first look opens the horizon.

    ``seen`` has shape (looks,) with fields of ``kernel.world.LookRow``; ``hosts`` has shape (looks,
    hosts) with fields of ``LookHost``.
    """

    seen: NDArray[np.void]
    hosts: NDArray[np.void]


@dataclass(frozen=True, slots=True)
class Run:
    """The results of one run. Times are seconds from the start of the horizon.

    ``results`` has a row per spell with ``outcome``, ``wait``, ``queued``, ``cause`` and ``host``
    (seconds; codes of ``kernel.codes``; see ``kernel.world.RESULT``). ``bins`` and ``peaks`` have
    shape (five-minute bins, levels): integrals in level-seconds, and maxima. ``totals`` are the
    integrals over the counted horizon, ``tally`` counts its spells by outcome. ``actions`` (time,
    host, action, cause) and ``lanes`` (time, host, state, sessions, strained) are empty unless the
    run was recorded; they are complete up to second ``recorded``, where the logs were full. A run
    for sums has two bins: before the counted horizon, and the counted horizon. ``loads`` (value,
    extra, change) has shape (looks, load rules). ``looks`` is None unless the setting asked for it.
    Of the ``counted_ends`` sessions that ended in the counted horizon, ``forced`` were ended by
    force, and ``lost_work`` by force or by a timeout while work in them may not have been saved.
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
    recorded: int
    counted_ends: int
    forced: int
    lost_work: int
    loads: NDArray[np.void]
    sums: bool
    looks: Looks | None
    totals: NDArray[np.float64] = field(init=False, repr=False)
    tally: Tally = field(init=False, repr=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "totals", self.counted_bins().sum(axis=0))
        length = self.horizon.end - self.horizon.start
        counted = tally(self.spells, self.results, self.counted_from, length, BIN_SECONDS)
        object.__setattr__(self, "tally", counted)

    @property
    def nbytes(self) -> int:
        """Bytes of memory that the run holds, including its spells."""
        held = bytes_in(self.results, self.bins, self.peaks, self.actions, self.lanes, self.loads)
        return self.spells.nbytes + self.tally.nbytes + held

    @property
    def counted_from(self) -> int:
        """Second of the horizon at which counting begins."""
        return self.horizon.counted - self.horizon.start

    def counted_bins(self) -> NDArray[np.float64]:
        """Return the bins of the counted horizon."""
        return self.bins[self._first_counted :]

    def counted_peaks(self) -> NDArray[np.float64]:
        """Return the maxima of the counted horizon's bins."""
        return self.peaks[self._first_counted :]

    @property
    def _first_counted(self) -> int:
        return 1 if self.sums else self.counted_from // BIN_SECONDS

    def total(self, level: int) -> float:
        """Return the integral of one level over the counted horizon, in level-seconds."""
        return float(self.totals[level])


def run(
    setting: Setting,
    horizon: Horizon,
    spells: Spells,
    seed: int,
    *,
    record: bool = False,
    sums: bool = False,
) -> Run:
    """Simulate one pool that shares nothing with others.

    ``seed`` selects the start times of hosts. See ``setting.Member`` for ``record`` and ``sums``,
    and :func:`run_estate` for the result and errors.
    """
    (done,) = run_estate(Estate((Member(setting, horizon, spells, record, sums),)), seed)
    return done


def run_estate(estate: Estate, seed: int) -> tuple[Run, ...]:
    """Simulate the pools of an estate together, each over its own horizon.

    ``seed`` selects the start times of hosts; the spells have their own draws. Returns a run per
    pool, in the order of the members. The same arguments give the same result, bit for bit. The
    values of the plan have been checked before. Raises EngineError for a fault of the engine
    itself, NotWantedError if the caller no longer waits.
    """
    members = estate.members
    rooms = [
        Room.guess(len(each.spells), each.spells.people, each.setting.pool.hosts.most)
        for each in members
    ]
    for _ in range(_MOST_REPEATS):
        worlds, short = _gone(estate, seed, rooms)
        if not any(short):
            return tuple(_done(*pair) for pair in zip(worlds, members, strict=True))
        rooms = [room.larger(each) for room, each in zip(rooms, short, strict=True)]
    raise EngineError(f"a simulated week needs more than the {rooms} that it may have")


def _gone(estate: Estate, seed: int, rooms: Sequence[Room]) -> tuple[Sequence[World], list[int]]:
    """Return the worlds of an estate after a run, and what each of them ran short of."""
    if estate.limits:
        together = Worlds(estate, seed, rooms)
        return together.worlds, together.go()
    pairs = zip(estate.members, rooms, strict=True)
    alone = [World(member, seed, room) for member, room in pairs]
    return alone, [world.go() for world in alone]


def _loads(world: World, held: Callable[[NDArray[np.void]], NDArray[np.void]]) -> NDArray[np.void]:
    """Return the log of load rules with shape (looks, rules)."""
    rules = world.count("watched")
    if rules == 0:
        return np.zeros((0, 0), LOAD)
    return held(world.arena["load_at"]).reshape(-1, rules)


def _copied(table: NDArray[Any]) -> NDArray[Any]:
    """Return a copy of all bytes; numpy's own copy of records leaves out the padding."""
    if table.dtype.names is None:
        return table.copy()
    return table.view(np.uint8).copy().view(table.dtype)


def _looks(world: World) -> Looks | None:
    if world.count("looks_room") == 0:
        return None
    size, hosts = world.count("looks_size"), world.count("hosts")
    of_hosts = world.arena["look_host_at"][: size * hosts].reshape(size, hosts)
    return Looks(_copied(world.arena["look_at"][:size]), _copied(of_hosts))


def _done(world: World, member: Member) -> Run:
    """Return the results of a finished world.

    A recorded run is cached by its caller: its tables are copied, so that the other tables can be
    freed.
    """
    tables = world.arena

    def held(table: NDArray[Any]) -> NDArray[Any]:
        return _copied(table) if member.record else table

    return Run(
        horizon=member.horizon,
        spells=member.spells,
        results=held(tables["result_at"]),
        bins=held(tables["bin_at"]["sum"]),
        peaks=held(tables["bin_at"]["peak"]),
        actions=held(tables["action_at"][: world.count("actions_size")]),
        lanes=held(tables["lane_at"][: world.count("lanes_size")]),
        rounding_seconds=world.count("rounding"),
        slot_seconds=world.count("slot_seconds"),
        ended_sessions=world.count("ended"),
        events=world.count("events"),
        interrupted=world.count("interrupted"),
        recorded=world.count("recorded"),
        counted_ends=world.count("counted_ends"),
        forced=world.count("forced"),
        lost_work=world.count("lost_work"),
        loads=_loads(world, held),
        sums=member.sums,
        looks=_looks(world),
    )
