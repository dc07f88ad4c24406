"""The plan: frozen values, validated once at the edge and trusted inside.

Times are seconds, memory is GiB, CPU is vCPU, money is Decimal in the plan's currency.
None stands for a timeout that never strikes.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Literal

from idle_harbor.core.plan_hosts import NO_PRICES as NO_PRICES
from idle_harbor.core.plan_hosts import Assigned as Assigned
from idle_harbor.core.plan_hosts import Attached as Attached
from idle_harbor.core.plan_hosts import Burst as Burst
from idle_harbor.core.plan_hosts import Committed as Committed
from idle_harbor.core.plan_hosts import Disk as Disk
from idle_harbor.core.plan_hosts import Free as Free
from idle_harbor.core.plan_hosts import Image as Image
from idle_harbor.core.plan_hosts import Licence as Licence
from idle_harbor.core.plan_hosts import Line as Line
from idle_harbor.core.plan_hosts import Machine as Machine
from idle_harbor.core.plan_hosts import Offer as Offer
from idle_harbor.core.plan_hosts import Place as Place
from idle_harbor.core.plan_hosts import Pool as Pool
from idle_harbor.core.plan_hosts import Prices as Prices
from idle_harbor.core.plan_hosts import Size as Size

Weekday = Literal["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
WEEKDAYS: tuple[Weekday, ...] = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")

Rule = Literal["spread", "fill"]
Release = Literal["keep all", "when empty", "drain"]
SessionKind = Literal["exponential", "lognormal", "fixed"]
Use = Literal["desktop", "apps"]
Quality = Literal["lean", "standard", "fine"]
QUALITIES: tuple[Quality, ...] = ("lean", "standard", "fine")
_DAY = 86_400


@dataclass(frozen=True, slots=True)
class Promise:
    """What people are owed: seconds at the 95th percentile, two shares from 0 to 1, the longest
    round trip in milliseconds, and whether they find room while a zone is lost."""

    wait_p95_seconds: int
    refused_share: float
    strained_share: float
    round_trip_ms: float = 100.0
    zone_loss: bool = False


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
    """Where people work: its IANA time zone, its holidays, and the display protocols that its
    devices know (none named: any)."""

    id: str
    time_zone: str
    holidays: Holidays = Holidays(None, None, ())
    display: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Display:
    """Screens of one session: how many, megapixels of each, Mbit/s per megapixel by quality.

    Showing them costs ``vcpu_per_mbit`` of the host's CPU beside the network.
    """

    monitors: int = 1
    megapixels: float = 2.1
    quality: Quality = "standard"
    mbit: tuple[float, float, float] = (0.4, 0.8, 2.0)
    vcpu_per_mbit: float = 0.0

    @property
    def network_mbit(self) -> float:
        """Mbit/s of one active session."""
        return self.monitors * self.megapixels * self.mbit[QUALITIES.index(self.quality)]


@dataclass(frozen=True, slots=True)
class Measured:
    """What a profile was measured from, and the standard errors of its means (vCPU, GiB)."""

    sessions: int
    cpu_error: float
    memory_error: float
    source: str


@dataclass(frozen=True, slots=True)
class Profile:
    """What one session draws: vCPU, GiB by state, what its logon costs, and its other draws.

    ``disk_ops`` a second while active, ``gpu_gib`` of GPU memory in every state.
    """

    id: str
    cpu_mean: float
    cpu_sd: float
    cpu_idle: float
    memory_active: float
    memory_idle: float
    memory_disconnected: float
    logon_seconds: float
    logon_vcpu: float
    disk_ops: float = 0.0
    gpu_gib: float = 0.0
    display: Display = Display()
    measured: Measured | None = None


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
    """Passers-by: arrivals per hour for 7 days of 24 hours (Monday first), and session length.

    ``different_people`` is how many different ones come in a month, None where nobody knows.
    """

    arrivals_per_hour: tuple[tuple[float, ...], ...]
    session_kind: SessionKind
    session_mean_minutes: float
    session_cv: float
    different_people: int | None = None


@dataclass(frozen=True, slots=True)
class Growth:
    """Headcount or rate multiplies by 1 + ``per_year`` in a year, counted from ``since``."""

    per_year: float
    since: date


@dataclass(frozen=True, slots=True)
class Group:
    """People with the same pattern of work and the same workload profile.

    ``data_areas`` are the legal areas in which their data may be kept; none named: anywhere.
    """

    id: str
    site: str
    profile: str
    demand: Headcount | DropIn
    works_holidays: bool = False
    growth: Growth | None = None
    data_areas: tuple[str, ...] = ()


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
    places: tuple[Place, ...] = ()
    prices: Prices = NO_PRICES
