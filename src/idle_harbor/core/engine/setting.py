"""What a run needs: pools, their people, what the pools share, and what fails meanwhile."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from idle_harbor.core.calendar.clock import Horizon
from idle_harbor.core.demand.spells import Spells
from idle_harbor.core.engine.kernel.codes import DRILL_FAILS
from idle_harbor.core.plan import Pool, Profile, Schedule, Size


@dataclass(frozen=True, slots=True)
class Drill:
    """What befalls hosts from a second of the horizon on, for some seconds.

    Those of a zone (0 = first), or where ``zone`` is None the ``hosts`` lowest-numbered. ``kind``
    is DRILL_FAILS (the hosts fail, and are back at the end), or DRILL_MUTES (the hosts run on, but
    whichever of them starts meanwhile is powered and takes no sessions until the end: its agent
    does not register).
    """

    at: int
    seconds: int
    zone: int | None = None
    hosts: int = 0
    kind: int = DRILL_FAILS


@dataclass(frozen=True, slots=True)
class Setting:
    """What a run needs of a plan besides the people: pool, schedule, size and profiles.

    Size and profiles are as the pool's place and image make them (``core.workload``). ``homes``
    has (person, host), both from 0, of a dedicated pool's list; ``behind`` tells of each of the
    plan's groups whether it is behind a slow line (none: nobody is); hosts are dealt out over
    ``zones``; ``clocks`` has (site, time zone) of those by whose clock hosts are to be ready; with
    ``measures_network``, or with a load rule on it, the run keeps account of the network though
    nothing limits it; of ``looks`` looks of the policy, from the first on, it keeps what was seen
    and decided.
    """

    pool: Pool
    schedule: Schedule
    size: Size
    profiles: tuple[Profile, ...]
    homes: tuple[tuple[int, int], ...] = ()
    behind: tuple[bool, ...] = ()
    zones: int = 1
    measures_network: bool = False
    clocks: tuple[tuple[str, str], ...] = ()
    drills: tuple[Drill, ...] = ()
    looks: int = 0

    @property
    def wide(self) -> bool:
        """Whether anything beside CPU and memory has to be looked at."""
        limits = self.size.disk_ops is not None or self.size.network_mbit is not None
        gpu = any(profile.gpu_gib > 0.0 for profile in self.profiles)
        network = any(rule.signal == "network" for rule in self.schedule.load_rules)
        return limits or gpu or network or self.measures_network or any(self.behind)


@dataclass(frozen=True, slots=True)
class Limit:
    """What pools of an estate share, and can reach.

    A ``throttle`` is the number of hosts that start at once in a place; a ``quota`` the vCPU of one
    size that are on at once. ``members`` are the places of the pools in the estate.
    """

    kind: Literal["throttle", "quota"]
    most: float
    members: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Member:
    """A pool of an estate: its setting, its horizon, and who comes when.

    With ``record`` the actions with their causes and the lanes of all hosts are kept. With ``sums``
    the run has sums alone, without what is told of five minutes.
    """

    setting: Setting
    horizon: Horizon
    spells: Spells
    record: bool = False
    sums: bool = False


@dataclass(frozen=True, slots=True)
class Estate:
    """Pools that are simulated together, and the limits that they share.

    A pool has at most one throttle and one quota. A pool alone is an estate of one.
    """

    members: tuple[Member, ...]
    limits: tuple[Limit, ...] = ()
