"""The plan document: its shape as Pydantic models, described by the field table of the core.

The models check types and bounds; ``core.plan_rules`` checks what only the whole can tell.
"""

from __future__ import annotations

from typing import Annotated, Final, Literal

from pydantic import ConfigDict, StringConstraints
from pydantic import Field as PydanticField

from idle_harbor.core.plan import Weekday
from idle_harbor.formats.document_base import Clock, Day, Id, Name, Part, described
from idle_harbor.formats.hosts_document import (
    DiskPart,
    ImagePart,
    PlacePart,
    PoolPart,
    PricesPart,
    SizePart,
)
from idle_harbor.formats.people_document import (
    EntitlementPart,
    EventPart,
    GroupPart,
    OverlapPart,
    ProfilePart,
    SitePart,
)

FORMAT: Final = 1


class PromisePart(Part):
    """What people are owed."""

    wait_p95_seconds: int = described("promise.wait_p95_seconds")
    refused_share: float = described("promise.refused_share")
    strained_share: float = described("promise.strained_share")
    round_trip_ms: float = described("promise.round_trip_ms")
    zone_loss: bool = described("promise.zone_loss")


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
    name: Name = described("name")
    currency: Annotated[str, StringConstraints(pattern=r"^[A-Z]{3}$")] = described("currency")
    week_of: Day = described("week_of")
    promise: PromisePart = PydanticField(default_factory=PromisePart)
    sites: list[SitePart] = PydanticField(default_factory=list, max_length=500)
    profiles: list[ProfilePart] = PydanticField(default_factory=list, max_length=500)
    groups: list[GroupPart] = PydanticField(default_factory=list, max_length=500)
    events: list[EventPart] = PydanticField(default_factory=list, max_length=500)
    overlaps: list[OverlapPart] = PydanticField(default_factory=list, max_length=2000)
    entitlements: list[EntitlementPart] = PydanticField(default_factory=list, max_length=2000)
    places: list[PlacePart] = PydanticField(default_factory=list, max_length=100)
    prices: PricesPart = PydanticField(default_factory=PricesPart)
    images: list[ImagePart] = PydanticField(default_factory=list, max_length=200)
    sizes: list[SizePart] = PydanticField(default_factory=list, max_length=500)
    disks: list[DiskPart] = PydanticField(default_factory=list, max_length=500)
    pools: list[PoolPart] = PydanticField(default_factory=list, max_length=200)
    schedules: list[SchedulePart] = PydanticField(default_factory=list, max_length=200)
