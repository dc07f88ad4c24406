"""Shapes of jobs over HTTP."""

from __future__ import annotations

from idle_harbor.web.shared.models import JobModel, Model


class JobsAnswer(Model):
    """What runs or waits, then what ended last; and how many processes are there to work."""

    jobs: list[JobModel]
    workers: int


class JobAnswer(Model):
    """A job."""

    job: JobModel
