"""Shapes of jobs over HTTP."""

from __future__ import annotations

from pydantic import Field

from idle_harbor.web.shared.models import JobModel, Model, Part, PoolBody


class JobsAnswer(Model):
    """What runs or waits, then what ended last; and how many processes are there to work."""

    jobs: list[JobModel]
    workers: int


class JobAnswer(Model):
    """A job."""

    job: JobModel


class YearJobBody(PoolBody):
    """A year of a pool, week by week, for whoever asks."""

    year: int = Field(ge=1972, le=2198)


class WeekOfYearModel(Model):
    """A week of a year by its Monday: most sessions and most people waiting at once, the share of
    paid host time that nobody used, the wait that 19 of 20 stay within in seconds, what a month of
    such weeks costs, and whether the promise is kept."""

    first: str
    sessions: float
    waiting: float
    idle_share: float
    wait_p95: float | None
    unbounded: bool
    refused_share: float
    strained_share: float
    month: str
    kept: bool


class YearWhole(Model):
    """Every week of a year."""

    weeks: list[WeekOfYearModel]


class YearPart(Part):
    """The weeks of a year that are done and were not told before, by their places; in the end all
    of them."""

    places: list[int] = Field(default_factory=list)
    weeks: list[WeekOfYearModel] = Field(default_factory=list)
    answer: YearWhole | None = None
