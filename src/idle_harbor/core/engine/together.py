"""The memory of pools that share limits, and their common run."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from idle_harbor.core.base.arena import Arena, Table
from idle_harbor.core.base.stopping import go_on, stoppable
from idle_harbor.core.base.units import micro
from idle_harbor.core.engine.kernel import codes
from idle_harbor.core.engine.kernel.estate_loop import run_estate_loop
from idle_harbor.core.engine.kernel.shared import ESTATE, LIMIT, MEMBER
from idle_harbor.core.engine.setting import Estate, Limit
from idle_harbor.core.engine.tables import Room
from idle_harbor.core.engine.worlds import World, look_up_every
from idle_harbor.core.errors import EngineError
from idle_harbor.core.policy.in_force import bands_of


def _units(limit: Limit) -> int:
    """Return a limit in the units of the event loop: starts, or micro-vCPU."""
    return micro(limit.most) if limit.kind == "quota" else int(limit.most)


class Worlds:
    """The worlds of an estate's pools and their limits, kept alive together."""

    def __init__(self, estate: Estate, seed: int, rooms: Sequence[Room]) -> None:
        self._estate = estate
        self._arena = Arena(
            {
                "member_at": Table(MEMBER, len(estate.members)),
                "limit_at": Table(LIMIT, len(estate.limits)),
            }
        )
        self._record = np.zeros(1, ESTATE)
        self._start = min(member.horizon.start for member in estate.members)
        self.worlds = [
            World(member, seed, room, self._shares(k))
            for k, (member, room) in enumerate(zip(estate.members, rooms, strict=True))
        ]
        self._arena["limit_at"]["most"] = [_units(limit) for limit in estate.limits]
        for row, member, world in zip(
            self._arena["member_at"], estate.members, self.worlds, strict=True
        ):
            row["world_at"] = world.world.ctypes.data
            row["offset"] = row["following"] = row["gives"] = member.horizon.start - self._start
        values = {
            "members": len(estate.members),
            "limits": len(estate.limits),
            **self._arena.addresses(),
        }
        for name, value in values.items():
            self._record[name] = value

    def _shares(self, place: int) -> dict[str, int]:
        """Return the fields of a pool's world that describe its part in the estate."""
        of = {
            limit.kind: number
            for number, limit in enumerate(self._estate.limits)
            if place in limit.members
        }
        setting = self._estate.members[place].setting
        knocks = any(band.knock for band in bands_of(setting))
        return {
            "knocks": knocks or setting.pool.kind == "dedicated",
            "estate_at": self._record.ctypes.data,
            "member": place,
            "throttle": of.get("throttle", -1),
            "quota": of.get("quota", -1),
            "quota_each": micro(setting.size.vcpu),
        }

    def go(self) -> list[int]:
        """Run, and return what each pool ran short of (0: nothing).

        Raises EngineError if the run wrote outside its tables, NotWantedError if the caller no
        longer waits.
        """
        members, record = self._estate.members, self._record
        seconds = max(member.horizon.end for member in members) - self._start
        spells = sum(len(member.spells) for member in members)
        step = look_up_every(seconds, spells) if stoppable() else codes.FAR
        while not record["done"][0] and not record["short"][0]:
            go_on()
            record["pause"] += step
            run_estate_loop(record.ctypes.data)
        for world in self.worlds:
            world.check()
        if not self._arena.whole():
            raise EngineError("pools wrote beside what they share; their figures are void")
        return [world.count("short") for world in self.worlds]
