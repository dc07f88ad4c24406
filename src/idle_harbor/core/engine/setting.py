"""Inputs of a run: pools, their people, what pools share, and drills."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from idle_harbor.core.calendar.clock import Horizon
from idle_harbor.core.demand.spells import Spells
from idle_harbor.core.engine.kernel.codes import DRILL_FAILS
from idle_harbor.core.plan import Pool, Profile, Schedule, Size


@dataclass(frozen=True, slots=True)
class Drill:
    """A drill: hosts that fail, or whose agents are silent, from second ``at`` of the horizon for
    ``seconds``.

    It strikes the hosts of ``zone`` (0 is the first), or the ``hosts`` lowest-numbered hosts if
    ``zone`` is None. With ``kind`` DRILL_FAILS hosts fail and are repaired at the end. With
    DRILL_MUTES hosts run on, but a host that starts meanwhile is powered and takes no sessions
    until the end, because its agent does not register.
    """

    at: int
    seconds: int
    zone: int | None = None
    hosts: int = 0
    kind: int = DRILL_FAILS


@dataclass(frozen=True, slots=True)
class Setting:
    """Everything that a run needs of a plan, except the people: pool, schedule, size and profiles.

    Size and profiles are as the pool's place and image make them (``plan.workload``). ``homes`` has
    (person, host) pairs, both from 0, of a dedicated pool's list. ``behind`` says for each of the
    plan's groups whether it is behind a slow line (empty: none is). Hosts are dealt out over
    ``zones``. ``clocks`` has (site, time zone) for targets that follow the clock of a site. With
    ``measures_network``, or with a load rule on the network, the run integrates network traffic
    even if nothing limits it. ``looks`` is the number of looks of the policy to record, from the
    first on.
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
        """Whether the run has to follow more than CPU and memory."""
        limits = self.size.disk_ops is not None or self.size.network_mbit is not None
        gpu = any(profile.gpu_gib > 0.0 for profile in self.profiles)
        network = any(rule.signal == "network" for rule in self.schedule.load_rules)
        return limits or gpu or network or self.measures_network or any(self.behind)


@dataclass(frozen=True, slots=True)
class Limit:
    """A limit that pools of an estate share and can reach.

    A ``throttle`` bounds the hosts that start at once in a place. A ``quota`` bounds the vCPU of
    one size that are on at once. ``most`` is the bound, in hosts or vCPU; ``members`` are the
    indexes of the pools in the estate.
    """

    kind: Literal["throttle", "quota"]
    most: float
    members: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Member:
    """A pool of an estate: its setting, its horizon, and its spells.

    With ``record`` the run keeps all actions with their causes, and the lanes of all hosts. With
    ``sums`` the run keeps sums only, without five-minute bins.
    """

    setting: Setting
    horizon: Horizon
    spells: Spells
    record: bool = False
    sums: bool = False


@dataclass(frozen=True, slots=True)
class Estate:
    """Pools that are simulated together, with the limits that they share.

    A pool has at most one throttle and one quota. A single pool is an estate of one.
    """

    members: tuple[Member, ...]
    limits: tuple[Limit, ...] = ()
