"""Shapes of jobs over HTTP."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from idle_harbor.web.shared.models import Model, PoolBody


class JobModel(Model):
    """A job: what it is about, how far it is, and how it ended. ``left`` are the seconds that it
    still takes at the pace so far."""

    id: int
    kind: str
    title: str
    owner: str
    state: Literal["waiting", "running", "done", "stopped", "failed"]
    problem: str
    done: int
    parts: int
    left: float | None
    asked_at: str
    ended_at: str | None


class JobsAnswer(Model):
    """What runs or waits, then what ended last."""

    jobs: list[JobModel]


class JobAnswer(Model):
    """A job."""

    job: JobModel


class YearJobBody(PoolBody):
    """A year of a pool, week by week, for whoever asks."""

    year: int = Field(ge=1972, le=2198)
    owner: str = Field("", max_length=80)


class JobPath(Model):
    """A job by its number."""

    job_id: int = Field(ge=1, le=2**62)


class PartsQuery(Model):
    """From which part on."""

    since: int = Field(0, ge=0, le=2**31 - 1)


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


class YearWeeksAnswer(Model):
    """The weeks of a year that are done, by their places."""

    job: JobModel
    places: list[int]
    weeks: list[WeekOfYearModel]
