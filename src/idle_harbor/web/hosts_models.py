"""Shapes of requests and responses about hosts and pools: sizes, kinds, places, prices, checks."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from idle_harbor.core.plan.declare import Day, Id
from idle_harbor.web.models import FiguresModel, Model, Verdicts
from idle_harbor.web.people_models import FindingModel

Resource = Literal["cpu", "memory", "gpu", "disk", "network"]
Kind = Literal["shared", "lent", "dedicated"]


class PlanBody(Model):
    """A plan as it stands on a page."""

    plan: dict[str, Any]
    tab: str = Field("", max_length=64)
    edit: int = Field(0, ge=0, le=2**53)


class PoolBody(PlanBody):
    """A plan as it stands on a page, and one of its pools."""

    pool: Id


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


class SizingAnswer(Model):
    """The sizing picture of a pool."""

    edit: int
    input_hash: str
    pool: str
    kind: Kind
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
    sizes: list[SizeModel]


class GroupBody(PoolBody):
    """One group of one pool."""

    group: Id


class KindModel(Model):
    """One kind for a group: what simulated weeks say of it, or why it cannot be."""

    kind: Kind
    size: str | None
    session_limit: int
    hosts: int
    figures: FiguresModel | None
    keeps_promise: bool
    barred: str
    isolation: str
    lost: str


class KindsAnswer(Model):
    """A group as each kind, the one to take, and why."""

    edit: int
    input_hash: str
    group: str
    currency: str
    suggested: Kind | None
    why: str
    kinds: list[KindModel]


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


class PoolRow(Model):
    """A pool in the table-picture of all pools."""

    id: str
    kind: Kind
    groups: list[str]
    people: int
    peak: float
    session_limit: int
    standing: int
    surge: int
    holds: int
    size: str
    place: str | None
    zones: list[str] = Field(description="Zones over which its hosts are dealt out.")
    figures: FiguresModel
    verdicts: Verdicts
    findings: int


class PoolsWhole(Model):
    """Every pool of a plan side by side, as means of so many weeks."""

    currency: str
    month: str
    weeks: int
    credit_months: float | None = Field(description="How long the credits last; null without.")
    pools: list[PoolRow]


class PoolsAnswer(PoolsWhole):
    """Every pool of a plan side by side, for an edit of a page."""

    edit: int
    input_hash: str


class Part(Model):
    """A line of an answer in parts: so many of so many steps are done; or all is too busy."""

    edit: int
    done: int = 0
    of: int = 0
    busy: bool = False


class PoolsPart(Part):
    """The rows of the pools that got done; with the last step the whole."""

    rows: list[PoolRow] = Field(default_factory=list)
    answer: PoolsWhole | None = None


class DrillBody(PoolBody):
    """Hosts that fail in a week: a zone by its number, or so many hosts."""

    day: int = Field(ge=0, le=6, description="Day of the plan's week, 0 = Monday.")
    minute: int = Field(ge=0, le=1439, description="Minute of that day, in the pool's zone.")
    minutes: int = Field(60, ge=1, le=2880)
    zone: int | None = Field(None, ge=0, le=20)
    hosts: int = Field(1, ge=0, le=10_000)


class DrillAnswer(Model):
    """The same week without and with the drill."""

    calm: FiguresModel
    drilled: FiguresModel
    failed: int
    interrupted: int
    most_waiting: int


class SamplesBody(Model):
    """Samples of sessions (CSV) for a new profile that is otherwise like another."""

    plan: dict[str, Any]
    like: Id
    new: Id
    source: str = Field("samples", min_length=1, max_length=120, pattern=r"^[^\x00]+$")
    text: str = Field(max_length=9_000_000)


class ChangedPlan(Model):
    """A plan after a change."""

    plan: dict[str, Any]


class SheetBody(Model):
    """A plan, and the price sheet (JSON or CSV) to bring into it."""

    plan: dict[str, Any]
    text: str = Field(max_length=4_000_000)


class FeedBody(Model):
    """A plan, and the day for which to ask the simulated price feed."""

    plan: dict[str, Any]
    day: Day


class PriceChange(Model):
    """One value of the price sheet that differs."""

    item: str
    field: str
    before: str
    after: str


class SheetAnswer(Model):
    """The plan with another price sheet, and what differs."""

    plan: dict[str, Any]
    changes: list[PriceChange]


class SheetFormBody(Model):
    """A plan whose price sheet goes out, and in which form."""

    plan: dict[str, Any]
    form: Literal["csv", "json"]


class SheetText(Model):
    """A price sheet as text."""

    name: str
    text: str


class CheckModel(FindingModel):
    """One thing that a check found, with its family and its place in words."""

    family: str
    where: str


class FamilyModel(Model):
    """A family of checks, and how much it found."""

    id: str
    about: str
    found: int


class ChecksWhole(Model):
    """Everything that the checks found, the harmful first."""

    families: list[FamilyModel]
    findings: list[CheckModel]


class ChecksAnswer(ChecksWhole):
    """Everything that the checks found, for an edit of a page."""

    edit: int
    input_hash: str


class ChecksPart(Part):
    """How much has been found so far; with the last step all of it."""

    found: int = 0
    answer: ChecksWhole | None = None
