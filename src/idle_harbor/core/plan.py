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
Use = Literal["desktop", "apps"]
_DAY = 86_400

PoolKind = Literal["shared", "dedicated"]
Assign = Literal["at first logon", "by list"]
Together = Literal["one session", "two sessions"]


@dataclass(frozen=True, slots=True)
class Promise:
    """What people are owed: seconds at the 95th percentile, and two shares from 0 to 1."""

    wait_p95_seconds: int
    refused_share: float
    strained_share: float


@dataclass(frozen=True, slots=True)
class OwnDay:
    """A holiday that is not a public one, or one that a calendar file named."""

    day: date
    name: str


@dataclass(frozen=True, slots=True)
class Holidays:
    """Days on which a site rests: a country's public ones (ISO 3166, with a region) and its own."""

    country: str | None
    region: str | None
    own: tuple[OwnDay, ...]


@dataclass(frozen=True, slots=True)
class Site:
    """A place where people work, with its IANA time zone and its holidays."""

    id: str
    time_zone: str
    holidays: Holidays = Holidays(None, None, ())


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
class Normal:
    """A normal spread of clock times or lengths: mean and standard deviation in seconds."""

    mean: float
    sd: float


@dataclass(frozen=True, slots=True)
class Histogram:
    """An observed spread: weights of equal steps from ``first`` on, uniform within; seconds."""

    first: int
    step: int
    weights: tuple[float, ...]

    @property
    def mean(self) -> float:
        """The mean in seconds."""
        total = sum(self.weights)
        middles = (w * (self.first + (k + 0.5) * self.step) for k, w in enumerate(self.weights))
        return sum(middles) / total


Spread = Normal | Histogram


@dataclass(frozen=True, slots=True)
class Break:
    """A pause taken with a probability: about a clock time (seconds of the day), or after a stay.

    Exactly one of ``at`` and ``after`` (seconds from the start) is given. A clock time before
    the pattern's mean start is on the following day.
    """

    probability: float
    at: int | None
    after: int | None
    sd_minutes: float
    mean_minutes: float
    length_sd_minutes: float
    leaving: Leaving


@dataclass(frozen=True, slots=True)
class Pattern:
    """When people start (seconds of the local day), how long they stay, how they leave.

    ``attendance`` has a probability for each weekday on which the pattern is valid, else None.
    """

    id: str
    share: float
    attendance: tuple[float | None, ...]
    start: Spread
    length: Spread
    breaks: tuple[Break, ...]
    leaving: Leaving

    def break_start(self, pause: Break) -> float:
        """Wall seconds at which a break begins on average; beyond a day is the following date."""
        if pause.at is None:
            return self.start.mean + (pause.after or 0)
        return pause.at + _DAY if pause.at < self.start.mean else pause.at


@dataclass(frozen=True, slots=True)
class Rotation:
    """Crews that take turns: person k is in crew k mod len(order), None in the order is rest.

    Crew c follows ``order[(c + n) mod len(order)]`` in the n-th stretch of ``every_days`` days
    counted from ``since``.
    """

    every_days: int
    order: tuple[str | None, ...]
    since: date


@dataclass(frozen=True, slots=True)
class Headcount:
    """Demand of named people who follow patterns; ``follows`` names a directory group."""

    people: int
    patterns: tuple[Pattern, ...]
    rotation: Rotation | None = None
    follows: str | None = None


@dataclass(frozen=True, slots=True)
class DropIn:
    """Passers-by: arrivals per hour for 7 days of 24 hours (Monday first), and session length."""

    arrivals_per_hour: tuple[tuple[float, ...], ...]
    session_kind: SessionKind
    session_mean_minutes: float
    session_cv: float


@dataclass(frozen=True, slots=True)
class Growth:
    """Headcount or rate multiplies by 1 + ``per_year`` in a year, counted from ``since``."""

    per_year: float
    since: date


@dataclass(frozen=True, slots=True)
class Group:
    """People with the same pattern of work and the same workload profile."""

    id: str
    site: str
    profile: str
    demand: Headcount | DropIn
    works_holidays: bool = False
    growth: Growth | None = None


@dataclass(frozen=True, slots=True)
class Dates:
    """From one date to another, both included."""

    first: date
    last: date


@dataclass(frozen=True, slots=True)
class MonthWorkdays:
    """From one workday of every month to another (1 = first), both included.

    A workday is a Monday to Friday that is no holiday of the group's site.
    """

    first: int
    last: int


@dataclass(frozen=True, slots=True)
class Event:
    """Days that differ: demand times a factor, moved by minutes, on another pattern.

    ``groups`` empty means all; ``pattern`` names a pattern that each such group has.
    """

    id: str
    groups: tuple[str, ...]
    when: Dates | MonthWorkdays
    factor: float
    shift_minutes: int
    pattern: str | None


@dataclass(frozen=True, slots=True)
class Overlap:
    """So many people are in exactly these groups at once."""

    groups: tuple[str, ...]
    people: int


@dataclass(frozen=True, slots=True)
class Entitlement:
    """Which group may use which pool, as a whole desktop or as apps from its image.

    ``use`` is the share of a person's working days on which this one is opened; ``profile`` is
    what it runs, the group's own where none is named.
    """

    group: str
    pool: str
    use_as: Use = "desktop"
    apps: tuple[str, ...] = ()
    use: float = 1.0
    profile: str | None = None


@dataclass(frozen=True, slots=True)
class Image:
    """A host image with the inventory of its apps."""

    id: str
    apps: tuple[str, ...]


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
class Assigned:
    """A person (1 = the group's first) whose host in a dedicated pool is this one (1 = first)."""

    group: str
    person: int
    host: int


@dataclass(frozen=True, slots=True)
class Pool:
    """A pool of session hosts and its session policy.

    Of a dedicated pool every host is one person's: by list, or taken at their first logon.
    """

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
    image: str | None = None
    desktop_and_apps: Together = "one session"
    kind: PoolKind = "shared"
    assign: Assign = "at first logon"
    assigned: tuple[Assigned, ...] = ()


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
    events: tuple[Event, ...] = ()
    overlaps: tuple[Overlap, ...] = ()
    images: tuple[Image, ...] = ()
