"""Long answers: what takes longer than a second is a job, which the page follows.

A view answers such a question with the job that works it out; what is done of it is asked for as it
comes, and in the end the whole.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from datetime import UTC, datetime
from typing import Any

from flask import Response

from idle_harbor.jobs.asking import Asker
from idle_harbor.store.jobs import Jobs, Wish
from idle_harbor.web.shared.asked import database, json_response, to_json
from idle_harbor.web.shared.models import AskedBody
from idle_harbor.web.shared.problems import problem

#: What a view makes of a job's input, those of its parts that are done and new to who asks, and
#: whether those are all.
Tell = Callable[[Mapping[str, Any], Sequence[Mapping[str, Any]], bool], dict[str, Any]]


def asker(body: AskedBody, view: str, **query: object) -> Asker:
    """Who asks: their page, and the view that shows what comes of it."""
    link = ""
    if body.plan_id is not None:
        asked = "&".join(f"{name}={value}" for name, value in query.items())
        link = f"/plans/{body.plan_id}/{view}{'?' if asked else ''}{asked}"
    return Asker(body.owner, link)


def job_asked(wish: Wish) -> dict[str, Any]:
    """Put a job into the queue. Returns the job's values as the API has them."""
    from idle_harbor.jobs.queue import ask

    row = ask(database(), wish)
    return job_values(Jobs(database()).job(row["id"]))


def as_job(wish: Wish) -> Response:
    """The job that does what is wished, in place of an answer."""
    held = job_asked(wish)
    # A line, as of other answers in parts.
    return json_response(to_json({"done": held["done"], "of": held["parts"], "job": held}) + b"\n")


def told_so_far(
    job_id: int,
    kind: str,
    since: int,
    tell: Tell,
    of: Callable[[Mapping[str, Any]], int] | None = None,
) -> Response:
    """How far a job of a view is, and what has been done of it; ``of`` says how many of its first
    parts are counted, where others only complete them."""
    jobs = Jobs(database())
    row = jobs.job(job_id)
    if row["kind"] != kind:
        return problem(
            "other-kind",
            409,
            "This job is of another kind",
            f"job {job_id} is a {row['kind']}",
            "ask for what it is about",
        )
    whole = row["state"] == "done"
    # The whole is made of all parts, whatever the page has had of them.
    parts = jobs.parts(job_id, 0 if whole else since)
    newest = max((part["kept"] for part in parts), default=since)
    given = jobs.given(job_id)["input"]
    counted = row["parts"] if of is None else of(given)
    return json_response(
        {
            "done": min(row["done"], counted),
            "of": counted,
            "job": job_values(row),
            "since": newest,
            **tell(given, parts, whole),
        }
    )


def _left(row: Mapping[str, Any]) -> float | None:
    """Seconds that a running job still takes at the pace that it has kept since it began."""
    done: int = row["done"] - row["begun_with"]
    if row["state"] != "running" or done <= 0:
        return None
    took: float = (datetime.now(UTC) - row["begun_at"]).total_seconds()
    left: int = row["parts"] - row["done"]
    return round(took / done * left, 1)


def job_values(row: Mapping[str, Any]) -> dict[str, Any]:
    """A job as pages are told of it."""
    ended = row["ended_at"]
    return {
        "id": row["id"],
        "kind": row["kind"],
        "title": row["title"],
        "owner": row["owner"],
        "link": row["link"],
        "state": row["state"],
        "problem": row["problem"],
        "done": row["done"],
        "parts": row["parts"],
        "left": _left(row),
        "asked_at": row["asked_at"].isoformat(),
        "ended_at": ended and ended.isoformat(),
    }
