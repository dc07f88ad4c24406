"""Shapes of requests and responses about plans and their revisions."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Generic, Literal, TypeAlias, TypeVar

from pydantic import BaseModel, ConfigDict, Field, RootModel, WrapValidator

from idle_harbor.core.calendar.day_types import By
from idle_harbor.core.plan import Assumption, Plan
from idle_harbor.core.plan.declare import Day, Text
from idle_harbor.core.plan.edits import Edit
from idle_harbor.core.sentences.schedule import Kind
from idle_harbor.formats.plan.building import PlanRead
from idle_harbor.formats.plan.codec import read_plan
from idle_harbor.web.shared.models import Model, PlanBody, PoolBody, Problem

T = TypeVar("T")


def _bounded(value: Any, _: object) -> Plan:
    """Read by the codec, which bounds what it says of a plan that cannot be."""
    return read_plan(value)


PlanSent: TypeAlias = Annotated[PlanRead, WrapValidator(_bounded)]


class _Whole(RootModel[T], Generic[T]):
    """What is no object of fields; built when it is first needed."""

    model_config = ConfigDict(defer_build=True)


class ChangeModel(Model):
    """A place where two saves differ."""

    path: str
    base: str
    yours: str
    theirs: str
    by: Literal["yours", "theirs", "both"]


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


class BaseHeader(BaseModel):
    """Which revision an edit is based on, as its ETag."""

    model_config = ConfigDict(extra="ignore", defer_build=True)

    if_match: str | None = Field(None, alias="If-Match")


class SaveBody(Model):
    """A plan to store, with a line of words about the change."""

    plan: PlanSent
    words: Text = Field("", max_length=200)
    author: Text = Field("planner", min_length=1, max_length=80)


class EditBody(PlanBody):
    """A plan as it stands on a page, and what is done to it."""

    edit: Edit


class OptionModel(Model):
    """One of the words of a choice."""

    value: str
    text: str


class PartModel(Model):
    """A part of a sentence: text, or the token of a field. Where the rule may be left out,
    ``without`` has the values that say so. ``own`` are values that this pool alone has, beside what
    there is ``elsewhere``; others ``may_be_own``."""

    text: str = ""
    field: str = ""
    label: str = ""
    kind: Kind | None = None
    options: list[OptionModel] = Field([])
    without: dict[str, Any] | None = None
    own: bool = False
    elsewhere: str = ""
    may_be_own: bool = False


class OfferModel(Model):
    """A rule that is not in use, and the values it begins with."""

    text: str
    values: dict[str, Any]
    may_be_own: bool


class SaidModel(Model):
    """A sentence, and what could be added to it."""

    parts: list[PartModel]
    offers: list[OfferModel]


class SaidAtModel(SaidModel):
    """A sentence about a band or a target, and when that begins."""

    at: str


class SaidOfModel(SaidModel):
    """A sentence about something with a name."""

    id: str


class DaySaidModel(Model):
    """A kind of day in words."""

    id: str
    bands: list[SaidAtModel]
    ready_by: list[SaidAtModel]


class ColumnModel(Model):
    """A band: the places of its kind of day and of itself, and how it is called."""

    day_type: int
    band: int
    name: str
    begins: str


class RowModel(Model):
    """A rule, and what each band says of it; empty where it says nothing."""

    label: str
    cells: list[str]


class TableModel(Model):
    """All bands side by side."""

    columns: list[ColumnModel]
    rows: list[RowModel]


class WordsAnswer(Model):
    """A schedule in words, as a pool has it, and which other pools have it too."""

    schedule: str
    shared_with: list[str]
    limits: list[str] = Field(
        description="Limits of places and sizes that bear on the pool, in sentences."
    )
    day_types: list[DaySaidModel]
    load_rules: list[SaidOfModel]
    table: TableModel


class PoolFacts(Model):
    """What follows of a pool from the plan alone."""

    promise: dict[str, float]
    most_hosts: int = Field(description="Standing and surge hosts together.")
    profiles: dict[str, list[str]] = Field(
        description="Workload profiles that run there, with the groups that bring them."
    )
    unpriced: list[str] = Field(description="What its month leaves out for want of a price.")


class AssumedModel(Model):
    """A value that the plan began with and nobody has confirmed, in words, and where it stands."""

    id: Assumption
    text: str
    pointer: str


class FactsAnswer(Model):
    """What follows from a plan's parts alone, pools and events by their ids."""

    pools: dict[str, PoolFacts]
    patterns: dict[str, list[str]] = Field(description="Patterns that each event may have.")
    classes: dict[str, str] = Field(
        description="The class of users whose values each workload profile has; empty for its own."
    )
    assumed: list[AssumedModel]


class YearBody(PoolBody):
    """A pool of a plan, and a year; without one that of the plan's week."""

    year: int | None = Field(None, ge=1972, le=2198)


class RuledModel(Model):
    """A date: the place of the kind of day that rules it, and by what; ``name`` is the event's or
    the holiday's."""

    date: str
    day_type: int
    by: By
    name: str


class YearAnswer(Model):
    """Every date of a year with what rules it in a pool's schedule."""

    schedule: str
    year: int
    day_types: list[str]
    days: list[RuledModel]


class AgendaBody(PoolBody):
    """A pool of a plan, and so many dates from one on; without one the plan's week."""

    first: Day | None = None
    days: int = Field(7, ge=1, le=366)


class AgendaFile(Model):
    """What a schedule does by the clock, as an iCalendar file."""

    text: str


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


class RemovedPlan(Model):
    """A removed plan, and until when it can be restored."""

    id: int
    name: str
    removed_at: datetime
    kept_until: datetime


class PlanList(Model):
    """Every stored plan, the last saved first, and those that can be restored."""

    plans: list[PlanSummary]
    removed: list[RemovedPlan]


class NameBody(Model):
    """What a stored plan is to be called."""

    name: Text = Field(min_length=1, max_length=120)
    author: Text = Field("planner", min_length=1, max_length=80)


class CopyBody(NameBody):
    """What a copy of a stored plan is called; without a revision it is of the latest."""

    number: int | None = Field(None, ge=1, le=2**31 - 1)


class DifferenceModel(Model):
    """A place that a revision changed, in words; a value that is not there is empty."""

    place: str
    before: str
    after: str


class RevisionChanges(Model):
    """What a revision changed, and in how many places more."""

    changes: list[DifferenceModel]
    more: int


class SmallWeekAnswer(Model):
    """A plan's week in small, a value for each hour; none for a large plan or without pools."""

    sessions: list[float]
    ready: list[float]


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

    plan: PlanSent
    base: int = Field(ge=1, le=2**31 - 1)
    prefer: Literal["yours", "theirs"]


class MergedPlan(Model):
    """An edit and the latest revision in one; it may have to be mended before it is saved."""

    latest: int
    plan: dict[str, Any]


class PlanFile(_Whole[Plan]):
    """A plan alone, as plan files hold it."""


class CompletePlan(Model):
    """A plan with every default filled in."""

    plan: Plan
