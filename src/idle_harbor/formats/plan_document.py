"""The plan document: its shape as Pydantic models, described by the field table of the core.

The models check types and bounds; ``core.plan_rules`` checks what only the whole can tell.
"""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Annotated, Any, Final, Literal

from pydantic import (
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Discriminator,
    PlainSerializer,
    StringConstraints,
    Tag,
    model_validator,
)
from pydantic import Field as PydanticField

from idle_harbor.core.fields import BY_PATH, REQUIRED
from idle_harbor.core.plan import Weekday

FORMAT: Final = 1

Id = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,62}$")]
Clock = Annotated[str, StringConstraints(pattern=r"^([01]\d|2[0-3]):[0-5]\d$")]
#: A key of the directory, as it came from there.
DirectoryKey = Annotated[str, StringConstraints(pattern=r"^[^\x00]{1,400}$")]
Share = Annotated[float, PydanticField(ge=0, le=1)]


def _no_float_money(value: object) -> object:
    """Money travels as text: a float would already have been rounded."""
    if isinstance(value, float):
        raise ValueError('is money and has to be a text such as "0.412"')
    return value


Money = Annotated[
    Decimal,
    BeforeValidator(_no_float_money),
    PlainSerializer(lambda value: format(value, "f"), return_type=str),
    PydanticField(max_digits=12, decimal_places=6, json_schema_extra={"type": "string"}),
]
Never = Literal["never"]


def described(path: str, *, alias: str | None = None) -> Any:
    """A Pydantic field with the unit, bounds, default and meaning of the table."""
    spec = BY_PATH[path]
    extra: dict[str, Any] = {"unit": spec.unit, "source": spec.source}
    keywords: dict[str, Any] = {"description": spec.meaning, "json_schema_extra": extra}
    if spec.low is not None:
        keywords["ge"] = spec.low
    if spec.high is not None:
        keywords["le"] = spec.high
    if alias is not None:
        keywords["alias"] = alias
    if spec.default is REQUIRED:
        return PydanticField(**keywords)
    return PydanticField(spec.default, **keywords)


def timeout(path: str) -> Any:
    """Like :func:`described` for whole seconds or "never"; bounds apply to the seconds."""
    spec = BY_PATH[path]
    return PydanticField(
        spec.default,
        description=spec.meaning,
        json_schema_extra={"unit": spec.unit, "source": spec.source},
    )


def _seconds(path: str) -> Any:
    spec = BY_PATH[path]
    return Annotated[int, PydanticField(ge=spec.low, le=spec.high)] | Never


def no_zero_bytes(values: Any) -> Any:
    """Refuse texts with a zero byte, which no text field of PostgreSQL can hold."""
    if isinstance(values, dict):
        for value in values.values():
            texts = value if isinstance(value, list) else [value]
            if any(isinstance(text, str) and "\x00" in text for text in texts):
                raise ValueError("holds a text with a zero byte")
    return values


class Part(BaseModel):
    """Base of every part of the document: unknown fields are faults, not ignored."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    _texts = model_validator(mode="before")(no_zero_bytes)


class PromisePart(Part):
    """What people are owed."""

    wait_p95_seconds: int = described("promise.wait_p95_seconds")
    refused_share: float = described("promise.refused_share")
    strained_share: float = described("promise.strained_share")


class OwnDayPart(Part):
    """A day on which a site rests."""

    day: date = described("sites.holidays.own.day")
    name: Annotated[str, StringConstraints(min_length=1, max_length=120)] = described(
        "sites.holidays.own.name"
    )


class HolidaysPart(Part):
    """Days on which a site rests: public ones of a country, and its own."""

    country: str | None = described("sites.holidays.country")
    region: str | None = described("sites.holidays.region")
    own: list[OwnDayPart] = PydanticField(default_factory=list, max_length=2000)


class SitePart(Part):
    """A place where people work."""

    id: Id
    time_zone: str = described("sites.time_zone")
    holidays: HolidaysPart = PydanticField(default_factory=HolidaysPart)


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


class ProfilePart(Part):
    """A workload profile."""

    id: Id
    cpu: CpuPart = PydanticField(default_factory=CpuPart)
    memory_gib: MemoryPart = PydanticField(default_factory=MemoryPart)
    logon: LogonPart = PydanticField(default_factory=LogonPart)


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
    since: date = described("groups.demand.headcount.rotation.since")


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


class GrowthPart(Part):
    """How a group grows."""

    per_year: float = described("groups.growth.per_year")
    since: date = described("groups.growth.since")


class GroupPart(Part):
    """People with the same pattern of work and the same workload profile."""

    id: Id
    site: Id
    profile: Id
    demand: Annotated[HeadcountPart | DropInPart, PydanticField(discriminator="kind")]
    works_holidays: bool = described("groups.works_holidays")
    growth: GrowthPart | None = None


class DatesPart(Part):
    """From one date to another, both included."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)

    kind: Literal["dates"]
    from_: date = PydanticField(alias="from")
    to: date


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
    source: str = PydanticField("typed", max_length=200)


App = Annotated[str, StringConstraints(min_length=1, max_length=120)]


class ImagePart(Part):
    """A host image with the inventory of its apps."""

    id: Id
    apps: list[App] = PydanticField(default_factory=list, max_length=2000)


class EntitlementPart(Part):
    """Which group may use which pool, as a whole desktop or as apps from its image."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)

    group: Id
    pool: Id
    as_: Literal["desktop", "apps"] = PydanticField("desktop", alias="as")
    apps: list[App] = PydanticField(default_factory=list, max_length=200)
    use: float = described("entitlements.use")
    profile: Id | None = described("entitlements.profile")


class SizePart(Part):
    """A host size and its price."""

    id: Id
    vcpu: float = described("sizes.vcpu")
    memory_gib: float = described("sizes.memory_gib")
    hourly: Money = described("sizes.hourly")
    source: str = described("sizes.source")
    billing_step_seconds: int = described("sizes.billing_step_seconds")
    billing_minimum_seconds: int = described("sizes.billing_minimum_seconds")


class DiskPart(Part):
    """A host disk and its prices."""

    id: Id
    monthly_on: Money = described("disks.monthly_on")
    monthly_off: Money = described("disks.monthly_off")
    source: str = described("disks.source")


class HostsPart(Part):
    """How many hosts a pool has."""

    standing: int = described("pools.hosts.standing")


class HostStartPart(Part):
    """How long a host takes to start."""

    mean_seconds: float = described("pools.start.mean_seconds")
    cv: float = described("pools.start.cv")


class LoadPart(Part):
    """When work on a host is strained."""

    limit: float = described("pools.load.limit")
    tolerance: float = described("pools.load.tolerance")
    base_vcpu: float = described("pools.load.base_vcpu")
    base_gib: float = described("pools.load.base_gib")


class AssignedPart(Part):
    """A person and their host in a dedicated pool."""

    group: Id
    person: int = described("pools.assigned.person")
    host: int = described("pools.assigned.host")


class PoolPart(Part):
    """A pool of session hosts: shared, or dedicated to one person each."""

    id: Id
    kind: Literal["shared", "dedicated"] = "shared"
    assign: Literal["at first logon", "by list"] = "at first logon"
    assigned: list[AssignedPart] = PydanticField(default_factory=list, max_length=10_000)
    time_zone: str = described("pools.time_zone")
    size: Id
    disk: Id | None = None
    hosts: HostsPart = PydanticField(default_factory=HostsPart)
    session_limit: int = described("pools.session_limit")
    schedule: Id
    start: HostStartPart = PydanticField(default_factory=HostStartPart)
    stop_seconds: int = described("pools.stop_seconds")
    patience_seconds: _seconds("pools.patience_seconds") = timeout(  # type: ignore[valid-type]
        "pools.patience_seconds"
    )
    idle_timeout: _seconds("pools.idle_timeout") = timeout(  # type: ignore[valid-type]
        "pools.idle_timeout"
    )
    disconnected_timeout: _seconds("pools.disconnected_timeout") = timeout(  # type: ignore[valid-type]
        "pools.disconnected_timeout"
    )
    reconnect_seconds: int = described("pools.reconnect_seconds")
    load: LoadPart = PydanticField(default_factory=LoadPart)
    image: Id | None = None
    desktop_and_apps: Literal["one session", "two sessions"] = "one session"


_BAND = "schedules.day_types.bands"


class BandPart(Part):
    """A stretch of the day with one set of rules, from a clock time in steps of five minutes."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)

    from_: Clock = PydanticField(alias="from")
    floor: int = described(f"{_BAND}.floor")
    fill_ceiling: float = described(f"{_BAND}.fill_ceiling")
    headroom: int = described(f"{_BAND}.headroom")
    rule: Literal["spread", "fill"] = "spread"
    release: Literal["keep all", "when empty", "drain"] = "when empty"


class DayTypePart(Part):
    """A kind of day with its own bands."""

    id: Id
    weekdays: list[Weekday]
    bands: list[BandPart] = PydanticField(min_length=1, max_length=48)


class SchedulePart(Part):
    """Day types that cover the week, and how often the policy looks."""

    id: Id
    tick_seconds: int = described("schedules.tick_seconds")
    day_types: list[DayTypePart] = PydanticField(min_length=1, max_length=12)


class PlanDocument(Part):
    """The whole document; an empty one (name and week alone) can be saved and has no result."""

    format: Literal[1] = FORMAT
    name: Annotated[str, StringConstraints(min_length=1, max_length=120)] = described("name")
    currency: Annotated[str, StringConstraints(pattern=r"^[A-Z]{3}$")] = described("currency")
    week_of: date = described("week_of")
    promise: PromisePart = PydanticField(default_factory=PromisePart)
    sites: list[SitePart] = PydanticField(default_factory=list, max_length=500)
    profiles: list[ProfilePart] = PydanticField(default_factory=list, max_length=500)
    groups: list[GroupPart] = PydanticField(default_factory=list, max_length=500)
    events: list[EventPart] = PydanticField(default_factory=list, max_length=500)
    overlaps: list[OverlapPart] = PydanticField(default_factory=list, max_length=2000)
    entitlements: list[EntitlementPart] = PydanticField(default_factory=list, max_length=2000)
    images: list[ImagePart] = PydanticField(default_factory=list, max_length=200)
    sizes: list[SizePart] = PydanticField(default_factory=list, max_length=500)
    disks: list[DiskPart] = PydanticField(default_factory=list, max_length=500)
    pools: list[PoolPart] = PydanticField(default_factory=list, max_length=200)
    schedules: list[SchedulePart] = PydanticField(default_factory=list, max_length=200)
