"""What hosts are made of and what they cost: places, sizes, disks, images, pools.

Times are seconds, memory is GiB, CPU is vCPU, money is Decimal in the plan's currency.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Literal

PoolKind = Literal["shared", "lent", "dedicated"]
Assign = Literal["at first logon", "by list"]
Together = Literal["one session", "two sessions"]
CountsFrom = Literal["powered", "booted", "registered", "settled"]
COUNTS_FROM: tuple[CountsFrom, ...] = ("powered", "booted", "registered", "settled")
System = Literal["many sessions", "one session"]
LicencePer = Literal["named person", "peak session", "active person"]


@dataclass(frozen=True, slots=True)
class Burst:
    """A size that may use all its CPU only while it has credits, and a share of it otherwise.

    ``baseline`` is that share; a host starts with ``first`` credits, earns baseline × vCPU of
    them an hour and keeps at most ``most``. One credit is one vCPU for one hour.
    """

    baseline: float
    first: float
    most: float


@dataclass(frozen=True, slots=True)
class Free:
    """A size whose vCPU and memory are chosen within bounds, and what each unit adds an hour."""

    vcpu_low: float
    vcpu_high: float
    vcpu_step: float
    gib_per_vcpu_low: float
    gib_per_vcpu_high: float
    per_vcpu: Decimal
    per_gib: Decimal


@dataclass(frozen=True, slots=True)
class Machine:
    """Hardware of one's own: how many such hosts one machine holds, and its price an hour."""

    hosts: int
    hourly: Decimal


@dataclass(frozen=True, slots=True)
class Committed:
    """The price of an hour when so many years of it are promised."""

    years: int
    hourly: Decimal


@dataclass(frozen=True, slots=True)
class Size:
    """A host size and its hourly price; billing in steps of seconds with a least run.

    ``disk_ops`` a second and ``network_mbit`` are limits, None where none is known; ``quota`` is
    the most vCPU of this size that may exist.
    """

    id: str
    vcpu: float
    memory_gib: float
    hourly: Decimal
    source: str
    billing_step_seconds: int
    billing_minimum_seconds: int
    gpu_gib: float = 0.0
    disk_ops: float | None = None
    network_mbit: float | None = None
    cache_gib: float = 0.0
    quota: float | None = None
    burst: Burst | None = None
    free: Free | None = None
    machine: Machine | None = None
    committed: tuple[Committed, ...] = ()

    @property
    def price(self) -> Decimal:
        """Money for one hour of one host: the hourly price and what chosen units add."""
        if self.free is None:
            return self.hourly
        vcpu, gib = Decimal(repr(self.vcpu)), Decimal(repr(self.memory_gib))
        return self.hourly + vcpu * self.free.per_vcpu + gib * self.free.per_gib

    @property
    def whole_price(self) -> Decimal:
        """The price of an hour with a host's part of the machine that is rented for it."""
        if self.machine is None:
            return self.price
        return self.price + self.machine.hourly / self.machine.hosts


@dataclass(frozen=True, slots=True)
class Disk:
    """A host disk with monthly prices while its host is on and while it is off."""

    id: str
    monthly_on: Decimal
    monthly_off: Decimal
    source: str
    gib: float = 128.0


@dataclass(frozen=True, slots=True)
class Image:
    """A host image: its apps, how large it is, what its system and display allow, its tuning.

    ``tuning_cpu`` multiplies all CPU of hosts and sessions that run it, ``tuning_memory`` the
    memory of a host without sessions. ``display`` names the protocols it can show with.
    """

    id: str
    apps: tuple[str, ...]
    gib: float = 40.0
    system: System = "many sessions"
    display: tuple[str, ...] = ()
    tuning_cpu: float = 1.0
    tuning_memory: float = 1.0


@dataclass(frozen=True, slots=True)
class Offer:
    """A size that a place has: in which of its zones (none named: all), at what price there."""

    size: str
    zones: tuple[str, ...]
    hourly: Decimal | None


@dataclass(frozen=True, slots=True)
class Line:
    """The time that a round trip between a site and a place takes, in milliseconds."""

    site: str
    round_trip_ms: float


@dataclass(frozen=True, slots=True)
class Place:
    """Where hosts can be: its legal area, its zones, the sizes it has and the lines to it.

    Without offers it has every size in every zone at the sheet's price.
    """

    id: str
    area: str
    zones: tuple[str, ...]
    offers: tuple[Offer, ...]
    lines: tuple[Line, ...]

    def round_trip(self, site: str) -> float | None:
        """Milliseconds to a site, None where nobody has measured it."""
        return next((line.round_trip_ms for line in self.lines if line.site == site), None)

    def offer_of(self, size: str) -> Offer | None:
        """What the place has of a size, None where it lacks it."""
        if not self.offers:
            return Offer(size, self.zones, None)
        found = next((offer for offer in self.offers if offer.size == size), None)
        return None if found is None else Offer(size, found.zones or self.zones, found.hourly)


@dataclass(frozen=True, slots=True)
class Licence:
    """Software paid by the month per named person, per session at the peak, or per
    different person expected in a month."""

    id: str
    monthly: Decimal
    per: LicencePer
    pools: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Prices:
    """What a month holds besides hosts and disks; ``credits`` is money given once."""

    egress_gib: Decimal = Decimal(0)
    address_month: Decimal = Decimal(0)
    credits: Decimal = Decimal(0)
    licences: tuple[Licence, ...] = ()
    source: str = "typed"


NO_PRICES = Prices()


@dataclass(frozen=True, slots=True)
class Attached:
    """An app that is not in the image: it is attached at every logon, which takes seconds."""

    app: str
    seconds: float


@dataclass(frozen=True, slots=True)
class Assigned:
    """A person (1 = the group's first) whose host in a dedicated pool is this one (1 = first)."""

    group: str
    person: int
    host: int


def lasts(first: date | None, last: date | None, day: date) -> bool:
    """Whether a date lies from a first to a last one, both included; None is without end."""
    return (first is None or day >= first) and (last is None or day <= last)


@dataclass(frozen=True, slots=True)
class Pool:
    """A pool of session hosts and its session policy.

    Shared hosts hold many sessions, lent ones a single person until they sign off; of a dedicated
    pool every host is one person's, by list or taken at their first logon. Throwaway hosts have
    no kept disk: they are created and removed, never off. Outside ``first_date`` to
    ``last_date`` the pool does not exist.
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
    surge: int = 0
    throwaway: bool = False
    place: str | None = None
    zones: tuple[str, ...] = ()
    reset_seconds: int = 0
    counts_from: CountsFrom = "powered"
    booted_share: float = 0.4
    settle_seconds: int = 60
    parallel_starts: int | None = None
    create_mean_seconds: float = 480.0
    create_cv: float = 0.3
    script_seconds: int = 0
    attached: tuple[Attached, ...] = ()
    display: str | None = None
    first_date: date | None = None
    last_date: date | None = None

    @property
    def hosts(self) -> int:
        """The most hosts there can be: standing and surge."""
        return self.standing + self.surge

    def exists_on(self, day: date) -> bool:
        """Whether the pool is there on a local date."""
        return lasts(self.first_date, self.last_date, day)
