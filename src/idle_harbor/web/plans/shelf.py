"""The list of stored plans over HTTP: new ones, names, copies, removal, and what revisions
changed."""

from __future__ import annotations

from itertools import islice
from typing import Any

from flask import Response

from idle_harbor.core.weeks.small import small_week
from idle_harbor.formats.plan.codec import checked, content_hash, read_plan, to_values
from idle_harbor.formats.plan.differences import revision_changes
from idle_harbor.runtime import engine_version
from idle_harbor.store.plans import RevisionRow, StaleSave
from idle_harbor.web.plans.models import (
    CopyBody,
    DifferenceModel,
    NameBody,
    PlanList,
    PlanPath,
    PlanRevision,
    PlanSummary,
    RemovedPlan,
    RevisionChanges,
    RevisionList,
    RevisionPath,
    RevisionSummary,
    SaveBody,
    SmallWeekAnswer,
)
from idle_harbor.web.plans.stored import plan_values, revision_response, value_text
from idle_harbor.web.shared.asked import json_response, known, stored_plans
from idle_harbor.web.shared.problems import described
from idle_harbor.web.shared.view import view

shelf = view("shelf", "plans", "plans")

#: Characters of a value, and places, that are told of a revision at most.
_MOST_TEXT = 120
_MOST_CHANGES = 60
#: How often a plan is named anew where others save it at the same moment.
_TRIES = 3


def _listed() -> Response:
    held = stored_plans()
    found = PlanList(
        plans=[PlanSummary(**row) for row in held.all()],
        removed=[RemovedPlan(**row) for row in held.removed()],
    )
    return json_response(found.model_dump_json())


@shelf.get("", responses={200: PlanList, **described(503)})
def list_plans() -> Response:
    """List every stored plan, and the removed ones that can be restored."""
    return _listed()


def _made(row: RevisionRow) -> Response:
    response = revision_response(row, 201)
    response.headers["Location"] = f"/api/plans/{row['id']}"
    return response


@shelf.post("", responses={201: PlanRevision, **described(409, 503)})
def create_plan(body: SaveBody) -> Response:
    """Store a new plan."""
    values = to_values(body.plan)
    row = stored_plans().create(values, body.words, body.author, lambda: checked(body.plan))
    return _made(row)


@shelf.post("/<int:plan_id>/copy", responses={201: PlanRevision, **described(404, 409, 503)})
def copy_plan(path: PlanPath, body: CopyBody) -> Response:
    """Store a copy of a revision as a new plan of another name."""
    row = stored_plans().revision(path.plan_id, body.number)
    values = {**plan_values(row), "name": body.name}
    words = f"copied from r{row['number']} of {row['name']}"[:200]
    return _made(stored_plans().create(values, words, body.author, alike=path.plan_id))


@shelf.put("/<int:plan_id>/name", responses={200: PlanRevision, **described(404, 409, 412, 503)})
def name_plan(path: PlanPath, body: NameBody) -> Response:
    """Call a plan otherwise: a revision in which nothing but its name is new."""
    tries = _TRIES
    while True:
        row = stored_plans().revision(path.plan_id)
        if row["name"] == body.name:
            return revision_response(row)
        values = {**plan_values(row), "name": body.name}
        words = f"renamed from {row['name']}"[:200]
        try:
            saved = stored_plans().save(path.plan_id, row["number"], values, words, body.author)
        except StaleSave:
            tries -= 1
            if not tries:
                raise
            continue
        return revision_response(saved)


@shelf.post("/<int:plan_id>/remove", responses={200: PlanList, **described(404, 503)})
def remove_plan(path: PlanPath) -> Response:
    """Take a plan off the list; it can be restored for a while."""
    stored_plans().remove(path.plan_id)
    return _listed()


@shelf.post("/<int:plan_id>/restore", responses={200: PlanList, **described(404, 409, 503)})
def restore_plan(path: PlanPath) -> Response:
    """Put a removed plan back on the list."""
    stored_plans().restore(path.plan_id)
    return _listed()


@shelf.get("/<int:plan_id>/revisions", responses={200: RevisionList, **described(404, 503)})
def list_revisions(path: PlanPath) -> Response:
    """List a plan's revisions, newest first."""
    rows = [RevisionSummary(**row) for row in stored_plans().revisions(path.plan_id)]
    return json_response(RevisionList(revisions=rows).model_dump_json())


@shelf.get(
    "/<int:plan_id>/revisions/<int:number>/changes",
    responses={200: RevisionChanges, **described(404, 503)},
)
def read_changes(path: RevisionPath) -> Response:
    """Tell what a revision changed against the one before; the first changed nothing."""
    after = stored_plans().revision(path.plan_id, path.number)
    if path.number == 1:
        return json_response({"changes": [], "more": 0})
    before = stored_plans().revision(path.plan_id, path.number - 1)
    found = revision_changes(plan_values(before), plan_values(after))
    told = [
        DifferenceModel(
            place=place, before=value_text(was, _MOST_TEXT), after=value_text(now, _MOST_TEXT)
        )
        for place, was, now in islice(found, _MOST_CHANGES)
    ]
    answer = RevisionChanges(changes=told, more=sum(1 for _ in found))
    return json_response(answer.model_dump_json())


@shelf.get(
    "/<int:plan_id>/small", responses={200: SmallWeekAnswer, 204: None, **described(404, 503)}
)
def show_small(path: PlanPath) -> Response:
    """A plan's week in small: people on all its pools, and the room that stands ready."""
    row = stored_plans().revision(path.plan_id)

    def work() -> dict[str, Any]:
        found = small_week(checked(read_plan(plan_values(row))))
        if found is None:
            return {"sessions": [], "ready": []}
        rounded = {"sessions": found.sessions.round(1), "ready": found.ready.round(1)}
        return {name: values.tolist() for name, values in rounded.items()}

    key = content_hash({"plan": row["content_hash"], "engine": engine_version()})
    return known("shelf", key, work, kind="small")
