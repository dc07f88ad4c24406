"""Plans and their revisions over HTTP."""

from __future__ import annotations

import json
from itertools import islice
from typing import Any

from flask import Response
from werkzeug.http import parse_etags

from idle_harbor.core.plan.edits import changed
from idle_harbor.core.plan.lookup import find_pool, shared_schedule
from idle_harbor.core.policy.agenda import agenda_for
from idle_harbor.formats.calendar.agenda import agenda_calendar
from idle_harbor.formats.plan.codec import checked, to_values
from idle_harbor.formats.plan.merge import changes, merge
from idle_harbor.formats.tables.rows import whole_number
from idle_harbor.store.plans import StaleSave
from idle_harbor.web.plans.answers import facts_answer, words_answer, year_answer
from idle_harbor.web.plans.models import (
    AgendaBody,
    AgendaFile,
    BaseHeader,
    ChangeModel,
    CompletePlan,
    EditBody,
    FactsAnswer,
    MergedPlan,
    PlanFile,
    PlanMergeBody,
    PlanPath,
    PlanRevision,
    RevisionPath,
    SaveBody,
    StaleProblem,
    WordsAnswer,
    YearAnswer,
    YearBody,
)
from idle_harbor.web.plans.stored import plan_values, revision_response, value_text
from idle_harbor.web.shared.asked import json_response, stored_plans
from idle_harbor.web.shared.bodies import read_body
from idle_harbor.web.shared.models import ChangedPlan, PlanBody, PoolBody
from idle_harbor.web.shared.problems import described, problem, respond
from idle_harbor.web.shared.view import view

plans = view("plans")


@plans.post("/edit", responses={200: ChangedPlan})
def edit_plan(body: EditBody) -> Response:
    """Do an edit to a plan as it stands on a page, without storing it.

    Its parts need not fit each other: an edit may be what mends them.
    """
    return json_response({"plan": to_values(changed(read_body(body).plan, body.edit))})


@plans.post("/words", responses={200: WordsAnswer})
def say_schedule(body: PoolBody) -> Response:
    """Put the schedule of a pool in words: text, and tokens for the fields.

    The plan's parts need not fit each other.
    """
    plan = read_body(body).plan
    pool = find_pool(plan, body.pool)
    return json_response(words_answer(plan, shared_schedule(plan, pool), pool))


@plans.post("/facts", responses={200: FactsAnswer})
def tell_facts(body: PlanBody) -> Response:
    """Tell what follows from the plan's parts alone. They need not fit each other."""
    return json_response(facts_answer(read_body(body).plan))


@plans.post("/year", responses={200: YearAnswer})
def show_year(body: YearBody) -> Response:
    """Tell of each date of a year which kind of day rules it, and by what."""
    plan = checked(read_body(body).plan)
    schedule = shared_schedule(plan, find_pool(plan, body.pool))
    return json_response(year_answer(plan, schedule, body.year or plan.week_of.year))


@plans.post("/agenda", responses={200: AgendaFile})
def write_agenda(body: AgendaBody) -> Response:
    """Write what the schedule of a pool does by the clock as an iCalendar file."""
    plan = checked(read_body(body).plan)
    pool = find_pool(plan, body.pool)
    moments = agenda_for(plan, pool, body.first, body.days)
    return json_response({"text": agenda_calendar(pool.id, moments)})


@plans.post("/complete", responses={200: CompletePlan})
def complete_plan(body: SaveBody) -> Response:
    """Fill in every default of a plan, without storing it."""
    return json_response({"plan": to_values(body.plan)})


@plans.get("/<int:plan_id>", responses={200: PlanRevision, **described(404, 503)})
def read_latest(path: PlanPath) -> Response:
    """Read a plan's latest revision; its number is the ETag."""
    return revision_response(stored_plans().revision(path.plan_id))


@plans.get(
    "/<int:plan_id>/revisions/<int:number>", responses={200: PlanRevision, **described(404, 503)}
)
def read_revision(path: RevisionPath) -> Response:
    """Read one revision of a plan."""
    return revision_response(stored_plans().revision(path.plan_id, path.number))


def _baserevision_response(header: BaseHeader) -> int | None:
    """The revision that If-Match names, or None where it names none."""
    for tag in parse_etags(header.if_match).as_set():
        number = whole_number(tag or "")
        if number is not None:
            return number
    return None


@plans.put(
    "/<int:plan_id>",
    responses={200: PlanRevision, 412: StaleProblem, **described(404, 409, 428, 503)},
)
def save_plan(path: PlanPath, header: BaseHeader, body: SaveBody) -> Response:
    """Save the next revision; If-Match names the revision it is based on."""
    base = _baserevision_response(header)
    if base is None:
        return problem(
            "no-base",
            428,
            "Which revision is this based on?",
            "saving needs the header If-Match with the number of the revision that was edited",
            "read the plan first and send its ETag back",
        )
    document = to_values(body.plan)
    try:
        row = stored_plans().save(
            path.plan_id, base, document, body.words, body.author, lambda: checked(body.plan)
        )
    except StaleSave as stale:
        return _stale(path.plan_id, base, stale.latest, document)
    return revision_response(row)


#: Characters of a value, and places, that a refused save tells of at most.
_MOST_TEXT = 400
_MOST_CHANGES = 1_000


def _stale(plan_id: int, base: int, latest: int, yours: dict[str, Any]) -> Response:
    """Refuse a stale save with what differs; :func:`merge_plan` puts both together."""
    before = stored_plans().revision(plan_id, base)
    newest = stored_plans().revision(plan_id, latest)
    found = changes(plan_values(before), yours, plan_values(newest))
    differing = [
        ChangeModel(
            path=change.path,
            base=value_text(change.base, _MOST_TEXT),
            yours=value_text(change.yours, _MOST_TEXT),
            theirs=value_text(change.theirs, _MOST_TEXT),
            by=change.by,
        )
        for change in islice(found, _MOST_CHANGES)
    ]
    words = f": {newest['words']}" if newest["words"] else ""
    return respond(
        StaleProblem(
            type="/problems/stale-save",
            title="Somebody saved in the meantime",
            status=412,
            detail=f"Your edit is based on revision {base}; {newest['author']} saved revision "
            f"{latest} since{words}",
            remedy="look at what differs and choose how to go on; your edit is kept",
            base=base,
            latest=latest,
            author=newest["author"],
            words=newest["words"],
            changes=differing,
            more=sum(1 for _ in found),
        )
    )


@plans.post("/<int:plan_id>/merge", responses={200: MergedPlan, **described(404, 503)})
def merge_plan(path: PlanPath, body: PlanMergeBody) -> Response:
    """Put an edit of an older revision together with the latest one, without storing it."""
    before = stored_plans().revision(path.plan_id, body.base)
    newest = stored_plans().revision(path.plan_id)
    yours = to_values(body.plan)
    merged = merge(plan_values(before), yours, plan_values(newest), body.prefer)
    return json_response({"latest": newest["number"], "plan": merged})


@plans.get("/<int:plan_id>/document", responses={200: PlanFile, **described(404, 503)})
def read_document(path: PlanPath) -> Response:
    """A plan's latest document alone, as the plan file that the CLI reads."""
    row = stored_plans().revision(path.plan_id)
    return json_response(json.dumps(plan_values(row), indent=2, ensure_ascii=False))
