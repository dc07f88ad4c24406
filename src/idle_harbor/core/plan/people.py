"""People of a plan: sites, workload profiles, groups with their demand, events, overlaps, access.

Clock times are seconds of the local day, memory is GiB, CPU is vCPU; None is "not known" or
"never", as the field says.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Len
from pydantic import Discriminator, Field, Tag

from idle_harbor.core.plan.declare import (
    MEASURE,
    OURS,
    About,
    Clock,
    Day,
    DirectoryKey,
    Id,
    Name,
    Names,
    Share,
    Tagged,
    Text,
    alias,
    by_weekday,
    clock,
)

_DAY = 86_400
Quality = Literal["lean", "standard", "fine"]
SessionKind = Literal["exponential", "lognormal", "fixed"]
Use = Literal["desktop", "apps"]


@dataclass(frozen=True, slots=True)
class OwnDay:
    """A holiday that is not a public one, or one that a calendar file named."""

    day: Annotated[Day, About("A day on which this site rests.", "date", key=True, ordered=True)]
    name: Annotated[Name, About("What that day is called.")] = "own day"


@dataclass(frozen=True, slots=True)
class Holidays:
    """Days on which a site rests: a country's public ones, and its own."""

    country: Annotated[
        Text | None, About("The country whose public holidays this site keeps.", "ISO 3166")
    ] = None
    region: Annotated[
        Text | None,
        About("The part of that country, where parts have holidays of their own.", "ISO 3166-2"),
    ] = None
    own: Annotated[tuple[OwnDay, ...], Len(0, 2_000)] = ()


@dataclass(frozen=True, slots=True)
class Site:
    """A place where people work."""

    id: Id
    time_zone: Annotated[
        Text, About("The clock by which people at this site start and leave.", "IANA zone")
    ]
    holidays: Holidays = Holidays()
    display: Annotated[
        Names,
        About("Display protocols that the site's devices know; none named: any.", "protocols"),
    ] = ()


@dataclass(frozen=True, slots=True)
class Cpu:
    """CPU of a session."""

    mean: Annotated[
        float, About("CPU that one active session wants on average.", "vCPU", 0, 64, MEASURE)
    ] = 0.35
    sd: Annotated[
        float,
        About("How much that differs from moment to moment (standard deviation).",
              "vCPU", 0, 64, MEASURE),
    ] = 0.25  # fmt: skip
    idle: Annotated[
        float, About("CPU of a session whose person has walked away.", "vCPU", 0, 64, MEASURE)
    ] = 0.03


@dataclass(frozen=True, slots=True)
class Memory:
    """Memory of a session by state."""

    active: Annotated[float, About("Memory of an active session.", "GiB", 0, 1024, MEASURE)] = 1.8
    idle: Annotated[float, About("Memory of an idle session.", "GiB", 0, 1024, MEASURE)] = 1.6
    disconnected: Annotated[
        float, About("Memory of a disconnected session.", "GiB", 0, 1024, MEASURE)
    ] = 1.5


@dataclass(frozen=True, slots=True)
class Logon:
    """What a logon costs."""

    seconds: Annotated[
        float,
        About("How long a logon takes when the host has CPU to spare.", "s", 0, 3600, MEASURE),
    ] = 22.0
    vcpu: Annotated[float, About("CPU that a logon in progress wants.", "vCPU", 0, 64, MEASURE)] = (
        1.0
    )


@dataclass(frozen=True, slots=True)
class Mbit:
    """Mbit/s of an active session for each megapixel, by picture quality."""

    lean: Annotated[
        float,
        About("Network of an active session for each megapixel, lean picture.",
              "Mbit/s", 0, 1000, MEASURE),
    ] = 0.4  # fmt: skip
    standard: Annotated[
        float,
        About("Network of an active session for each megapixel, standard picture.",
              "Mbit/s", 0, 1000, MEASURE),
    ] = 0.8  # fmt: skip
    fine: Annotated[
        float,
        About("Network of an active session for each megapixel, fine picture.",
              "Mbit/s", 0, 1000, MEASURE),
    ] = 2.0  # fmt: skip


@dataclass(frozen=True, slots=True)
class Display:
    """Screens of a session, and what showing them costs."""

    monitors: Annotated[int, About("How many monitors a session shows on.", "monitors", 1, 16)] = 1
    megapixels: Annotated[float, About("The resolution of each.", "megapixels", 0.3, 40)] = 2.1
    quality: Annotated[
        Quality,
        About("How good the picture is.", choices={
            "lean": "text is sharp, moving pictures are not",
            "standard": "good enough for office work",
            "fine": "for drawings and pictures, at the price of the line",
        }),
    ] = "standard"  # fmt: skip
    mbit: Mbit = Mbit()
    vcpu_per_mbit: Annotated[
        float,
        About("CPU of the host that showing the picture costs.",
              "vCPU per Mbit/s", 0, 10, MEASURE),
    ] = 0.0  # fmt: skip

    @property
    def network_mbit(self) -> float:
        """Mbit/s of one active session."""
        mbit = self.mbit
        each = {"lean": mbit.lean, "standard": mbit.standard, "fine": mbit.fine}[self.quality]
        return self.monitors * self.megapixels * each


@dataclass(frozen=True, slots=True)
class Measured:
    """What a profile was measured from, and how sure its means are."""

    sessions: Annotated[
        int,
        About("How many sessions the profile was measured from.", "sessions", 1, 10_000_000),
    ]
    cpu_error: Annotated[
        float, About("Standard error of the mean CPU.", "vCPU", 0, 64, MEASURE)
    ] = 0.0
    memory_error: Annotated[
        float,
        About("Standard error of the mean memory of an active session.", "GiB", 0, 1024, MEASURE),
    ] = 0.0
    source: Annotated[Name, About("Where the samples came from.")] = "typed"


@dataclass(frozen=True, slots=True)
class Profile:
    """A workload profile: what one session draws, and what its logon costs."""

    id: Id
    cpu: Cpu = Cpu()
    memory_gib: Memory = Memory()
    logon: Logon = Logon()
    disk_ops: Annotated[
        float,
        About("Disk operations a second of an active session.",
              "operations/s", 0, 100_000, MEASURE),
    ] = 0.0  # fmt: skip
    gpu_gib: Annotated[
        float, About("GPU memory of a session, whatever its state.", "GiB", 0, 1024, MEASURE)
    ] = 0.0
    display: Display = Display()
    measured: Measured | None = None


@dataclass(frozen=True, slots=True)
class Leaving:
    """Ways of leaving as shares that add up to 1."""

    sign_off: Share = 1.0
    disconnect: Share = 0.0
    walk_away: Share = 0.0


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


def _kind_of(value: object) -> str:
    """The tag of a spread; without one it is a normal."""
    kind = value.get("kind", "normal") if isinstance(value, dict) else getattr(value, "kind", "")
    return str(kind)


Weights = Annotated[
    tuple[Annotated[float, Field(ge=0, le=1e9)], ...],
    Len(1, 288),
    About("Weight of each step, in order."),
]


@dataclass(frozen=True, slots=True)
class Start:
    """When people start."""

    mean: Annotated[
        Clock, About("When people start on average, on their site's clock.", "clock", source=OURS)
    ] = clock("08:45")
    sd_minutes: Annotated[
        float,
        About("How far starts scatter about that (standard deviation, cut at three).",
              "min", 0, 360, OURS),
    ] = 25.0  # fmt: skip
    kind: Literal["normal"] = "normal"

    @property
    def spread(self) -> Spread:
        """Clock times in seconds of the local day."""
        return Normal(float(self.mean), 60.0 * self.sd_minutes)


@dataclass(frozen=True, slots=True)
class ObservedStart(Tagged):
    """When people were seen to start: a histogram in equal steps."""

    weights: Weights
    first: Annotated[Clock, alias("from"), About("Where the observed starts begin.", "clock")] = (
        clock("06:00")
    )
    step_minutes: Annotated[
        int, About("How wide each step of the observed starts is.", "min", 1, 240)
    ] = 15
    kind: Literal["histogram"] = "histogram"

    @property
    def spread(self) -> Spread:
        """Clock times in seconds of the local day."""
        return Histogram(self.first, 60 * self.step_minutes, self.weights)


@dataclass(frozen=True, slots=True)
class Length:
    """How long they stay."""

    mean_minutes: Annotated[
        float, About("From start to leaving, breaks included.", "min", 10, 1440, OURS)
    ] = 495.0
    sd_minutes: Annotated[
        float,
        About("How much that differs from person to person (standard deviation).",
              "min", 0, 360, OURS),
    ] = 30.0  # fmt: skip
    kind: Literal["normal"] = "normal"

    @property
    def spread(self) -> Spread:
        """Lengths in seconds."""
        return Normal(60.0 * self.mean_minutes, 60.0 * self.sd_minutes)


@dataclass(frozen=True, slots=True)
class ObservedLength(Tagged):
    """How long they were seen to stay: a histogram in equal steps."""

    weights: Weights
    from_minutes: Annotated[int, About("The shortest of the observed lengths.", "min", 0, 1440)] = 0
    step_minutes: Annotated[
        int, About("How wide each step of the observed lengths is.", "min", 1, 240)
    ] = 30
    kind: Literal["histogram"] = "histogram"

    @property
    def spread(self) -> Spread:
        """Lengths in seconds."""
        return Histogram(60 * self.from_minutes, 60 * self.step_minutes, self.weights)


@dataclass(frozen=True, slots=True)
class Break:
    """A pause in the day, at a clock time or so long after the start.

    Where both are given the time after the start counts. A clock time before the pattern's mean
    start is on the following day.
    """

    probability: Annotated[
        float, About("How many of the people take this break.", "share", 0, 1, OURS)
    ] = 1.0
    at: Annotated[
        Clock | None,
        About("When the break begins on average; before the start it means the following day.",
              "clock", source=OURS, key=True),
    ] = clock("12:30")  # fmt: skip
    after_minutes: Annotated[
        float | None,
        About("How long after their start people take it, in place of a clock time.",
              "min", 1, 1440, OURS, key=True),
    ] = None  # fmt: skip
    sd_minutes: Annotated[float, About("How far that scatters.", "min", 0, 180, OURS)] = 15.0
    mean_minutes: Annotated[
        float, About("How long the break is on average.", "min", 1, 720, OURS)
    ] = 45.0
    length_sd_minutes: Annotated[float, About("How much that differs.", "min", 0, 180, OURS)] = 10.0
    leaving: Leaving = Leaving()

    @property
    def after(self) -> int | None:
        """Seconds from the start, None where the break has a clock time."""
        return None if self.after_minutes is None else round(60 * self.after_minutes)

    @property
    def clock(self) -> int | None:
        """The clock time, None where the break is taken after a stay."""
        return self.at if self.after_minutes is None else None


@dataclass(frozen=True, slots=True)
class Pattern:
    """When people start, pause and leave.

    ``attendance`` has a probability for each weekday on which the pattern is valid, else None.
    """

    id: Id
    share: Annotated[
        float,
        About("The share of the people that follow this pattern on the weekdays it is valid on.",
              "share", 0, 1, OURS),
    ] = 1.0  # fmt: skip
    attendance: Annotated[
        tuple[float | None, ...],
        by_weekday(Share),
        About("Share of people who come, by weekday; the pattern is valid on those listed."),
    ] = (None,) * 7
    start: Annotated[
        Annotated[Start, Tag("normal")] | Annotated[ObservedStart, Tag("histogram")],
        Discriminator(_kind_of),
    ] = Start()
    length: Annotated[
        Annotated[Length, Tag("normal")] | Annotated[ObservedLength, Tag("histogram")],
        Discriminator(_kind_of),
    ] = Length()
    breaks: Annotated[tuple[Break, ...], Len(0, 8)] = ()
    leaving: Leaving = Leaving()

    def break_start(self, pause: Break) -> float:
        """Wall seconds at which a break begins on average; beyond a day is the following date."""
        mean = self.start.spread.mean
        at = pause.clock
        if at is None:
            return mean + (pause.after or 0)
        return at + _DAY if at < mean else at


@dataclass(frozen=True, slots=True)
class Rotation:
    """Crews that take turns: person k is in crew k mod len(order), None in the order is rest.

    Crew c follows ``order[(c + n) mod len(order)]`` in the n-th stretch of ``every_days`` days
    counted from ``since``.
    """

    order: Annotated[
        tuple[Id | None, ...],
        About("The shifts in the order in which a crew works them; null is rest. People are split "
              "evenly into as many crews.", "patterns"),
    ]  # fmt: skip
    since: Annotated[
        Day, About("The day on which the first crew begins with the first shift.", "date")
    ]
    every_days: Annotated[
        int,
        About("After how many days the crews move on to the next shift.", "days", 1, 366, OURS),
    ] = 7


@dataclass(frozen=True, slots=True)
class Headcount(Tagged):
    """Named people who follow patterns."""

    people: Annotated[int, About("How many people the group has.", "people", 0, 100_000)] = 0
    patterns: Annotated[tuple[Pattern, ...], Len(0, 20)] = ()
    follows: Annotated[
        DirectoryKey | None,
        About("The directory group whose members are counted; the number is renewed from it.",
              "directory group"),
    ] = None  # fmt: skip
    rotation: Rotation | None = None
    kind: Literal["headcount"] = "headcount"


@dataclass(frozen=True, slots=True)
class Visit:
    """How long a drop-in session lasts, counted from connection."""

    kind: SessionKind = "exponential"
    mean_minutes: Annotated[
        float,
        About("How long a visit lasts on average, counted from connection.",
              "min", 0.02, 1440, OURS),
    ] = 8.0  # fmt: skip
    cv: Annotated[
        float,
        About("Standard deviation of a lognormal visit as a share of its mean.", "", 0, 10, OURS),
    ] = 1.0


HourRates = Annotated[tuple[Annotated[float, Field(ge=0, le=100_000)], ...], Len(24, 24)]
_QUIET = (0.0,) * 24


@dataclass(frozen=True, slots=True)
class DropIn(Tagged):
    """Passers-by: arrivals for 7 days of 24 hours (Monday first), and how long they stay."""

    arrivals_per_hour: Annotated[
        tuple[tuple[float, ...], ...],
        by_weekday(HourRates, _QUIET),
        About("Arrivals expected in each hour of each weekday.", "arrivals/h", 0, 100_000),
    ] = (_QUIET,) * 7
    session: Visit = Visit()
    different_people: Annotated[
        int | None,
        About("How many different people come in a month; licences for everyone who is seen need "
              "it.", "people", 0, 10_000_000),
    ] = None  # fmt: skip
    kind: Literal["drop-in"] = "drop-in"


@dataclass(frozen=True, slots=True)
class Growth:
    """Headcount or rate multiplies by 1 + ``per_year`` in a year, counted from ``since``."""

    since: Annotated[
        Day, About("The date on which the headcount, or the rate, is as given.", "date")
    ]
    per_year: Annotated[
        float,
        About("How much the headcount, or the rate of arrivals, grows in a year.",
              "share", -0.9, 9),
    ] = 0.0  # fmt: skip


@dataclass(frozen=True, slots=True)
class Group:
    """People with the same pattern of work and the same workload profile."""

    id: Id
    site: Id
    profile: Id
    demand: Annotated[Headcount | DropIn, Field(discriminator="kind")]
    works_holidays: Annotated[
        bool, About("Whether the group comes on its site's holidays too.", source=OURS)
    ] = False
    growth: Growth | None = None
    data_areas: Annotated[
        Names,
        About("Legal areas in which this group's data may be kept; none named: anywhere.",
              "areas"),
    ] = ()  # fmt: skip


@dataclass(frozen=True, slots=True)
class Dates(Tagged):
    """From one date to another, both included."""

    first: Annotated[Day, alias("from")]
    last: Annotated[Day, alias("to")]
    kind: Literal["dates"] = "dates"


@dataclass(frozen=True, slots=True)
class MonthWorkdays(Tagged):
    """From one workday of every month to another (1 = first), both included.

    A workday is a Monday to Friday that is no holiday of the group's site.
    """

    first: Annotated[int, alias("from"), Field(ge=1, le=23)]
    last: Annotated[int, alias("to"), Field(ge=1, le=23)]
    kind: Literal["month-workdays"] = "month-workdays"


@dataclass(frozen=True, slots=True)
class Event:
    """Days that differ for some groups, or (none named) for all."""

    id: Id
    when: Annotated[Dates | MonthWorkdays, Field(discriminator="kind")]
    groups: Annotated[tuple[Id, ...], Len(0, 500)] = ()
    factor: Annotated[
        float,
        About("How many times as much demand comes on these days; above full attendance more "
              "people come.", "times", 0, 10),
    ] = 1.0  # fmt: skip
    shift_minutes: Annotated[
        int,
        About("How much later (or, below zero, earlier) everything happens on these days.",
              "min", -720, 720),
    ] = 0  # fmt: skip
    pattern: Annotated[
        Id | None, About("A pattern that everyone in the groups follows on these days.")
    ] = None


@dataclass(frozen=True, slots=True)
class Overlap:
    """People who are in exactly these groups at once."""

    groups: Annotated[tuple[Id, ...], Len(2, 20), About("The groups.", key=True)]
    people: Annotated[
        int,
        About("How many people are in all of these groups, and in no other.",
              "people", 1, 100_000),
    ]  # fmt: skip
    source: Annotated[Text, Len(0, 200), About("Where the number comes from.")] = "typed"


@dataclass(frozen=True, slots=True)
class Access:
    """Which group may use which pool, as a whole desktop or as apps from its image."""

    group: Annotated[Id, About("The group.", key=True)]
    pool: Annotated[Id, About("The pool.", key=True)]
    use_as: Annotated[
        Use, alias("as"), About("As a whole desktop, or as apps from its image.", key=True)
    ] = "desktop"
    apps: Annotated[tuple[Name, ...], Len(0, 200)] = ()
    use: Annotated[
        float,
        About("The share of working days on which people open this one.", "share", 0, 1, OURS),
    ] = 1.0
    profile: Annotated[
        Id | None,
        About("The workload profile of this use, where it is not the group's own."),
    ] = None
