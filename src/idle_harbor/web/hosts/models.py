"""Shapes of requests and responses about host sizes, kinds, places and measured profiles."""

from __future__ import annotations

from pydantic import Field

from idle_harbor.core.plan import PoolKind
from idle_harbor.core.plan.declare import LINE, Id
from idle_harbor.core.sizing.density import Resource
from idle_harbor.web.shared.models import Answer, FiguresModel, Model, Part, PlanBody, PoolBody


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


class SizeModel(Model):
    """One host size in the sizing picture."""

    id: str
    vcpu: float
    memory_gib: float
    gpu_gib: float
    hourly: str = Field(description="Price of a host-hour at the pool's place.")
    source: str
    burst: bool
    own_hardware: bool
    by_resource: dict[Resource, int | None] = Field(description="Sessions until it binds.")
    sessions: int
    binding: Resource
    low: int
    high: int
    credits: int | None
    untuned: int
    slack: dict[Resource, float]
    curves: dict[Resource, list[float | None]] = Field(
        description="Share of what a host may bear, at 1, 2, … sessions; null is beyond all."
    )
    hosts: list[int] = Field(description="Hosts for the peak at a limit of 1, 2, … sessions.")
    limit: int
    needed: int
    per_session_hour: str | None
    per_month: str = Field(description="Money for the hosts for the peak, if none is ever off.")
    break_even: list[BreakEven]
    zones: list[str]
    cheapest: bool = Field(description="No other size that fits costs less per session.")
    missing: str


class MixModel(Model):
    """The draw of an average session."""

    cpu: float
    sd: float
    memory: float
    gpu: float
    disk: float
    network: float


class SizingAnswer(Answer):
    """The sizing picture of a pool."""

    pool: str
    kind: PoolKind
    currency: str
    size: str
    people: int
    peak: float
    peak_low: float
    peak_high: float
    percentile: float
    seeds: int
    active_share: float
    mix: MixModel
    zones: list[str]
    holds: int
    lacking: int
    after_loss: int | None
    most_hosts: int = Field(description="Hosts that the pool has: standing and surge.")
    sizes: list[SizeModel]


class KindModel(Model):
    """One kind for a group: what simulated weeks say of it, or why it cannot be."""

    kind: PoolKind
    size: str | None
    session_limit: int
    hosts: int
    figures: FiguresModel | None
    keeps_promise: bool
    barred: str
    isolation: str
    lost: str


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


class PlaceModel(Model):
    """A place for a group's pool."""

    id: str
    area: str
    zones: list[str]
    data_allowed: bool
    round_trip_ms: float | None
    behind: bool
    size: str | None
    sessions: int
    per_session_hour: str | None
    best: bool
    why: str


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
