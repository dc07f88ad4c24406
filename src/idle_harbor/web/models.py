"""Shapes of requests and responses; the OpenAPI document is made from them."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, RootModel

from idle_harbor.core.calendar.clock import MOST_DAYS
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.declare import Day, Text
from idle_harbor.formats.plan.codec import PlanRead


class Model(BaseModel):
    """Base of every request and response."""

    model_config = ConfigDict(extra="forbid")


class FaultModel(Model):
    """One thing that is wrong."""

    pointer: str = Field(description="JSON pointer to the field, empty for the whole.")
    message: str
    remedy: str


class ChangeModel(Model):
    """A place where two saves differ."""

    path: str
    base: str
    yours: str
    theirs: str
    by: Literal["yours", "theirs", "both"]


class Problem(Model):
    """A problem document (RFC 9457)."""

    type: str
    title: str
    status: int
    detail: str
    remedy: str = ""
    faults: list[FaultModel] = []


class StaleProblem(Problem):
    """Somebody saved in between: what differs, and in how many places more."""

    base: int
    latest: int
    author: str
    words: str
    changes: list[ChangeModel]
    more: int


class PlanPath(Model):
    """A stored plan."""

    plan_id: int = Field(ge=1, le=2**62)


class RevisionPath(PlanPath):
    """A revision of a stored plan."""

    number: int = Field(ge=1, le=2**31 - 1)


class SaveBody(Model):
    """A plan to store, with a line of words about the change."""

    plan: PlanRead
    words: Text = Field("", max_length=200)
    author: Text = Field("planner", min_length=1, max_length=80)


class RevisionSummary(Model):
    """A revision without its document."""

    number: int
    author: str
    words: str
    content_hash: str
    saved_at: datetime


class PlanSummary(Model):
    """A stored plan in the list."""

    id: int
    name: str
    number: int
    author: str
    words: str
    saved_at: datetime
    pools: int


class PlanList(Model):
    """Every stored plan."""

    plans: list[PlanSummary]


class RevisionList(Model):
    """Every revision of a plan, newest first."""

    revisions: list[RevisionSummary]


class PlanRevision(Model):
    """A revision with its document; the ETag is its number."""

    id: int
    name: str
    number: int
    latest: int
    author: str
    words: str
    content_hash: str
    saved_at: datetime
    plan: Plan


class PlanMergeBody(Model):
    """An edit of an older revision, and whose change counts where both changed one place."""

    plan: PlanRead
    base: int = Field(ge=1, le=2**31 - 1)
    prefer: Literal["yours", "theirs"]


class MergedPlan(Model):
    """An edit and the latest revision in one; it may have to be mended before it is saved."""

    latest: int
    plan: dict[str, Any]


class PlanFile(RootModel[Plan]):
    """A plan alone, as plan files hold it."""


class CompletePlan(Model):
    """A plan with every default filled in."""

    plan: Plan


class Interval(Model):
    """A mean and its 95 % interval over seeds; null and unbounded where it is infinite."""

    mean: float | None
    low: float | None
    high: float | None
    unbounded: bool = False


class WaitFigures(Model):
    """Seconds from asking for a desktop to having it."""

    mean: Interval
    p50: Interval
    p95: Interval
    p99: Interval


class SessionFigures(Model):
    """Sessions in every state."""

    mean: Interval
    peak: Interval


class HourFigures(Model):
    """Host-hours of the week by where they went."""

    in_use: Interval
    lingering: Interval
    fragmentation: Interval
    readiness: Interval
    transit: Interval
    rounding: Interval
    billed: Interval
    ideal: Interval


class LedgerLine(Model):
    """One cost line of a month."""

    id: str
    quantity: float
    unit: str
    unit_price: str
    price_source: str
    quantity_source: str
    amount: str
    interval: Interval


class CostFigures(Model):
    """Money of a month."""

    month: str
    interval: Interval
    lines: list[LedgerLine]


class FiguresModel(Model):
    """Figures of a week, over one or several seeds."""

    seeds: int
    arrivals: Interval
    connected: Interval
    refused: Interval
    still_waiting: Interval
    reconnects: Interval
    refused_share: Interval
    wait_seconds: WaitFigures
    sessions: SessionFigures
    strained_share: Interval
    behind_share: Interval = Field(description="Share of working time behind a slow line.")
    baseline_hours: Interval = Field(description="Host-hours at the baseline, credits spent.")
    comfort: Interval
    host_hours: HourFigures
    cost: CostFigures


class Verdict(Model):
    """The promise against one figure: its limit, and whether it is kept."""

    limit: float
    kept: bool


class Verdicts(Model):
    """The promise, figure by figure, and whether efficiency may be shown."""

    wait_p95_seconds: Verdict
    refused_share: Verdict
    strained_share: Verdict
    efficiency: float | None = Field(description="Ideal line / billed; null where withheld.")
    efficiency_withheld: str
    cost_per_person: str | None


class SimulationBody(Model):
    """A plan as it stands on a page, saved or not, and which of its pools to simulate."""

    plan: dict[str, Any]
    pool: str = Field(max_length=63)
    first: Day | None = Field(None, description="First day; the Monday of the plan's week else.")
    tab: str = Field("", max_length=64, description="Names the page; only its newest edit runs.")
    edit: int = Field(0, ge=0, description="Counts the page's edits; echoed.")
    saved: bool = Field(False, description="The plan is a saved revision: keep its results.")


class RangeBody(SimulationBody):
    """As above, over several seeds."""

    seeds: int = Field(8, ge=1, le=64)
    days: int = Field(7, ge=1, le=MOST_DAYS)


class DayModel(Model):
    """One local day of the week, with what its strip shows."""

    date: str
    weekday: int
    start: int
    end: int
    clock_change: int = Field(description="Seconds by which the day is longer than 24 hours.")
    day_type: str
    peak_sessions: float
    peak_waiting: float
    idle_share: float = Field(description="Share of billed host time without any session.")


class BandModel(Model):
    """A band in force from one instant to another."""

    start: int
    end: int
    day_type: int
    band: int


class SeriesModel(Model):
    """Five-minute bins of the counted week; sessions, or slots for quay, billed and ideal."""

    start: int
    seconds: int
    active: list[float]
    idle: list[float]
    disconnected: list[float]
    waiting: list[float]
    waiting_peak: list[float]
    quay: list[float]
    billed: list[float]
    ideal: list[float]
    strained: list[float]


class ReasonModel(Model):
    """Why people waited, were refused or logged on slowly: how many, how long in all."""

    cause: str
    text: str
    mend: str
    people: int
    seconds: float


class WeekAnswer(Model):
    """The picture of seed 1's week and its figures."""

    edit: int
    input_hash: str
    pool: str
    currency: str
    zone: str
    days: list[DayModel]
    bands: list[BandModel]
    series: SeriesModel
    hosts: int = Field(description="Standing and surge hosts.")
    session_limit: int
    figures: FiguresModel
    verdicts: Verdicts
    reasons: list[ReasonModel]


class RangeAnswer(Model):
    """Figures over several seeds."""

    edit: int
    input_hash: str
    figures: FiguresModel
    verdicts: Verdicts


class ResultPath(Model):
    """A simulated week by its input hash."""

    input_hash: str = Field(pattern=r"^[0-9a-f]{64}$")


class WindowQuery(Model):
    """A stretch of time as seconds since the epoch."""

    start: int = Field(ge=0, le=2**40)
    end: int = Field(ge=0, le=2**40)


class LaneChange(Model):
    """From this time on a host was in this state, with so many sessions."""

    time: int
    state: str
    sessions: int
    strained: bool


class Lane(Model):
    """One host in a window: its changes, the first telling how the window began."""

    host: int
    changes: list[LaneChange]


class ActionModel(Model):
    """What the policy did to a host, when and why."""

    time: int
    host: int
    action: str
    cause: str
    text: str


class LanesAnswer(Model):
    """Host lanes of a window, with the actions in it; whole up to ``until``.

    That is the window's end, or earlier where more happens than one answer holds: the rest is
    asked for from there.
    """

    until: int

    lanes: list[Lane]
    actions: list[ActionModel]


class WaiterModel(Model):
    """A person who did not have a desktop at once."""

    group: str
    person: int
    asked: int
    seconds: float | None
    refused: bool
    host: int | None
    cause: str
    text: str


class WaitersAnswer(Model):
    """People who waited in a window: the longest waits first, and how many there were."""

    total: int
    waiters: list[WaiterModel]


class HintModel(Model):
    """What a field means, in what unit and bounds."""

    path: str
    unit: str
    default: str
    low: float | None
    high: float | None
    meaning: str
    source: str


class HintsAnswer(Model):
    """The field table, and what the choices mean."""

    fields: list[HintModel]
    choices: dict[str, dict[str, str]]
    zones: list[str]


class Health(Model):
    """Whether the parts of the application answer."""

    database: Literal["ok", "gone"]
    engine: str
