"""Long work over HTTP: asked for, looked at while it goes on, stopped, begun again."""

from __future__ import annotations

from flask import Response, current_app

from idle_harbor.store.jobs import Jobs
from idle_harbor.web.jobs.models import JobAnswer, JobsAnswer
from idle_harbor.web.shared.asked import database, json_response
from idle_harbor.web.shared.jobs import job_values
from idle_harbor.web.shared.models import JobPath
from idle_harbor.web.shared.problems import described, problem
from idle_harbor.web.shared.view import view

jobs = view("jobs")


def _held() -> Jobs:
    return Jobs(database())


def _told(job_id: int) -> Response:
    return json_response({"job": job_values(_held().job(job_id))})


@jobs.get("", responses={200: JobsAnswer, **described(503)})
def list_jobs() -> Response:
    """What runs or waits, then what ended last."""
    held = _held()
    found = [job_values(row) for row in held.jobs()]
    return json_response({"jobs": found, "workers": held.workers()})


@jobs.get("/<int:job_id>", responses={200: JobAnswer, **described(404, 503)})
def read_job(path: JobPath) -> Response:
    """How far a job is."""
    return _told(path.job_id)


@jobs.post("/<int:job_id>/stop", responses={200: JobAnswer, **described(404, 503)})
def stop_job(path: JobPath) -> Response:
    """End a job that waits or runs; what is done of it counts when it is asked for again."""
    held = _held()
    held.job(path.job_id)
    held.end(path.job_id, "stopped")
    return _told(path.job_id)


@jobs.post("/<int:job_id>/again", responses={200: JobAnswer, **described(404, 429, 503)})
def begin_again(path: JobPath) -> Response:
    """Have a job that was stopped or has failed go on where it was."""
    from idle_harbor.jobs.queue import again

    again(database(), path.job_id)
    return _told(path.job_id)


@jobs.get("/events", doc_ui=False)
def follow_jobs() -> Response:
    """Server-sent events: each job whose state or progress changes, as it changes."""
    streams = current_app.extensions.get("streams")
    if streams is None or streams.full:
        return problem(
            "busy",
            503,
            "No more streams",
            "as many pages listen as may",
            "this page looks by itself now and then",
        )
    # Of no length that is known beforehand.
    response = Response((part for part in (b": here\n\n",)), mimetype="text/event-stream")
    response.headers["Cache-Control"] = "no-store"
    response.headers["X-Accel-Buffering"] = "no"
    return response
