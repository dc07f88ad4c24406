"""Plans and their revisions over HTTP."""

from __future__ import annotations

import json
from typing import Any

from flask import Response, current_app, make_response, request
from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.models.tag import Tag

from idle_harbor.formats.plan_document import PlanDocument
from idle_harbor.formats.plan_merge import MISSING, changes, merge
from idle_harbor.formats.plan_reading import document_of, plan_from, to_values
from idle_harbor.formats.tables import whole_number
from idle_harbor.store.database import Database, StaleSave
from idle_harbor.web.models import (
    ChangeModel,
    CompletePlan,
    PlanList,
    PlanPath,
    PlanRevision,
    PlanSummary,
    RevisionList,
    RevisionPath,
    RevisionSummary,
    SaveBody,
    StaleProblem,
)
from idle_harbor.web.problems import described, problem, respond

plans = APIBlueprint(
    "plans", __name__, url_prefix="/api/plans", abp_tags=[Tag(name="plans")], doc_ui=True
)


def database() -> Database:
    """The application's database."""
    found = current_app.extensions["database"]
    assert isinstance(found, Database)
    return found


def _revision(row: dict[str, Any], status: int = 200) -> Response:
    """A stored revision; fields that came to be after it was saved have their defaults."""
    plan = to_values(document_of(row["document"]))
    values = {**row, "saved_at": row["saved_at"].isoformat(), "plan": plan}
    del values["document"]
    response = make_response(json.dumps(values, ensure_ascii=False), status)
    response.mimetype = "application/json"
    response.headers["ETag"] = f'"{row["number"]}"'
    response.headers["Cache-Control"] = "no-cache"
    return response


@plans.get("", responses={200: PlanList, **described(503)})
def list_plans() -> Response:
    """List every stored plan."""
    rows = [PlanSummary(**row) for row in database().list_plans()]
    return _json(PlanList(plans=rows).model_dump_json())


def _json(body: str, status: int = 200) -> Response:
    response = make_response(body, status)
    response.mimetype = "application/json"
    return response


@plans.post("", responses={201: PlanRevision, **described(409, 503)})
def create_plan(body: SaveBody) -> Response:
    """Store a new plan."""
    plan_from(body.plan)
    row = database().create_plan(to_values(body.plan), body.words, body.author)
    response = _revision(row, 201)
    response.headers["Location"] = f"/api/plans/{row['id']}"
    return response


@plans.post("/complete", responses={200: CompletePlan})
def complete_plan(body: SaveBody) -> Response:
    """Fill in every default of a plan, without storing it."""
    return _json(json.dumps({"plan": to_values(body.plan)}, ensure_ascii=False))


@plans.get("/<int:plan_id>", responses={200: PlanRevision, **described(404, 503)})
def read_plan(path: PlanPath) -> Response:
    """Read a plan's latest revision; its number is the ETag."""
    return _revision(database().revision(path.plan_id))


@plans.get("/<int:plan_id>/revisions", responses={200: RevisionList, **described(404, 503)})
def list_revisions(path: PlanPath) -> Response:
    """List a plan's revisions, newest first."""
    rows = [RevisionSummary(**row) for row in database().revisions(path.plan_id)]
    return _json(RevisionList(revisions=rows).model_dump_json())


@plans.get(
    "/<int:plan_id>/revisions/<int:number>", responses={200: PlanRevision, **described(404, 503)}
)
def read_revision(path: RevisionPath) -> Response:
    """Read one revision of a plan."""
    return _revision(database().revision(path.plan_id, path.number))


def _base_revision() -> int | None:
    """The revision that If-Match names, or None where it names none."""
    tags = request.if_match
    for tag in tags.as_set():
        number = whole_number(tag or "")
        if number is not None:
            return number
    return None


@plans.put(
    "/<int:plan_id>",
    responses={200: PlanRevision, 412: StaleProblem, **described(404, 409, 428, 503)},
)
def save_plan(path: PlanPath, body: SaveBody) -> Response:
    """Save the next revision; If-Match names the revision it is based on."""
    base = _base_revision()
    if base is None:
        return problem(
            "no-base", 428, "Which revision is this based on?",
            "saving needs the header If-Match with the number of the revision that was edited",
            "read the plan first and send its ETag back",
        )  # fmt: skip
    plan_from(body.plan)
    document = to_values(body.plan)
    try:
        row = database().save(path.plan_id, base, document, body.words, body.author)
    except StaleSave as stale:
        return _stale(path.plan_id, base, stale.latest, document)
    return _revision(row)


def _text(value: Any) -> str:
    return "" if value is MISSING else json.dumps(value, ensure_ascii=False)


def _stale(plan_id: int, base: int, latest: int, yours: dict[str, Any]) -> Response:
    """Refuse a stale save with what differs and both ways to merge it."""
    before = database().revision(plan_id, base)["document"]
    newest = database().revision(plan_id, latest)
    theirs = newest["document"]
    differing = [
        ChangeModel(
            path=change.path, base=_text(change.base), yours=_text(change.yours),
            theirs=_text(change.theirs), by=change.by,
        )
        for change in changes(before, yours, theirs)
    ]  # fmt: skip
    return respond(
        StaleProblem(
            type="/problems/stale-save", title="Somebody saved in the meantime", status=412,
            detail=f"your edit is based on revision {base}; {newest['author']} saved revision "
            f"{latest} since: {newest['words'] or 'without a word'}",
            remedy="look at what differs and choose how to go on; your edit is kept",
            base=base, latest=latest, author=newest["author"], words=newest["words"],
            changes=differing, theirs=theirs,
            merged_yours_first=merge(before, yours, theirs, "yours"),
            merged_theirs_first=merge(before, yours, theirs, "theirs"),
        )
    )  # fmt: skip


@plans.get("/<int:plan_id>/document", responses={200: PlanDocument, **described(404, 503)})
def read_document(path: PlanPath) -> Response:
    """A plan's latest document alone, as the plan file that the CLI reads."""
    row = database().revision(path.plan_id)
    return _json(json.dumps(row["document"], indent=2, ensure_ascii=False))
