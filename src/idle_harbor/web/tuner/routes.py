"""Studies over HTTP: what one could be about, asked for, followed, and those there are."""

from __future__ import annotations

from typing import Any

from flask import Response
from pydantic import Field
from pydantic_core import from_json

from idle_harbor.core.figures.promise import BY_FIELD
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.declare import FREEDOMS
from idle_harbor.core.plan.lookup import promise_of
from idle_harbor.core.tuner import Counted, Question
from idle_harbor.core.tuner.asking import checked_question, pools_with_people
from idle_harbor.core.tuner.designs.possible import turnable_in
from idle_harbor.core.tuner.report.axis import MAIN
from idle_harbor.core.tuner.search.effort import LEAST_EACH
from idle_harbor.core.tuner.weeks.kinds import weeks_to_choose
from idle_harbor.formats.plan.codec import plan_of, to_values
from idle_harbor.formats.reports.figures import values_of
from idle_harbor.formats.reports.marks import first_mark, marks_of
from idle_harbor.formats.reports.studies import differences
from idle_harbor.formats.reports.taking import taken_over
from idle_harbor.formats.reports.together import together_values
from idle_harbor.jobs.asking import Asker
from idle_harbor.jobs.kinds.study import study_wish
from idle_harbor.store.plans import NoSuchPlan
from idle_harbor.store.studies import StudyRow
from idle_harbor.web.shared.asked import json_response, stored_plans, studies
from idle_harbor.web.shared.bodies import checked_body, read_body
from idle_harbor.web.shared.jobs import asker, job_asked, job_values
from idle_harbor.web.shared.models import JobPath, Model, Part, PoolBody
from idle_harbor.web.shared.problems import described, problem
from idle_harbor.web.shared.view import view
from idle_harbor.web.tuner.models import (
    AgainstAnswer,
    AgainstPath,
    JobsAsked,
    MayAnswer,
    PoolsStudyBody,
    StudiesAnswer,
    StudiesRemoved,
    StudyAnswer,
    StudyBody,
    StudyQuery,
    TakeBody,
    TakenPlan,
    TogetherAnswer,
    TogetherBody,
)

tuner = view("tuner", "studies")


class OtherStudies(Exception):
    """These studies cannot be put beside each other: why, and what would help."""

    def __init__(self, detail: str, remedy: str) -> None:
        super().__init__(detail)
        self.remedy = remedy


@tuner.errorhandler(OtherStudies)
def other_studies(error: OtherStudies) -> Response:
    """A problem in place of a comparison."""
    return problem(
        "other-studies",
        409,
        "These studies cannot be put beside each other",
        str(error),
        error.remedy,
    )


class PlanQuery(Model):
    """Whose studies."""

    plan_id: int = Field(ge=1, le=2**62)


@tuner.post("/may", responses={200: MayAnswer})
def what_may_be_asked(body: PoolBody) -> Response:
    """What a study of a pool could change, and which weeks could count."""
    plan = checked_body(body).plan
    fields = turnable_in(plan, body.pool)
    return json_response(
        {
            "free": list(dict.fromkeys(each.belongs for each in fields)),
            "weeks": [
                {**values_of(week), "why": why} for week, why in weeks_to_choose(plan, body.pool)
            ],
            "least_each": LEAST_EACH,
            "turnable": [
                {
                    "path": each.path,
                    "meaning": each.meaning,
                    "unit": each.unit,
                    "belongs": each.belongs,
                    "places": each.places,
                    "today": list(each.today),
                }
                for each in fields
            ],
        }
    )


@tuner.post("", responses={200: Part, **described(429, 503)})
def ask_for_study(body: StudyBody) -> Response:
    """Have the best settings of a pool searched for; the same asked again is the same job."""
    plan = checked_body(body).plan
    weeks = tuple(Counted(**week.model_dump()) for week in body.weeks)
    question = Question(
        body.pool,
        weeks,
        tuple(dict.fromkeys(body.free or FREEDOMS)),
        tuple(sorted(set(body.locked))),
        tuple((each.path, each.low, each.high) for each in body.within),
        body.axis or "",
        body.budget,
        body.seed,
        body.seconds,
        together=tuple(body.together),
    )
    by = asker(body, "tuner", pool=body.pool)
    held = _asked(plan, checked_question(plan, question), by, body.plan_id)
    return json_response({"done": held["done"], "of": held["parts"], "job": held})


def _asked(plan: Plan, question: Question, by: Asker, plan_id: int | None) -> dict[str, Any]:
    """Have a study worked on; returns the job's values as the API has them."""
    wish = study_wish(plan, question, by, plan_id)
    held = job_asked(wish)
    axis = BY_FIELD[question.axis or MAIN[0]]
    promised = axis.limit(promise_of(plan, question.pool))
    assert promised is not None, "a checked question weighs what is promised"
    asked = {**wish.input["question"], "baseline": _baseline(plan, plan_id)}
    studies().note(held["id"], {**wish.input, "question": asked}, promised, plan_id)
    return held


def _baseline(plan: Plan, plan_id: int | None) -> dict[str, Any] | None:
    """The revision that a plan is, or is an edit of; None where it is not stored."""
    if plan_id is None:
        return None
    try:
        row = stored_plans().revision(plan_id)
    except NoSuchPlan:
        return None
    return {"revision": row["number"], "edited": plan_of(from_json(row["canonical"])) != plan}


@tuner.get("", responses={200: StudiesAnswer, **described(503)})
def list_studies(query: PlanQuery) -> Response:
    """The studies of a plan, the newest first."""
    found = []
    for row in studies().of_plan(query.plan_id):
        result = row["answer"] or {}
        tuned, today = result.get("tuned"), result.get("current")
        found.append(
            {
                "job": job_values(row),
                "question": row["question"],
                "verdict": result.get("verdict", ""),
                "today": today["money"]["mean"] if today else None,
                "tuned": tuned["money"]["mean"] if tuned else None,
            }
        )
    return json_response({"studies": found})


@tuner.get("/<int:job_id>", responses={200: StudyAnswer, **described(404, 503)})
def read_study(path: JobPath, query: StudyQuery) -> Response:
    """How far a study is, and what it has found."""
    row = studies().study(path.job_id)
    question, answer, so_far = row["question"], row["answer"], row["so_far"]
    known = answer or {"so_far": so_far}
    axis = (query.axis if answer else None) or (answer or {}).get("axis") or question["axis"]
    axis = axis or MAIN[0]
    limits = (answer or {}).get("limits", {})
    return json_response(
        {
            "job": job_values(row),
            "question": question,
            "axis": axis,
            "limit": limits.get(axis, row["promised"]),
            "currency": row["currency"],
            "so_far": so_far,
            "answer": answer,
            "marks": marks_of(known, axis),
            "first": first_mark(known),
        }
    )


@tuner.delete("/<int:job_id>", responses={200: StudiesRemoved, **described(404, 503)})
def remove_study(path: JobPath) -> Response:
    """Forget a study; one that is worked on ends."""
    studies().remove(path.job_id)
    return json_response({"removed": path.job_id})


@tuner.post("/together", responses={200: TogetherAnswer, **described(404, 409, 503)})
def weigh_studies(body: TogetherBody) -> Response:
    """Which plan each of several pools gets, under one budget or one promise."""
    answers = []
    currency = ""
    for job_id in dict.fromkeys(body.jobs):
        row, answer = _done(job_id)
        answers.append((row["question"]["pool"], answer))
        currency = row["currency"]
    if len({pool for pool, _ in answers}) < len(answers):
        raise OtherStudies("two of these studies are of one pool", "name one study of each pool")
    told = together_values(
        answers, currency, budget=body.budget, kept=body.kept, spend=body.spend, save=body.save
    )
    of = zip(dict.fromkeys(body.jobs), told["pools"], strict=True)
    return json_response({**told, "pools": [{**options, "job": job} for job, options in of]})


@tuner.post("/take", responses={200: TakenPlan, **described(404, 409, 503)})
def take_designs(body: TakeBody) -> Response:
    """Put what studies changed of their pools into a plan as it is by now, without storing it."""
    plan, both = read_body(body).plan, []
    for taken in body.designs:
        point = {"pool": taken.pool, "schedule": taken.schedule}
        with_it = studies().study(taken.job)["question"].get("together", [])
        plan, twice = taken_over(plan, studies().plan(taken.job), point, with_it)
        both += [f"{taken.pool['id']}: {path}" for path in twice]
    return json_response({"plan": to_values(plan), "both": both})


@tuner.post("/pools", responses={200: JobsAsked, **described(429, 503)})
def ask_for_studies(body: PoolsStudyBody) -> Response:
    """Have the best settings of every pool to which somebody comes searched for, each by a study of
    its own."""
    plan = checked_body(body).plan
    jobs = []
    for pool in pools_with_people(plan):
        question = Question(
            pool, free=tuple(dict.fromkeys(body.free or FREEDOMS)), budget=body.budget
        )
        by = asker(body, "tuner", pool=pool)
        jobs.append(_asked(plan, checked_question(plan, question), by, body.plan_id))
    return json_response({"jobs": jobs})


@tuner.get(
    "/<int:job_id>/against/<int:other_id>",
    responses={200: AgainstAnswer, **described(404, 409, 503)},
)
def compare_studies(path: AgainstPath) -> Response:
    """What one study found otherwise than another, and what was asked otherwise."""
    (one, found), (two, other) = _done(path.job_id), _done(path.other_id)
    if one["question"]["pool"] != two["question"]["pool"]:
        raise OtherStudies(
            "these studies are of different pools", "compare two studies of one pool"
        )
    return json_response(differences((_input(one), found), (_input(two), other)))


def _input(row: StudyRow) -> dict[str, Any]:
    """What a study was asked: its question, and its plan."""
    return {"question": row["question"], "plan": studies().plan(row["id"])}


def _done(study_id: int) -> tuple[StudyRow, dict[str, Any]]:
    """A study and its answer; raises OtherStudies where there is none yet."""
    row = studies().study(study_id)
    if row["answer"] is None:
        raise OtherStudies(f"study {study_id} is not done", "name studies that are done")
    return row, row["answer"]
