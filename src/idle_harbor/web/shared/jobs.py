"""Jobs as pages ask for them and are told of them."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from idle_harbor.jobs.asking import Asker
from idle_harbor.store.jobs import JobRow, Jobs, Wish
from idle_harbor.web.shared.asked import database
from idle_harbor.web.shared.models import AskedBody


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


def _left(row: JobRow) -> float | None:
    """Seconds that a running job still takes at the pace that it has kept since it began."""
    done: int = row["done"] - row["begun_with"]
    begun = row["begun_at"]
    if row["state"] != "running" or done <= 0 or begun is None:
        return None
    took = (datetime.now(UTC) - begun).total_seconds()
    left: int = row["parts"] - row["done"]
    return round(took / done * left, 1)


def job_values(row: JobRow) -> dict[str, Any]:
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
