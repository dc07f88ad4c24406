"""Shapes of requests and responses about people: who comes, when, to what."""

from __future__ import annotations

from datetime import date
from typing import Any, Literal

from pydantic import Field

from idle_harbor.core.calendar.clock import MOST_DAYS
from idle_harbor.core.calendar.occasions import Occasion
from idle_harbor.core.demand.desktops import Kinsfolk
from idle_harbor.core.plan.declare import Day, Id, PartName
from idle_harbor.core.plan.edits.events import AddWhatIf
from idle_harbor.web.shared.models import (
    Answer,
    AskedBody,
    FindingModel,
    Interval,
    Model,
    Part,
    PlanBody,
    model_of,
)


class CrowdBody(AskedBody):
    """A plan as it stands on a page, and the days to look at."""

    zone: str | None = Field(None, description="IANA zone of the picture; the first site's else.")
    first: Day | None = Field(None, description="First day; the Monday of the plan's week else.")
    days: int = Field(7, ge=1, le=MOST_DAYS)
    what_if: AddWhatIf | None = Field(None, description="A question: the plan with this edit done.")


class CrowdRangeBody(CrowdBody):
    """The same over several seeds."""

    seeds: int = Field(40, ge=2, le=400)


MarkModel: Any = model_of(Occasion, name="MarkModel")


class MakerModel(Model):
    """How many people of a group are in a peak."""

    group: str
    people: int


class PeakModel(Model):
    """The most people at one moment."""

    people: int
    instant: int
    makers: list[MakerModel]


class CrowdDay(Model):
    """A local date with its bins, what marks it, and its peak."""

    date: date
    first_bin: int
    last_bin: int
    marks: list[MarkModel]
    peak: PeakModel


class CrowdGroup(Model):
    """A group's presence: five-minute means, and spells that begin in each."""

    id: str
    site: str
    zone: str
    headcount: int | None
    present: list[float]
    arrivals: list[int]
    hourly: list[list[float | None]]
    peak: int


class ZonePeople(Model):
    """Named people by the clock they live by."""

    zone: str
    people: int
    groups: list[str]


KinModel: Any = model_of(Kinsfolk, name="KinModel")


class DoublesModel(Model):
    """People with more than one desktop, and what that adds."""

    people: int
    kin: list[KinModel]
    added_sessions: int
    added_hours: float


class CrowdAnswer(Answer):
    """Presence of every group over some days, seed 1."""

    zone: str
    start: int
    step: int
    days: list[CrowdDay]
    groups: list[CrowdGroup]
    peak: PeakModel
    headcount: int
    zones: list[ZonePeople]
    doubles: DoublesModel
    findings: list[FindingModel]


class BandOfWeeks(Model):
    """Between what people at work run in such a share of the weeks, by five minutes."""

    share: float
    low: list[float]
    high: list[float]


class CrowdRangeAnswer(Answer):
    """The peak over seeds: mean with interval, and a percentile with the interval of its rank."""

    seeds: int
    peak: Interval
    percentile: float
    high: int
    high_from: int
    high_to: int
    band: BandOfWeeks | None = Field(description="Null where it would be very long.")


class CrowdYearDay(Model):
    """A date of the year: the highest presence of each local hour."""

    date: date
    hours: list[int | None]
    peak: int
    marks: list[MarkModel]


class CrowdYearWhole(Model):
    """A year of presence, seed 1."""

    zone: str
    days: list[CrowdYearDay]


class CrowdYearAnswer(Answer, CrowdYearWhole):
    """A year of presence, seed 1."""


class CrowdYearPart(Part):
    """How far the year is drawn; with the last step all of it."""

    answer: CrowdYearWhole | None = None


class PatternBody(PlanBody):
    """A pattern of a group in a plan as it stands on a page."""

    group: Id
    pattern: Id


class BreakModel(Model):
    """A break in minutes of the day: its mean begin, between what it may begin, how long at most
    it lasts."""

    begins: float
    earliest: float
    latest: float
    longest: float


class PatternAnswer(Model):
    """A working day of a pattern for two days of five-minute bins; shares of those who come.

    ``start`` and ``end`` are means in minutes of the day; ``earliest`` to ``latest`` anybody may
    well be there.
    """

    start: float
    end: float
    earliest: float
    latest: float
    breaks: list[BreakModel]

    step: int
    present: list[float]
    starting: list[float]
    breaks_taken: list[float]
    working_minutes: float


class SplitBody(Model):
    """Split so many people (per mille of a drop-in group's arrivals) off a group."""

    kind: Literal["split"]
    group: Id
    people: int = Field(ge=1, le=100_000)
    #: What people call the new group.
    new: PartName


class MergeBody(Model):
    """Merge groups into one."""

    kind: Literal["merge"]
    groups: list[Id] = Field(min_length=2, max_length=50)
    new: Id


class RegroupBody(PlanBody):
    """A plan as it stands on a page, and what to do with its groups."""

    change: SplitBody | MergeBody = Field(discriminator="kind")


class AssignedBody(PlanBody):
    """A list of people and their hosts (CSV: group, person, host) for a dedicated pool."""

    pool: Id
    text: str = Field(max_length=4_000_000)


class ListQuery(Model):
    """The plan whose directory has the keys of a list, if it has any."""

    plan: int | None = Field(None, ge=1, le=2**62)


class CountriesAnswer(Model):
    """Countries whose public holidays are known, with their regions."""

    countries: dict[str, list[str]]


class CalendarBody(Model):
    """An iCalendar file's text."""

    text: str = Field(max_length=4_000_000)
    first: Day
    last: Day


class CalendarDay(Model):
    """A date that a calendar names."""

    day: date
    name: str


class CalendarAnswer(Model):
    """Dates of a calendar file, and what in it could not be read."""

    days: list[CalendarDay]
    skipped: list[str]
