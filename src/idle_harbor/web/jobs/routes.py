"""Long work over HTTP: asked for, looked at while it goes on, stopped."""

from __future__ import annotations

from flask import Response, current_app

from idle_harbor.core.weeks import case_of, check_amount
from idle_harbor.formats.plan.codec import to_values
from idle_harbor.store.jobs import Jobs
from idle_harbor.web.jobs.answers import job_values
from idle_harbor.web.jobs.models import (
    JobAnswer,
    JobPath,
    JobsAnswer,
    PartsQuery,
    YearJobBody,
    YearWeeksAnswer,
)
from idle_harbor.web.shared.asked import database, json_response
from idle_harbor.web.shared.bodies import checked_body
from idle_harbor.web.shared.problems import described, problem
from idle_harbor.web.shared.view import view

jobs = view("jobs")


def _held() -> Jobs:
    return Jobs(database())


def _told(job_id: int) -> dict[str, object]:
    return {"job": job_values(_held().job(job_id))}


@jobs.get("", responses={200: JobsAnswer, **described(503)})
def list_jobs() -> Response:
    """What runs or waits, then what ended last."""
    return json_response({"jobs": [job_values(row) for row in _held().jobs()]})


@jobs.post("/year", responses={202: JobAnswer, **described(429, 503)})
def ask_for_year(body: YearJobBody) -> Response:
    """Have every week of a pool's year simulated; the same asked again is the same job."""
    from idle_harbor.jobs.asking import year_wish
    from idle_harbor.jobs.queue import ask

    plan = checked_body(body).plan
    check_amount(case_of(plan, body.pool), 1)
    row = ask(database(), year_wish(to_values(plan), body.pool, body.year, body.owner))
    return json_response(_told(row["id"]), 202)


@jobs.get("/<int:job_id>", responses={200: JobAnswer, **described(404, 503)})
def read_job(path: JobPath) -> Response:
    """How far a job is."""
    return json_response(_told(path.job_id))


@jobs.get("/<int:job_id>/weeks", responses={200: YearWeeksAnswer, **described(404, 409, 503)})
def read_weeks(path: JobPath, query: PartsQuery) -> Response:
    """The weeks of a year's job that are done, those from one on."""
    held = _held()
    row = held.job(path.job_id)
    if row["kind"] != "year":
        return problem(
            "other-kind", 409, "This job is of another kind", f"job {path.job_id} is no year",
            "ask for what it is about",
        )  # fmt: skip
    parts = held.parts(path.job_id, query.since)
    return json_response(
        {
            "job": job_values(row),
            "places": [each["part"] for each in parts],
            "weeks": [each["body"] for each in parts],
        }
    )


@jobs.post("/<int:job_id>/stop", responses={200: JobAnswer, **described(404, 503)})
def stop_job(path: JobPath) -> Response:
    """End a job that waits or runs; what is done of it counts when it is asked for again."""
    held = _held()
    held.job(path.job_id)
    held.end(path.job_id, "stopped")
    return json_response(_told(path.job_id))


@jobs.get("/events", doc_ui=False)
def follow_jobs() -> Response:
    """Server-sent events: each job whose state or progress changes, as it changes."""
    streams = current_app.extensions.get("streams")
    if streams is None or streams.full:
        return problem(
            "busy", 503, "No more streams", "as many pages listen as may",
            "this page looks by itself now and then",
        )  # fmt: skip
    # Of no length that is known beforehand.
    response = Response((part for part in (b": here\n\n",)), mimetype="text/event-stream")
    response.headers["Cache-Control"] = "no-store"
    response.headers["X-Accel-Buffering"] = "no"
    return response
