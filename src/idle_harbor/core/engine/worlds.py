"""The world of one run: its filled tables, and the record that the compiled loop starts from."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.base.arena import LINE, Arena, Table
from idle_harbor.core.base.compiled import CHECKED
from idle_harbor.core.base.stopping import go_on, stoppable
from idle_harbor.core.engine import tables
from idle_harbor.core.engine.kernel import codes
from idle_harbor.core.engine.kernel.heap import CHILDREN, NOTHING
from idle_harbor.core.engine.kernel.loop import run_loop
from idle_harbor.core.engine.kernel.rooms import room_words
from idle_harbor.core.engine.kernel.spare import NOTHING_TO_SPARE
from idle_harbor.core.engine.kernel.world import WORLD
from idle_harbor.core.engine.setting import Member, Setting
from idle_harbor.core.engine.signal_rows import signal_rows
from idle_harbor.core.engine.tables import (
    BIN_SECONDS,
    Room,
    fill_hosts,
    given_tables,
    homes_and_owners,
    leaves_of,
    settings_of,
    tables_of,
)
from idle_harbor.core.errors import EngineError
from idle_harbor.core.policy.in_force import in_force, load_rules_of, rule_rows
from idle_harbor.core.policy.view import LONG_AGO, VIEW

#: Spells between two checks whether a run is still wanted: about a millisecond of work.
_LOOK_UP = 1000
#: Fields of a world that shares nothing.
SHARES_NOTHING: Mapping[str, int] = {
    "estate_at": 0,
    "throttle": -1,
    "quota": -1,
    "granted": codes.FAR,
}
_LEVEL_OFFSET = int(WORLD.fields["level"][1])  # type: ignore[index]


def look_up_every(seconds: int, spells: int) -> int:
    """Return the simulated seconds after which a run checks whether its result is still wanted.

    ``seconds`` is the length of the horizon, ``spells`` the number of its spells.
    """
    return max(seconds // (1 + spells // _LOOK_UP), BIN_SECONDS)


def _world_record() -> NDArray[np.void]:
    """Return a world of zeros whose levels begin at a cache line, because each event reads all of
    them."""
    raw = np.zeros(WORLD.itemsize + LINE, dtype=np.uint8)
    skip = -(raw.ctypes.data + _LEVEL_OFFSET) % LINE
    return raw[skip : skip + WORLD.itemsize].view(WORLD)


class World:
    """A world record with the tables that it points to, kept alive together."""

    def __init__(
        self, member: Member, seed: int, room: Room, shares: Mapping[str, int] = SHARES_NOTHING
    ) -> None:
        setting, horizon, spells = member.setting, member.horizon, member.spells
        length = horizon.end - horizon.start
        # Sums need two bins: before the counted horizon, and the counted horizon.
        bins = 2 if member.sums else -(-length // BIN_SECONDS)
        log = room.log if member.record else 0
        said = in_force(setting, horizon)
        ticks = (length - 1) // setting.schedule.tick_seconds
        targets = len(said.targets)
        owned = tables_of(setting, spells, bins, room, log, targets=targets, ticks=ticks)
        given = given_tables(setting, said.edges, spells, seed, room)
        self._given = {name: np.ascontiguousarray(table) for name, table in given.items()}
        if CHECKED:
            # The checked build needs them in the arena, where the true sizes are.
            owned |= {n: Table(t.dtype, t.size) for n, t in self._given.items()}
        self.arena = Arena(owned)
        if CHECKED:
            for name, table in self._given.items():
                self.arena[name][:] = table.reshape(-1)
        self._fill(setting, spells.people)
        self.arena["target_at"][:] = said.targets
        self._step = look_up_every(length, len(spells))
        self.world = _world_record()
        values = {
            **settings_of(setting, horizon, member.record),
            **self._sizes(member, room, bins, log),
            "targets": targets,
            "level_at": self.world.ctypes.data + _LEVEL_OFFSET,
            **shares,
            **{name: table.ctypes.data for name, table in self._given.items()},
            **self.arena.addresses(),
        }
        if member.sums:
            counted = horizon.counted - horizon.start
            values |= {"bin_end": counted, "bin_seconds": length - counted}
        for name, value in values.items():
            if name in (WORLD.fields or ()):
                self.world[name] = value
            if name in (VIEW.fields or ()):
                self.world["seen"][name] = value

    def _sizes(self, member: Member, room: Room, bins: int, log: int) -> dict[str, float]:
        """Return the sizes of the tables, and values that follow from them."""
        setting, spells, pool = member.setting, member.spells, member.setting.pool
        in_set, in_summary, in_levels = room_words(pool.hosts.most, pool.session_limit)
        rules = len(load_rules_of(setting))
        return {
            "spells": len(spells),
            "ends": len(spells.ends),
            "profiles": len(setting.profiles),
            "people": spells.people,
            "bins": bins,
            "edges": len(self._given["edge_at"]),
            "drills": len(setting.drills),
            "ordinals": room.ordinals,
            "groups": len(self.arena["behind_at"]),
            "starts_room": room.starts,
            "queue_room": room.queue,
            "heap_room": room.heap,
            "actions_room": log,
            "most_log": tables.MOST_LOG,
            "recorded": member.horizon.end - member.horizon.start,
            "lanes_room": log,
            "set_words": in_set,
            "summary_words": in_summary,
            "level_words": in_levels,
            "spare_leaves": leaves_of(setting),
            "holds": pool.session_limit,
            "rules": rules,
            "watched": rules,
            "loads_room": len(self.arena["load_at"]),
            "looks_room": setting.looks,
            "throttled": int(pool.start.parallel is not None),
            "longest_lead": 2 * int(self._given["lead_at"].max(initial=0)),
        }

    def _fill(self, setting: Setting, people: int) -> None:
        """Fill the tables that do not begin as zeros."""
        arena = self.arena
        fill_hosts(arena["host_at"], setting.pool)
        for name in ("due", "point", "late", "grant"):
            arena["power_at"][name] = -1
        arena["wide_at"]["dry"] = -1
        arena["rule_at"][:] = rule_rows(setting)
        arena["signal_at"][:] = signal_rows(setting)
        arena["load_at"]["value"] = np.nan
        arena["since_at"][:] = -LONG_AGO
        arena["heap_at"][:CHILDREN] = NOTHING
        arena["spare_at"][:] = NOTHING_TO_SPARE
        arena["home_at"][:], arena["owner_at"][:] = homes_and_owners(setting, people)
        arena["behind_at"][: len(setting.behind)] = setting.behind

    def go(self) -> int:
        """Run, and return what the run was short of (0: nothing).

        Raises EngineError if the run wrote outside its tables, NotWantedError if the caller no
        longer waits.
        """
        world, address = self.world, self.world.ctypes.data
        step = self._step if stoppable() else codes.FAR
        while not world["done"][0] and not world["short"][0]:
            go_on()
            world["pause"] += step
            run_loop(address)
        self.check()
        return self.count("short")

    def check(self) -> None:
        """Raise EngineError if the run wrote outside its tables: its results are then void."""
        if not self.arena.whole():
            raise EngineError("a simulated week wrote beside its tables; its figures are void")

    def count(self, name: str) -> int:
        """Return an integer field of the world."""
        return int(self.world[name][0])
