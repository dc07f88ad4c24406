"""Shapes of requests and responses about host sizes, kinds, places and measured profiles."""

from __future__ import annotations

from typing import Any

from pydantic import Field

from idle_harbor.core.plan import PoolKind
from idle_harbor.core.plan.declare import LINE, Id
from idle_harbor.core.sizing.density import Density, Resource
from idle_harbor.core.sizing.hosts import SizeView, Sizing
from idle_harbor.core.sizing.peak import Crest
from idle_harbor.core.sizing.places import PlaceView
from idle_harbor.core.weeks.kinds import KindView
from idle_harbor.web.shared.models import (
    Answer,
    Model,
    Part,
    PlanBody,
    PoolBody,
    model_of,
)


class SizingBody(PoolBody):
    """What is asked of the sizing picture."""

    group: Id | None = Field(None, description="One group alone; the whole mix else.")
    percentile: float = Field(0.95, ge=0.5, le=0.999)
    spare: int = Field(0, ge=0, le=1_000, description="Hosts to spare for failures.")
    lose_zone: bool = Field(False, description="Whether one zone may be lost.")
    active_share: float | None = Field(None, ge=0, le=1, description="Drawn where none is given.")


class BreakEven(Model):
    """From which share of the hours on a commitment pays."""

    years: int
    share: float


class _SizeBeside(Model):
    id: str
    vcpu: float
    memory_gib: float
    gpu_gib: float
    hourly: str = Field(description="Price of a host-hour at the pool's place.")
    source: str
    burst: bool
    own_hardware: bool
    slack: dict[Resource, float]
    curves: dict[Resource, list[float | None]] = Field(
        description="Share of what a host may bear, at 1, 2, … sessions; null is beyond all."
    )
    hosts: list[int] = Field(description="Hosts for the peak at a limit of 1, 2, … sessions.")
    needed: int
    per_month: str = Field(description="Money for the hosts for the peak, if none is ever off.")
    break_even: list[BreakEven]
    cheapest: bool = Field(description="No other size that fits costs less per session.")


#: One host size in the sizing picture.
SizeModel: Any = model_of(
    SizeView,
    name="SizeModel",
    base=model_of(Density, base=_SizeBeside),
    without=("size", "density"),
    doc=SizeView.__doc__ or "",
)


class MixModel(Model):
    """The draw of an average session."""

    cpu: float
    sd: float
    memory: float
    gpu: float
    disk: float
    network: float


class _SizingBeside(Answer):
    """The sizing picture of a pool."""

    pool: str
    kind: PoolKind
    currency: str
    size: str
    percentile: float
    active_share: float
    mix: MixModel
    zones: list[str]
    most_hosts: int = Field(description="Hosts that the pool has: standing and surge.")
    sizes: list[SizeModel]


SizingAnswer: Any = model_of(
    Sizing,
    name="SizingAnswer",
    base=model_of(Crest, base=_SizingBeside, without=("session_hours", "weights")),
    without=("crest", "bearing"),
)


KindModel: Any = model_of(KindView, name="KindModel")


class KindsWhole(Model):
    """A group as each kind, the one to take, and why."""

    group: str
    currency: str
    suggested: PoolKind | None
    why: str
    kinds: list[KindModel]


class KindsAnswer(Answer, KindsWhole):
    """A group as each kind, the one to take, and why."""


class KindsPart(Part):
    """How far the comparison is; with the last step all of it."""

    answer: KindsWhole | None = None


class _PlaceBeside(Model):
    id: str
    area: str
    zones: list[str]


PlaceModel: Any = model_of(PlaceView, name="PlaceModel", base=_PlaceBeside, without=("place",))


class PlacesAnswer(Model):
    """Every place of the plan for one group, the best first."""

    group: str
    currency: str
    places: list[PlaceModel]


class SamplesBody(PlanBody):
    """Samples of sessions (CSV) for a new profile that is otherwise like another."""

    like: Id
    new: Id
    source: str = Field("samples", min_length=1, max_length=120, pattern=LINE)
    text: str = Field(max_length=9_000_000)
