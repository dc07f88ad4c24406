"""The plan: frozen values, validated once at the edge and trusted inside.

Times are seconds, memory is GiB, CPU is vCPU, money is Decimal in the plan's currency.
None stands for a timeout that never strikes.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Literal

Weekday = Literal["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
WEEKDAYS: tuple[Weekday, ...] = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")

Rule = Literal["spread", "fill"]
Release = Literal["keep all", "when empty", "drain"]
SessionKind = Literal["exponential", "lognormal", "fixed"]


@dataclass(frozen=True, slots=True)
class Promise:
    """What people are owed: seconds at the 95th percentile, and two shares from 0 to 1."""

    wait_p95_seconds: int
    refused_share: float
    strained_share: float


@dataclass(frozen=True, slots=True)
class Site:
    """A place where people work, with its IANA time zone."""

    id: str
    time_zone: str


@dataclass(frozen=True, slots=True)
class Profile:
    """What one session draws: vCPU, GiB by state, and what its logon costs."""

    id: str
    cpu_mean: float
    cpu_sd: float
    cpu_idle: float
    memory_active: float
    memory_idle: float
    memory_disconnected: float
    logon_seconds: float
    logon_vcpu: float


@dataclass(frozen=True, slots=True)
class Leaving:
    """Probabilities of the three ways to leave; they add up to 1."""

    sign_off: float
    disconnect: float
    walk_away: float


@dataclass(frozen=True, slots=True)
class Break:
    """A pause taken with a probability about a local clock time (seconds of the day)."""

    probability: float
    at: int
    sd_minutes: float
    mean_minutes: float
    length_sd_minutes: float
    leaving: Leaving


@dataclass(frozen=True, slots=True)
class Pattern:
    """When a group's people start (seconds of the local day), how long they stay, their leaving."""

    id: str
    share: float
    attendance: tuple[float, ...]
    start_mean: int
    start_sd_minutes: float
    length_mean_minutes: float
    length_sd_minutes: float
    breaks: tuple[Break, ...]
    leaving: Leaving


@dataclass(frozen=True, slots=True)
class Headcount:
    """Demand of named people who follow patterns."""

    people: int
    patterns: tuple[Pattern, ...]


@dataclass(frozen=True, slots=True)
class DropIn:
    """Passers-by: arrivals per hour for 7 days of 24 hours (Monday first), and session length."""

    arrivals_per_hour: tuple[tuple[float, ...], ...]
    session_kind: SessionKind
    session_mean_minutes: float
    session_cv: float


@dataclass(frozen=True, slots=True)
class Group:
    """People with the same pattern of work and the same workload profile."""

    id: str
    site: str
    profile: str
    demand: Headcount | DropIn


@dataclass(frozen=True, slots=True)
class Entitlement:
    """Which group may use which pool."""

    group: str
    pool: str


@dataclass(frozen=True, slots=True)
class Size:
    """A host size and its hourly price; billing in steps of seconds with a least run."""

    id: str
    vcpu: float
    memory_gib: float
    hourly: Decimal
    source: str
    billing_step_seconds: int
    billing_minimum_seconds: int


@dataclass(frozen=True, slots=True)
class Disk:
    """A host disk with monthly prices while its host is on and while it is off."""

    id: str
    monthly_on: Decimal
    monthly_off: Decimal
    source: str


@dataclass(frozen=True, slots=True)
class Pool:
    """A pool of shared session hosts and its session policy."""

    id: str
    time_zone: str
    size: str
    disk: str | None
    standing: int
    session_limit: int
    schedule: str
    start_mean_seconds: float
    start_cv: float
    stop_seconds: int
    patience_seconds: int | None
    idle_timeout: int | None
    disconnected_timeout: int | None
    reconnect_seconds: int
    load_limit: float
    load_tolerance: float
    base_vcpu: float
    base_gib: float


@dataclass(frozen=True, slots=True)
class Band:
    """A stretch of the day from a local clock time (seconds of the day) with one set of rules."""

    start: int
    floor: int
    fill_ceiling: float
    headroom: int
    rule: Rule
    release: Release


@dataclass(frozen=True, slots=True)
class DayType:
    """A kind of day: which weekdays (0 = Monday) it covers, and its bands in clock order."""

    id: str
    weekdays: tuple[int, ...]
    bands: tuple[Band, ...]


@dataclass(frozen=True, slots=True)
class Schedule:
    """Day types and how often the policy looks (seconds)."""

    id: str
    tick_seconds: int
    day_types: tuple[DayType, ...]


@dataclass(frozen=True, slots=True)
class Plan:
    """The whole document as values."""

    name: str
    currency: str
    week_of: date
    promise: Promise
    sites: tuple[Site, ...]
    profiles: tuple[Profile, ...]
    groups: tuple[Group, ...]
    entitlements: tuple[Entitlement, ...]
    sizes: tuple[Size, ...]
    disks: tuple[Disk, ...]
    pools: tuple[Pool, ...]
    schedules: tuple[Schedule, ...]
