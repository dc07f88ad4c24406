"""The people of a plan document: sites, profiles, groups, events, overlaps, entitlements."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import ConfigDict, Discriminator, Tag
from pydantic import Field as PydanticField

from idle_harbor.core.fields import BY_PATH
from idle_harbor.core.plan import Weekday
from idle_harbor.formats.document_base import (
    Clock,
    Day,
    DirectoryKey,
    Id,
    Name,
    Part,
    Share,
    Text,
    described,
)


class OwnDayPart(Part):
    """A day on which a site rests."""

    day: Day = described("sites.holidays.own.day")
    name: Name = described("sites.holidays.own.name")


class HolidaysPart(Part):
    """Days on which a site rests: public ones of a country, and its own."""

    country: Text | None = described("sites.holidays.country")
    region: Text | None = described("sites.holidays.region")
    own: list[OwnDayPart] = PydanticField(default_factory=list, max_length=2000)


class SitePart(Part):
    """A place where people work."""

    id: Id
    time_zone: Text = described("sites.time_zone")
    holidays: HolidaysPart = PydanticField(default_factory=HolidaysPart)
    display: list[Name] = described("sites.display")


class CpuPart(Part):
    """CPU of a session."""

    mean: float = described("profiles.cpu.mean")
    sd: float = described("profiles.cpu.sd")
    idle: float = described("profiles.cpu.idle")


class MemoryPart(Part):
    """Memory of a session by state."""

    active: float = described("profiles.memory_gib.active")
    idle: float = described("profiles.memory_gib.idle")
    disconnected: float = described("profiles.memory_gib.disconnected")


class LogonPart(Part):
    """What a logon costs."""

    seconds: float = described("profiles.logon.seconds")
    vcpu: float = described("profiles.logon.vcpu")


class QualityPart(Part):
    """Mbit/s of an active session for each megapixel, by picture quality."""

    lean: float = described("profiles.display.mbit.lean")
    standard: float = described("profiles.display.mbit.standard")
    fine: float = described("profiles.display.mbit.fine")


class DisplayPart(Part):
    """Screens of a session, and what showing them costs."""

    monitors: int = described("profiles.display.monitors")
    megapixels: float = described("profiles.display.megapixels")
    quality: Literal["lean", "standard", "fine"] = "standard"
    mbit: QualityPart = PydanticField(default_factory=QualityPart)
    vcpu_per_mbit: float = described("profiles.display.vcpu_per_mbit")


class MeasuredPart(Part):
    """What a profile was measured from, and how sure its means are."""

    sessions: int = described("profiles.measured.sessions")
    cpu_error: float = described("profiles.measured.cpu_error")
    memory_error: float = described("profiles.measured.memory_error")
    source: Name = described("profiles.measured.source")


class ProfilePart(Part):
    """A workload profile."""

    id: Id
    cpu: CpuPart = PydanticField(default_factory=CpuPart)
    memory_gib: MemoryPart = PydanticField(default_factory=MemoryPart)
    logon: LogonPart = PydanticField(default_factory=LogonPart)
    disk_ops: float = described("profiles.disk_ops")
    gpu_gib: float = described("profiles.gpu_gib")
    display: DisplayPart = PydanticField(default_factory=DisplayPart)
    measured: MeasuredPart | None = None


class LeavingPart(Part):
    """Ways of leaving as shares that add up to 1."""

    sign_off: Share = 1.0
    disconnect: Share = 0.0
    walk_away: Share = 0.0


def _kind_of(value: object) -> str:
    """The tag of a spread; without one it is a normal."""
    kind = value.get("kind", "normal") if isinstance(value, dict) else getattr(value, "kind", "")
    return str(kind)


def _tagged(normal: type[Part], observed: type[Part]) -> Any:
    return Annotated[
        Annotated[normal, Tag("normal")] | Annotated[observed, Tag("histogram")],
        Discriminator(_kind_of),
    ]


_PATTERN = "groups.demand.headcount.patterns"


Weights = Annotated[
    list[Annotated[float, PydanticField(ge=0, le=1e9)]],
    PydanticField(min_length=1, max_length=288, description="Weight of each step, in order."),
]


class StartPart(Part):
    """When people start."""

    kind: Literal["normal"] = "normal"
    mean: Clock = described(f"{_PATTERN}.start.mean")
    sd_minutes: float = described(f"{_PATTERN}.start.sd_minutes")


class ObservedStartPart(Part):
    """When people were seen to start: a histogram in equal steps."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)

    kind: Literal["histogram"]
    from_: Clock = described(f"{_PATTERN}.start.from", alias="from")
    step_minutes: int = described(f"{_PATTERN}.start.step_minutes")
    weights: Weights


class LengthPart(Part):
    """How long they stay."""

    kind: Literal["normal"] = "normal"
    mean_minutes: float = described(f"{_PATTERN}.length.mean_minutes")
    sd_minutes: float = described(f"{_PATTERN}.length.sd_minutes")


class ObservedLengthPart(Part):
    """How long they were seen to stay: a histogram in equal steps."""

    kind: Literal["histogram"]
    from_minutes: int = described(f"{_PATTERN}.length.from_minutes")
    step_minutes: int = described(f"{_PATTERN}.length.step_minutes")
    weights: Weights


class BreakPart(Part):
    """A pause in the day, at a clock time or so long after the start."""

    probability: float = described(f"{_PATTERN}.breaks.probability")
    at: Clock | None = described(f"{_PATTERN}.breaks.at")
    after_minutes: float | None = described(f"{_PATTERN}.breaks.after_minutes")
    sd_minutes: float = described(f"{_PATTERN}.breaks.sd_minutes")
    mean_minutes: float = described(f"{_PATTERN}.breaks.mean_minutes")
    length_sd_minutes: float = described(f"{_PATTERN}.breaks.length_sd_minutes")
    leaving: LeavingPart = PydanticField(default_factory=LeavingPart)


class PatternPart(Part):
    """When a group's people start, pause and leave."""

    id: Id
    share: float = described(f"{_PATTERN}.share")
    attendance: dict[Weekday, Share] = PydanticField(
        default_factory=dict,
        description="Share of people who come, by weekday; the pattern is valid on those listed.",
    )
    start: _tagged(StartPart, ObservedStartPart) = PydanticField(  # type: ignore[valid-type]
        default_factory=StartPart
    )
    length: _tagged(LengthPart, ObservedLengthPart) = PydanticField(  # type: ignore[valid-type]
        default_factory=LengthPart
    )
    breaks: list[BreakPart] = PydanticField(default_factory=list, max_length=8)
    leaving: LeavingPart = PydanticField(default_factory=LeavingPart)


class RotationPart(Part):
    """Crews that take turns with the patterns."""

    every_days: int = described("groups.demand.headcount.rotation.every_days")
    order: list[Id | None] = described("groups.demand.headcount.rotation.order")
    since: Day = described("groups.demand.headcount.rotation.since")


class HeadcountPart(Part):
    """Named people."""

    kind: Literal["headcount"]
    people: int = described("groups.demand.headcount.people")
    follows: DirectoryKey | None = described("groups.demand.headcount.follows")
    rotation: RotationPart | None = None
    patterns: list[PatternPart] = PydanticField(default_factory=list, max_length=20)


class VisitPart(Part):
    """How long a drop-in session lasts, counted from connection."""

    kind: Literal["exponential", "lognormal", "fixed"] = "exponential"
    mean_minutes: float = described("groups.demand.drop-in.session.mean_minutes")
    cv: float = described("groups.demand.drop-in.session.cv")


HourRates = Annotated[
    list[Annotated[float, PydanticField(ge=0, le=100_000)]],
    PydanticField(min_length=24, max_length=24),
]


class DropInPart(Part):
    """People described by arrivals per hour."""

    kind: Literal["drop-in"]
    arrivals_per_hour: dict[Weekday, HourRates] = PydanticField(
        default_factory=dict,
        description=BY_PATH["groups.demand.drop-in.arrivals_per_hour"].meaning,
    )
    session: VisitPart = PydanticField(default_factory=VisitPart)
    different_people: int | None = described("groups.demand.drop-in.different_people")


class GrowthPart(Part):
    """How a group grows."""

    per_year: float = described("groups.growth.per_year")
    since: Day = described("groups.growth.since")


class GroupPart(Part):
    """People with the same pattern of work and the same workload profile."""

    id: Id
    site: Id
    profile: Id
    demand: Annotated[HeadcountPart | DropInPart, PydanticField(discriminator="kind")]
    works_holidays: bool = described("groups.works_holidays")
    growth: GrowthPart | None = None
    data_areas: list[Name] = described("groups.data_areas")


class DatesPart(Part):
    """From one date to another, both included."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)

    kind: Literal["dates"]
    from_: Day = PydanticField(alias="from")
    to: Day


class MonthWorkdaysPart(Part):
    """From one workday of every month to another, both included."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)

    kind: Literal["month-workdays"]
    from_: int = PydanticField(alias="from", ge=1, le=23)
    to: int = PydanticField(ge=1, le=23)


class EventPart(Part):
    """Days that differ for some groups, or (none named) for all."""

    id: Id
    groups: list[Id] = PydanticField(default_factory=list, max_length=500)
    when: Annotated[DatesPart | MonthWorkdaysPart, PydanticField(discriminator="kind")]
    factor: float = described("events.factor")
    shift_minutes: int = described("events.shift_minutes")
    pattern: Id | None = described("events.pattern")


class OverlapPart(Part):
    """People who are in exactly these groups at once."""

    groups: list[Id] = PydanticField(min_length=2, max_length=20)
    people: int = described("overlaps.people")
    source: Text = PydanticField("typed", max_length=200)


class EntitlementPart(Part):
    """Which group may use which pool, as a whole desktop or as apps from its image."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)

    group: Id
    pool: Id
    as_: Literal["desktop", "apps"] = PydanticField("desktop", alias="as")
    apps: list[Name] = PydanticField(default_factory=list, max_length=200)
    use: float = described("entitlements.use")
    profile: Id | None = described("entitlements.profile")
