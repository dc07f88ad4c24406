"""What hosts are made of and what they cost: sizes, disks, images, places, prices.

Memory is GiB, CPU is vCPU, money is Decimal in the plan's currency.
"""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Annotated, Literal, TypeAlias

from annotated_types import Len
from pydantic import AfterValidator

from idle_harbor.core.plan.declare import (
    DAY,
    MEASURE,
    OURS,
    About,
    Day,
    Id,
    Ids,
    Money,
    Name,
    Named,
    Names,
    Text,
)

System = Literal["many sessions", "one session"]
LicencePer = Literal["named person", "peak session", "active person"]


@dataclass(frozen=True, slots=True)
class Burst:
    """A size that may use all its CPU only while it has credits, and a share of it otherwise.

    ``baseline`` is that share; a host starts with ``first`` credits, earns baseline × vCPU of
    them an hour and keeps at most ``most``. One credit is one vCPU for one hour.
    """

    baseline: Annotated[
        float,
        About(
            "The share of its CPU that the host always has, and earns as credits.", "share", 0.01, 1
        ),
    ] = 0.2
    first: Annotated[
        float, About("Credits that a host holds when it has started.", "vCPU-hours", 0, 10_000)
    ] = 0.0
    most: Annotated[
        float, About("The most credits that a host keeps.", "vCPU-hours", 0, 100_000)
    ] = 24.0


@dataclass(frozen=True, slots=True)
class Free:
    """A size whose vCPU and memory are chosen within bounds."""

    vcpu_low: Annotated[float, About("The fewest vCPU to choose.", "vCPU", 0.25, 512)]
    vcpu_high: Annotated[float, About("The most vCPU to choose.", "vCPU", 0.25, 512)]
    gib_per_vcpu_low: Annotated[
        float, About("The least memory for each vCPU.", "GiB/vCPU", 0.1, 256, step=0.5)
    ]
    gib_per_vcpu_high: Annotated[
        float, About("The most memory for each vCPU.", "GiB/vCPU", 0.1, 256, step=0.5)
    ]
    vcpu_step: Annotated[
        float, About("The step in which to choose.", "vCPU", 0.25, 64, step=0.25)
    ] = 1.0
    per_vcpu: Annotated[Money, About("What each vCPU adds an hour.", "money/h", 0, 1000)] = Decimal(
        0
    )
    per_gib: Annotated[Money, About("What each GiB adds an hour.", "money/h", 0, 1000)] = Decimal(0)


@dataclass(frozen=True, slots=True)
class Machine:
    """Hardware of one's own that holds hosts of this size."""

    hosts: Annotated[
        int, About("How many such hosts one machine of one's own holds.", "hosts", 1, 1000)
    ]
    hourly: Annotated[
        Money, About("Price of that machine for one hour, on or off.", "money/h", 0, 100_000)
    ]


#: The longest term that an hour's price is promised for, in years; each term once.
MOST_TERMS = 10


@dataclass(frozen=True, slots=True)
class Committed:
    """The price of an hour when years of it are promised."""

    years: Annotated[
        int, About("For how long it is promised.", "years", 1, MOST_TERMS, key=True, ordered=True)
    ]
    hourly: Annotated[
        Money, About("Price of each hour of those years, used or not.", "money/h", 0, 10_000)
    ]


def _by_years(terms: tuple[Committed, ...]) -> tuple[Committed, ...]:
    """Terms have no order of their own: the shorter comes first."""
    return tuple(sorted(terms, key=lambda term: term.years))


#: Declared by themselves, since an edit has them too.
HostVcpu: TypeAlias = Annotated[float, About("Processors of a host.", "vCPU", 0.25, 512)]
HostMemory: TypeAlias = Annotated[float, About("Memory of a host.", "GiB", 0.5, 24_576)]


@dataclass(frozen=True, slots=True)
class Request:
    """What somebody else has to grant before the plan can be built."""

    value: Annotated[float, About("How much is asked for.", "as what is asked for", 0, 1_000_000)]
    owner: Annotated[Text, Len(0, 120), About("Who grants it.")] = ""
    due: Annotated[Day | None, About("By when it is needed.", "date")] = None


@dataclass(frozen=True, slots=True)
class Size(Named):
    """A host size, its limits and its price.

    ``disk_ops`` and ``network_mbit`` are None where no limit is known; ``quota`` is the most vCPU
    of this size that may be on at once, over all pools, and ``quota_asked`` a larger one that is
    not granted yet.
    """

    vcpu: HostVcpu
    memory_gib: HostMemory
    hourly: Annotated[
        Money,
        About(
            "Price of one host for one hour while it is on; of a freely chosen size the fixed "
            "part.",
            "money/h",
            0,
            10_000,
        ),
    ]
    source: Annotated[Text, About("Where the price comes from.")] = "typed"
    billing_step_seconds: Annotated[
        int, About("A run is billed in steps of this length.", "s", 1, 3600, OURS)
    ] = 1
    billing_minimum_seconds: Annotated[
        int, About("The least that a run is billed for.", "s", 0, DAY, OURS)
    ] = 0
    gpu_gib: Annotated[float, About("GPU memory of a host; 0 is no GPU.", "GiB", 0, 4096)] = 0.0
    disk_ops: Annotated[
        float | None,
        About(
            "The most disk operations a second that a host can do; none: not known to bind.",
            "operations/s",
            1,
            10_000_000,
        ),
    ] = None
    network_mbit: Annotated[
        float | None,
        About("The most that a host can send; none: not known to bind.", "Mbit/s", 1, 1_000_000),
    ] = None
    cache_gib: Annotated[
        float,
        About("Local cache of a host; a throwaway host keeps its image there.", "GiB", 0, 100_000),
    ] = 0.0
    quota: Annotated[
        float | None,
        About(
            "The most vCPU of this size that may be on at once, over all pools; starts beyond it "
            "queue. None: no bound.",
            "vCPU",
            0,
            1_000_000,
        ),
    ] = None
    quota_asked: Request | None = None
    burst: Burst | None = None
    free: Free | None = None
    machine: Machine | None = None
    committed: Annotated[tuple[Committed, ...], Len(0, MOST_TERMS), AfterValidator(_by_years)] = ()

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
class Disk(Named):
    """A host disk and its prices."""

    monthly_on: Annotated[
        Money,
        About(
            "Price of one host's disk for a month while the host is on.", "money/month", 0, 100_000
        ),
    ]
    monthly_off: Annotated[
        Money,
        About(
            "Price of one host's disk for a month while the host is off, in the tier it then has.",
            "money/month",
            0,
            100_000,
        ),
    ]
    source: Annotated[Text, About("Where the prices come from.")] = "typed"
    gib: Annotated[float, About("How much the disk holds.", "GiB", 1, 65_536)] = 128.0


@dataclass(frozen=True, slots=True)
class Tuning:
    """What an image's tuning leaves of all CPU and of the memory of a host without sessions."""

    cpu: Annotated[
        float,
        About(
            "What is left of all CPU after the image was tuned; 1 is as it was.",
            "times",
            0.1,
            2,
            MEASURE,
        ),
    ] = 1.0
    memory: Annotated[
        float,
        About(
            "What is left of a host's own memory after the image was tuned.",
            "times",
            0.1,
            2,
            MEASURE,
        ),
    ] = 1.0


@dataclass(frozen=True, slots=True)
class Image(Named):
    """A host image: its apps, how large it is, what its system and display allow, its tuning."""

    apps: Annotated[tuple[Name, ...], Len(0, 2000)] = ()
    gib: Annotated[float, About("How large the image is.", "GiB", 1, 2048, MEASURE)] = 40.0
    system: Annotated[
        System,
        About(
            "Whose sessions its system can hold.",
            choices={
                "many sessions": "its system holds the sessions of many people at once",
                "one session": "its system holds one session",
            },
        ),
    ] = "many sessions"
    display: Annotated[
        Names,
        About(
            "Display protocols that hosts of this image can show with; none named: any.",
            "protocols",
        ),
    ] = ()
    tuning: Tuning = Tuning()


@dataclass(frozen=True, slots=True)
class Offer:
    """A size that a place has: in which of its zones (none named: all), at what price there."""

    size: Annotated[Id, About("The size.", key=True)]
    zones: Annotated[
        Names, About("The zones that have this size; none named: all of the place.", "zones")
    ] = ()
    hourly: Annotated[
        Money | None,
        About("Price of this size here; none: the price of the size.", "money/h", 0, 10_000),
    ] = None


@dataclass(frozen=True, slots=True)
class Line:
    """The line between a site and a place."""

    site: Annotated[Id, About("The site.", key=True)]
    round_trip_ms: Annotated[
        float,
        About(
            "How long a round trip between the site and the place takes.", "ms", 0, 10_000, MEASURE
        ),
    ]


@dataclass(frozen=True, slots=True)
class Place(Named):
    """Where hosts can be: its legal area, its zones, the sizes it has and the lines to it.

    Without offers it has every size in every zone at the sheet's price.
    """

    area: Annotated[
        Name, About("The legal area that the place is in, for rules on where data may be kept.")
    ]
    zones: Annotated[
        Names, About("Zones of the place: parts that do not fail together.", "zones")
    ] = ()
    offers: Annotated[tuple[Offer, ...], Len(0, 500)] = ()
    lines: Annotated[tuple[Line, ...], Len(0, 500)] = ()
    starts_at_once: Annotated[
        int | None,
        About(
            "The most hosts that may start at once in the place, over all its pools; the others "
            "queue, first come first served. None: no bound.",
            "hosts",
            1,
            10_000,
        ),
    ] = None

    def round_trip(self, site: str) -> float | None:
        """Milliseconds to a site, None where nobody has measured it."""
        return next((line.round_trip_ms for line in self.lines if line.site == site), None)

    def offer_of(self, size: str) -> Offer | None:
        """What the place has of a size, None where it lacks it."""
        if not self.offers:
            return Offer(size, self.zones)
        found = next((offer for offer in self.offers if offer.size == size), None)
        return None if found is None else Offer(size, found.zones or self.zones, found.hourly)


@dataclass(frozen=True, slots=True)
class Licence(Named):
    """Software paid by the month per named person, per session at the peak, or per
    different person expected in a month."""

    monthly: Annotated[Money, About("Price of one licence for a month.", "money/month", 0, 100_000)]
    per: Annotated[
        LicencePer,
        About(
            "What the number of licences goes by.",
            choices={
                "named person": "one for everyone who may use the pool",
                "peak session": "one for each session at the peak",
                "active person": "one for everyone expected to come in a month",
            },
        ),
    ] = "named person"
    pools: Annotated[Ids, About("The pools that need it; none named: all.", "pools")] = ()


@dataclass(frozen=True, slots=True)
class Prices:
    """What a month holds besides hosts and disks; ``credits`` is money given once."""

    egress_gib: Annotated[
        Money, About("Price of each GiB of pictures sent out to people.", "money/GiB", 0, 1000)
    ] = Decimal(0)
    address_month: Annotated[
        Money, About("Price of a host's public address for a month.", "money/month", 0, 10_000)
    ] = Decimal(0)
    credits: Annotated[
        Money, About("Money given once, used up before anything is paid.", "money", 0, 999_999)
    ] = Decimal(0)
    licences: Annotated[tuple[Licence, ...], Len(0, 100)] = ()
    source: Annotated[Text, About("Where these prices come from.")] = "typed"
