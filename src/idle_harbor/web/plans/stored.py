"""Stored revisions as responses: documents as they were written, filled up where they are old."""

from __future__ import annotations

import json
from typing import Any

import orjson
from flask import Response
from pydantic_core import from_json

from idle_harbor.formats.plan.codec import canonical, plan_shape, read_plan, to_values
from idle_harbor.formats.plan.merge import MISSING
from idle_harbor.formats.plan.upgrade import printable
from idle_harbor.store.plans import RevisionRow
from idle_harbor.web.shared.asked import json_response


def plan_text(row: RevisionRow) -> str:
    """A stored revision's plan as JSON; fields that came to be after it was saved get defaults."""
    text: str = row["canonical"]
    return text if row["shape"] == plan_shape() else canonical(plan_values(row))


def plan_values(row: RevisionRow) -> dict[str, Any]:
    """A stored revision's plan as a document of today's shape."""
    values: dict[str, Any] = from_json(row["canonical"])
    return values if row["shape"] == plan_shape() else to_values(read_plan(printable(values)))


def revision_response(row: RevisionRow, status: int = 200) -> Response:
    """A stored revision with its plan as it was written: it is not taken apart for that."""
    told = {name: value for name, value in row.items() if name not in ("canonical", "shape")}
    plan = orjson.Fragment(plan_text(row))
    response = json_response(orjson.dumps({**told, "plan": plan}), status)
    response.headers["ETag"] = f'"{row["number"]}"'
    response.headers["Cache-Control"] = "no-cache"
    return response


def value_text(value: Any, most: int) -> str:
    """A value of a plan document as text of so many characters at most: a thing by its name, what
    is not there as nothing."""
    if value is MISSING:
        return ""
    if isinstance(value, dict) and value.get("name"):
        return str(value["name"])
    text = value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)
    return text if len(text) <= most else f"{text[: most - 1]}…"
