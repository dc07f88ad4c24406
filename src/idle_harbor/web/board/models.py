"""Shapes of requests and responses about simulated weeks."""

from __future__ import annotations

from typing import Any

from pydantic import Field

from idle_harbor.core.calendar.clock import MOST_DAYS
from idle_harbor.core.plan.declare import Day
from idle_harbor.core.weeks.picture import BandSpan, Flood
from idle_harbor.core.weeks.picture import Day as PictureDay
from idle_harbor.core.weeks.years import WeekOfYear
from idle_harbor.web.shared.models import (
    Answer,
    FiguresModel,
    Model,
    Part,
    PoolBody,
    VerdictsModel,
    model_of,
)

#: Weeks that a job simulates at most.
MOST_WEEKS = 4_096


class SimulationBody(PoolBody):
    """A plan as it stands on a page, saved or not, and which of its pools to simulate."""

    first: Day | None = Field(None, description="First day; the Monday of the plan's week else.")
    saved: bool = Field(False, description="The plan is a saved revision: keep its results.")


class WeekBody(SimulationBody):
    """As above, for one week."""

    preview: bool = Field(
        False, description="Only to be looked at for a moment: its lanes and waits are not kept."
    )
    day: int | None = Field(
        None, ge=0, le=6, description="The one day that a preview draws; its series end with it."
    )


class RangeBody(SimulationBody):
    """As above, over several seeds."""

    seeds: int = Field(8, ge=1, le=64)
    days: int = Field(7, ge=1, le=MOST_DAYS)


class LongRangeBody(SimulationBody):
    """As above, over so many seeds that a job simulates them."""

    seeds: int = Field(ge=1, le=MOST_WEEKS)
    days: int = Field(7, ge=1, le=MOST_DAYS)


class _DayBeside(Model):
    weekday: int
    clock_change: int = Field(description="Seconds by which the day is longer than 24 hours.")


#: One local day of the week, with what its strip shows.
DayModel: Any = model_of(PictureDay, name="DayModel", base=_DayBeside)


BandModel: Any = model_of(BandSpan, name="BandModel")


class SeriesModel(Model):
    """Five-minute bins of the counted week, or of the one day that a preview draws; sessions, or
    slots for quay, billed and ideal."""

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


FloodModel: Any = model_of(Flood, name="FloodModel")


class LogonsModel(Model):
    """The logons of each five minutes in which somebody asked and then waited, as columns."""

    at: list[int] = Field(description="When the five minutes begin.")
    asked: list[int]
    waited: list[int] = Field(description="Those who had no desktop at once.")
    median: list[int] = Field(description="Seconds, over those who waited; -1: without bound.")
    longest: list[int]


class LoadRuleModel(Model):
    """A load rule from look to look of the week, or of the day that a preview draws."""

    id: str
    signal: str
    unit: str
    asks_where_low: bool
    start: int = Field(description="Instant of the first look.")
    seconds: int = Field(description="From one look to the next.")
    values: list[float | None] = Field(
        description="What the signal said since the look before, null where it said nothing."
    )
    extras: list[int] = Field(description="Hosts that the rule asked for from then on.")


class FightModel(Model):
    """One load rule grew within half an hour of another's shrinking: so often, and when."""

    grows: str
    shrinks: str
    count: int
    times: list[int]


class ReasonModel(Model):
    """Why people waited, were refused or logged on slowly: how many, how long in all."""

    cause: str
    text: str
    mend: str
    people: int
    seconds: float


class TargetModel(Model):
    """Hosts that are to be ready by an instant: the places of their kind of day and of themselves,
    on whose clock, and between which instants it may be.

    Of a week that was recorded: how many hosts were ready at that instant, how many of them had
    been started for it, and for how many seconds these had stood idle.
    """

    at: int
    until: int
    day_type: int
    place: int
    hosts: int
    zone: str
    earliest: int
    latest: int
    ready: int | None
    early: int | None
    mean_idle: float | None


class WeekAnswer(Answer):
    """The picture of seed 1's week and its figures."""

    pool: str
    currency: str
    zone: str
    days: list[DayModel]
    bands: list[BandModel]
    targets: list[TargetModel]
    floods: list[FloodModel]
    logons: LogonsModel
    load_rules: list[LoadRuleModel]
    fights: list[FightModel]
    series: SeriesModel
    hosts: int = Field(description="Standing and surge hosts.")
    session_limit: int
    figures: FiguresModel
    verdicts: VerdictsModel
    reasons: list[ReasonModel]


class RangeWhole(Model):
    """Figures over several seeds."""

    figures: FiguresModel
    verdicts: VerdictsModel


class RangeAnswer(Answer, RangeWhole):
    """Figures over several seeds."""


class RangePart(Part):
    """Figures over the weeks that are done, and in the end over all of them."""

    so_far: RangeWhole | None = None
    answer: RangeWhole | None = None


class ResultPath(Model):
    """A simulated week by its input hash."""

    input_hash: str = Field(pattern=r"^[0-9a-f]{64}$")


class WindowQuery(Model):
    """A stretch of time as seconds since the epoch."""

    start: int = Field(ge=0, le=2**40)
    end: int = Field(ge=0, le=2**40)


class WindowBody(SimulationBody, WindowQuery):
    """A simulated week by what it was simulated of, and a stretch of time."""


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


class YearOfWeeksBody(PoolBody):
    """A year of a pool, week by week, for whoever asks."""

    year: int = Field(ge=1972, le=2198)


WeekOfYearModel: Any = model_of(WeekOfYear, name="WeekOfYearModel")


class YearWhole(Model):
    """Every week of a year."""

    weeks: list[WeekOfYearModel]


class YearPart(Part):
    """The weeks of a year that are done and were not told before, by their places; in the end all
    of them."""

    places: list[int] = Field(default_factory=list)
    weeks: list[WeekOfYearModel] = Field(default_factory=list)
    answer: YearWhole | None = None
