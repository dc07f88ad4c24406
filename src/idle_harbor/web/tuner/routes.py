"""Studies over HTTP: what one could be about, asked for, followed, and those there are."""

from __future__ import annotations

from typing import Any

from flask import Response
from pydantic import Field

from idle_harbor.core.plan.declare import FREEDOMS
from idle_harbor.core.plan.lookup import promise_of
from idle_harbor.core.tuner import Counted, Question, ordinary
from idle_harbor.core.tuner.designs.possible import turnable_in, weeks_that_may_count
from idle_harbor.core.tuner.search.effort import LEAST_EACH
from idle_harbor.formats.plan.codec import plan_of, to_values
from idle_harbor.formats.reports.marks import first_mark, marks_of
from idle_harbor.formats.reports.studies import differences
from idle_harbor.formats.reports.taking import taken_over
from idle_harbor.formats.reports.together import together_values
from idle_harbor.jobs.kinds.study import study_wish
from idle_harbor.store.jobs import Jobs
from idle_harbor.web.shared.asked import database, json_response
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
    StudyAnswer,
    StudyBody,
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
                {"name": each.name, "monday": each.monday.isoformat(), "why": each.why}
                for each in weeks_that_may_count(plan, body.pool)
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
    weeks = tuple(Counted(w.name, w.monday, w.weight) for w in body.weeks) or ordinary(plan)
    question = Question(
        body.pool,
        weeks,
        tuple(dict.fromkeys(body.free or FREEDOMS)),
        tuple(sorted(set(body.locked))),
        tuple((each.path, each.low, each.high) for each in body.within),
        body.axis,
        body.budget,
        body.seed,
        body.seconds,
    )
    turnable_in(plan, body.pool)  # raises for a pool that is not there
    by = asker(body, "tuner", pool=body.pool)
    held = job_asked(study_wish(plan, question, by, body.plan_id))
    return json_response({"done": held["done"], "of": held["parts"], "job": held})


@tuner.get("", responses={200: StudiesAnswer, **described(503)})
def list_studies(query: PlanQuery) -> Response:
    """The studies of a plan, the newest first."""
    found = []
    for row in Jobs(database()).about("study", query.plan_id):
        result: dict[str, Any] = row["result"] or {}
        tuned = result.get("tuned")
        today = result.get("current")
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


@tuner.get("/<int:job_id>", responses={200: StudyAnswer, **described(404, 409, 503)})
def read_study(path: JobPath) -> Response:
    """How far a study is, and what it has found."""
    jobs = Jobs(database())
    row = jobs.job(path.job_id)
    if row["kind"] != "study":
        raise OtherStudies(
            f"job {path.job_id} is a {row['kind']} and no study", "ask for what it is about"
        )
    given = jobs.given(path.job_id)["input"]
    question = given["question"]
    owed = promise_of(plan_of(given["plan"]), question["pool"])
    result = jobs.result(path.job_id)["result"] or {}
    return json_response(
        {
            "job": job_values(row),
            "question": question,
            "limit": getattr(owed, question["axis"]),
            "currency": given["plan"]["currency"],
            "so_far": result.get("so_far"),
            "answer": result if "verdict" in result else None,
            "marks": marks_of(result, question["axis"]),
            "first": first_mark(result),
        }
    )


@tuner.post("/together", responses={200: TogetherAnswer, **described(404, 409, 503)})
def weigh_studies(body: TogetherBody) -> Response:
    """Which plan each of several pools gets, under one budget or one promise."""
    answers = []
    currency = ""
    for job_id in dict.fromkeys(body.jobs):
        given, answer = _done(job_id)
        answers.append((given["question"]["pool"], answer))
        currency = given["plan"]["currency"]
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
        given, _ = _done(taken.job)
        point = {"pool": taken.pool, "schedule": taken.schedule}
        plan, twice = taken_over(plan, given["plan"], point)
        both += [f"{taken.pool['id']}: {path}" for path in twice]
    return json_response({"plan": to_values(plan), "both": both})


@tuner.post("/pools", responses={200: JobsAsked, **described(429, 503)})
def ask_for_studies(body: PoolsStudyBody) -> Response:
    """Have the best settings of every pool of a plan searched for, each by a study of its own."""
    plan = checked_body(body).plan
    jobs = []
    for pool in plan.pools:
        question = Question(
            pool.id, ordinary(plan), tuple(dict.fromkeys(body.free or FREEDOMS)), budget=body.budget
        )
        by = asker(body, "tuner", pool=pool.id)
        jobs.append(job_asked(study_wish(plan, question, by, body.plan_id)))
    return json_response({"jobs": jobs})


@tuner.get(
    "/<int:job_id>/against/<int:other_id>",
    responses={200: AgainstAnswer, **described(404, 409, 503)},
)
def compare_studies(path: AgainstPath) -> Response:
    """What one study found otherwise than another, and what was asked otherwise."""
    one, two = _done(path.job_id), _done(path.other_id)
    if one[0]["question"]["pool"] != two[0]["question"]["pool"]:
        raise OtherStudies(
            "these studies are of different pools", "compare two studies of one pool"
        )
    return json_response(differences(one, two))


def _done(job_id: int) -> tuple[dict[str, Any], dict[str, Any]]:
    """Input and answer of a study that is done; raises OtherStudies where it is none."""
    jobs = Jobs(database())
    result = jobs.result(job_id)["result"] or {}
    if jobs.job(job_id)["kind"] != "study" or "verdict" not in result:
        raise OtherStudies(f"job {job_id} is no study that is done", "name studies that are done")
    given: dict[str, Any] = jobs.given(job_id)["input"]
    return given, result
