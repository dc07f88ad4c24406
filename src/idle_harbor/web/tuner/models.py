"""Shapes of studies over HTTP."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal

from pydantic import Field, model_validator

from idle_harbor.core.figures.promise import BY_FIELD, Standing
from idle_harbor.core.plan.declare import FREEDOMS, Day, Freedom, Id, Line
from idle_harbor.core.tuner.report.answer import Answer, SoFar
from idle_harbor.core.tuner.report.explain import Explained, Step
from idle_harbor.core.tuner.report.together import Choice, Option
from idle_harbor.core.tuner.scoring.judge import Report
from idle_harbor.core.tuner.search.effort import LEAST_EACH
from idle_harbor.web.shared.models import (
    AskedBody,
    ChangedPlan,
    Interval,
    JobModel,
    Model,
    PlanBody,
    PoolBody,
    by_part,
    model_of,
)

#: What one study may take: weeks of candidates, weeks that count, seconds.
MOST_BUDGET, MOST_WEEKS, MOST_SECONDS = 100_000, 12, 36_000

#: Beyond any field's own bounds.
_FURTHEST = 1e9

if TYPE_CHECKING:
    Axis = str
else:
    Axis = Literal[tuple(BY_FIELD)]

PromisedModel: Any = by_part("PromisedModel", Interval)


class CountedModel(Model):
    """A week that counts: its name, its Monday, how often such weeks come among the others, and its
    conditions. One that comes never does not count in the money; the promise holds in it."""

    name: Line = Field(min_length=1, max_length=60)
    monday: Day
    weight: float = Field(1.0, ge=0, le=1_000)
    people: float = Field(1.0, gt=0, le=10, description="A factor on the number of people.")
    starts: float = Field(1.0, gt=0, le=100, description="A factor on how long a start takes.")
    zone_lost: bool = Field(False, description="Whether the hosts of a zone are lost.")
    hosts_failed: float = Field(
        0.0, ge=0, le=1, description="Share of the hosts that fail on Monday from 9:00 to 11:00."
    )
    excusable: bool = Field(
        False, description="Whether it is left out where no plan keeps the promise in it."
    )


class WithinModel(Model):
    """Bounds of a field, by its path in the plan."""

    path: Line = Field(max_length=120)
    low: float = Field(ge=-_FURTHEST, le=_FURTHEST)
    high: float = Field(ge=-_FURTHEST, le=_FURTHEST)

    @model_validator(mode="after")
    def _in_order(self) -> WithinModel:
        if self.low > self.high:
            raise ValueError("give a least that is at most the most")
        return self


class StudyBody(PoolBody):
    """What is asked of a study of a pool."""

    weeks: list[CountedModel] = Field(default_factory=list, max_length=MOST_WEEKS)
    free: list[Freedom] | None = Field(
        None,
        min_length=1,
        max_length=len(FREEDOMS),
        description="What may change: everything where it is left out.",
    )
    locked: list[Line] = Field(default_factory=list, max_length=60)
    within: list[WithinModel] = Field(default_factory=list, max_length=60)
    axis: Axis | None = Field(
        None, description="The part that is weighed against money; none: the one that trades most."
    )
    budget: int = Field(
        3_000,
        ge=LEAST_EACH,
        le=MOST_BUDGET,
        description=f"Weeks of candidates, at least {LEAST_EACH} for each week that counts.",
    )
    seed: int = Field(1, ge=1, le=2**31)
    together: list[Id] = Field(
        default_factory=list,
        max_length=20,
        description="Other pools that share its schedule and are tuned with it.",
    )
    seconds: int | None = Field(
        None, ge=1, le=MOST_SECONDS, description="Seconds after which it is ended early."
    )

    @model_validator(mode="after")
    def _weeks_reach(self) -> StudyBody:
        least = LEAST_EACH * len(self.weeks)
        if self.budget < least:
            raise ValueError(
                f"a study in which {len(self.weeks)} weeks count takes {least} weeks "
                "of candidates at least"
            )
        return self


class WeekKindModel(CountedModel):
    """A week that may count, and why it differs; its weight counts the weeks that are like it."""

    why: str


class TurnableModel(Model):
    """A field that may be searched: its path, what it means, its unit, which freedom it belongs to,
    how many values of the plan have it, and the values that they have today."""

    path: str
    meaning: str
    unit: str
    belongs: Freedom
    places: int
    today: list[str]


class PoolsStudyBody(AskedBody):
    """What is asked of a study of each pool of a plan."""

    free: list[Freedom] | None = Field(None, min_length=1, max_length=len(FREEDOMS))
    budget: int = Field(3_000, ge=LEAST_EACH, le=MOST_BUDGET)


class JobsAsked(Model):
    """The jobs that do what was asked, one for each pool in the plan's order."""

    jobs: list[JobModel]


class TakenDesign(Model):
    """A design that is taken over: its pool and schedule as the answer of a study tells them."""

    job: int = Field(ge=1, le=2**62, description="The study.")
    pool: dict[str, Any]
    schedule: dict[str, Any]


class TakeBody(PlanBody):
    """A plan as it stands on a page, and the designs that are put into it."""

    designs: list[TakenDesign] = Field(min_length=1, max_length=200)


class TakenPlan(ChangedPlan):
    """A plan with designs put into it."""

    both: list[str] = Field(
        description="Fields that were changed since the study began and are now as the design has "
        "them."
    )


class MayAnswer(Model):
    """What a study of a pool could be about."""

    free: list[Freedom]
    weeks: list[WeekKindModel]
    least_each: int = Field(description="Weeks of candidates for each week that counts, at least.")
    turnable: list[TurnableModel]


class _Point(Model):
    """A design: its report on fresh weeks, and its pool and schedule as a plan has them."""

    name: str
    spoiled: float = Field(description="Hours of work a month waited away, strained or slow.")
    promised: PromisedModel = Field(description="The figure of each part of the promise.")
    standing: Standing
    pool: dict[str, Any]
    schedule: dict[str, Any]


class _Step(Model):
    """A change from the plan of today to the tuned one: on top of those before it, and undone
    alone."""

    change: str
    text: str


PointModel: Any = model_of(Report, name="PointModel", base=_Point)
StepModel: Any = model_of(Step, name="StepModel", base=_Step, without=("adds",))


class _Explained(Model):
    """All changes in order, and the money before and after them."""

    steps: list[StepModel]


ExplainedModel: Any = model_of(Explained, name="ExplainedModel", base=_Explained)


class _Standing(Model):
    """A plan in one kind of week: its money and figures there, and how it stands to the promise."""

    promised: PromisedModel
    standing: Standing


WeekReport: Any = model_of(Report, name="WeekReport", base=_Standing)


class CheckedWeekModel(Model):
    """A kind of week of the year, with today's and the tuned plan in it."""

    week: CountedModel
    today: WeekReport
    tuned: WeekReport
    broken: bool
    worse: bool = Field(description="Whether the tuned plan alone breaks the promise.")
    text: str


class _Answer(Model):
    """What a study has found."""

    verdict: str
    next_second: str
    next_limit: str = Field("", description="What one session more or fewer on a host would do.")
    over_the_year: str = Field("", description="In which weeks of the year the promise is kept.")
    worse_off: str = Field("", description="Where people have it worse than today.")
    leaves: str = Field("", description="That the pool leaves a schedule that others use too.")
    limits: dict[str, float | None] = Field(
        default_factory=dict, description="What is promised of each part, by its field."
    )
    axis: str = ""
    year: list[CheckedWeekModel] = Field(default_factory=list)
    excused: list[CountedModel] = Field(default_factory=list)
    cheaper: str = Field("", description="What is cheaper with less room to the promise.")
    current: PointModel
    rules: list[PointModel]
    front: list[PointModel]
    tuned: PointModel | None
    nearest: int | None = Field(
        None, description="Where nothing is tuned: what of the front comes nearest, by its place."
    )
    explained: ExplainedModel | None


AnswerModel: Any = model_of(Answer, name="AnswerModel", base=_Answer, without=("by_limit",))


class PointSoFar(Model):
    """A design on the Pareto front of the weeks of the search."""

    money: float
    axis: float | None
    keeps: bool


class RuleSoFar(PointSoFar):
    """A simple rule on the weeks of the search."""

    name: str


class DesignModel(Model):
    """A pool and its schedule as a plan has them."""

    pool: dict[str, Any]
    schedule: dict[str, Any]


class _SoFar(Model):
    """Intermediate results of a study."""

    points: list[PointSoFar]
    today: PointSoFar | None = None
    rules: list[RuleSoFar] = Field(default_factory=list)
    best: DesignModel | None = None


SoFarModel: Any = model_of(SoFar, name="SoFarModel", base=_SoFar)


class BaselineModel(Model):
    """The revision that a study's plan is, or is an edit of."""

    revision: int
    edited: bool


class QuestionModel(Model):
    """What was asked."""

    pool: Id
    weeks: list[CountedModel]
    checked: list[CountedModel] = Field(default_factory=list)
    free: list[Freedom]
    locked: list[str]
    within: list[WithinModel]
    axis: Axis | Literal[""]
    budget: int
    seed: int
    seconds: int | None = None
    together: list[Id] = Field(default_factory=list)
    baseline: BaselineModel | None = Field(None, description="What today's plan was.")


class StudyMark(Model):
    """What stands in the picture of a study."""

    key: str
    look: Literal["today", "rule", "kept", "at risk", "broken", "tuned", "search"]
    name: str
    across: float | None = Field(description="The value on the axis; none without bound.")
    money: float
    point: PointModel | None
    as_today: bool = Field(description="Whether its design is the plan of today.")
    front: bool = Field(description="Whether nothing else that was found beats it.")


class StudyAnswer(Model):
    """A study: what was asked, how far it is, what it has found."""

    job: JobModel
    question: QuestionModel
    currency: str
    axis: Axis = Field(description="The part of the promise on the axis of the picture.")
    limit: float | None = Field(description="What the study's plan promises of that part.")
    so_far: SoFarModel | None
    answer: AnswerModel | None
    marks: list[StudyMark]
    first: str = Field(description="The key of the mark that is looked at first.")


class StudyRow(Model):
    """A study among others."""

    job: JobModel
    question: QuestionModel
    verdict: str
    today: float | None
    tuned: float | None


class StudiesAnswer(Model):
    """The studies of a plan, the newest first."""

    studies: list[StudyRow]


class StudiesRemoved(Model):
    """A study that is forgotten."""

    removed: int


class TogetherBody(Model):
    """Studies that are done, one of each pool, to be weighed against each other."""

    jobs: list[int] = Field(min_length=1, max_length=100)
    budget: float | None = Field(None, ge=0, le=1e12, description="Money a month at most.")
    kept: bool = Field(True, description="Whether only what keeps its promise may be taken.")
    spend: float = Field(1_000, gt=0, le=1e9)
    save: float = Field(5_000, gt=0, le=1e9)


class _Option(Model):
    """A plan of a pool that may be taken: its pool and schedule as a plan has them."""

    pool: dict[str, Any]
    schedule: dict[str, Any]


PlanOption: Any = model_of(Option, name="PlanOption", base=_Option, without=("near",))


class PoolOptions(Model):
    """The plans of a pool that a study tells of, in the order of places; the first is today's."""

    pool: str
    job: int = Field(description="The study.")
    options: list[PlanOption]


#: One option of each pool, by its place, with what all of them come to.
ChoiceModel: Any = model_of(Choice, name="ChoiceModel")
CurvePoint: Any = model_of(
    Choice,
    name="CurvePoint",
    without=("places",),
    doc="What a choice on the Pareto front comes to.",
)


class NextStep(Model):
    """What so much more or less money a month would do."""

    amount: float
    choice: ChoiceModel | None
    text: str


class TogetherAnswer(Model):
    """Which plan each pool gets, and what more or less money would change."""

    currency: str
    pools: list[PoolOptions]
    today: ChoiceModel
    least: float | None = Field(description="What keeping all promises costs at least.")
    unkept: list[str] = Field(description="Pools for which nothing was found that keeps it.")
    chosen: ChoiceModel | None
    against_today: str
    more: NextStep
    less: NextStep
    curve: list[CurvePoint]
    kept_curve: list[CurvePoint]


class AgainstPath(Model):
    """Two studies of one pool."""

    job_id: int = Field(ge=1, le=2**62)
    other_id: int = Field(ge=1, le=2**62)


class AgainstAnswer(Model):
    """What the tuned plan of one study has otherwise than that of another, and what was asked
    otherwise."""

    changes: list[str]
    asked: list[str]


class StudyQuery(Model):
    """What the picture of a study weighs against money."""

    axis: Axis | None = Field(None, description="A part of the promise; none: the study's own.")
