"""From jobs to response values."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Any


def _left(row: Mapping[str, Any]) -> float | None:
    """Seconds that a running job still takes at the pace that it has kept since it began."""
    if row["state"] != "running" or not row["done"]:
        return None
    took: float = (datetime.now(UTC) - row["begun_at"]).total_seconds()
    done: int = row["done"]
    left: int = row["parts"] - done
    return round(took / done * left, 1)


def job_values(row: Mapping[str, Any]) -> dict[str, Any]:
    """A job as pages are told of it."""
    ended = row["ended_at"]
    return {
        "id": row["id"],
        "kind": row["kind"],
        "title": row["title"],
        "owner": row["owner"],
        "state": row["state"],
        "problem": row["problem"],
        "done": row["done"],
        "parts": row["parts"],
        "left": _left(row),
        "asked_at": row["asked_at"].isoformat(),
        "ended_at": ended and ended.isoformat(),
    }
