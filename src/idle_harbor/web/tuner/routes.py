"""Studies over HTTP: what one could be about, asked for, followed, and those there are."""

from __future__ import annotations

from typing import Any

from flask import Response
from pydantic import Field

from idle_harbor.core.lookup import promise_of
from idle_harbor.core.tuner import Counted, Question, ordinary
from idle_harbor.core.tuner.possible import turnable_in, weeks_that_may_count
from idle_harbor.formats.plan.codec import plan_of
from idle_harbor.store.jobs import Jobs
from idle_harbor.web.shared.asked import database, json_response
from idle_harbor.web.shared.bodies import checked_body
from idle_harbor.web.shared.jobs import as_job, asker, job_values
from idle_harbor.web.shared.models import JobPath, Model, Part, PoolBody
from idle_harbor.web.shared.problems import described, problem
from idle_harbor.web.shared.view import view
from idle_harbor.web.tuner.models import MayAnswer, StudiesAnswer, StudyAnswer, StudyBody

tuner = view("tuner", "studies")


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
            "turnable": [
                {"path": each.path, "meaning": each.meaning, "unit": each.unit,
                 "belongs": each.belongs, "places": each.places, "today": list(each.today)}
                for each in fields
            ],
        }
    )  # fmt: skip


@tuner.post("", responses={200: Part, **described(429, 503)})
def ask_for_study(body: StudyBody) -> Response:
    """Have the best settings of a pool searched for; the same asked again is the same job."""
    from idle_harbor.jobs.asking import study_wish

    plan = checked_body(body).plan
    weeks = tuple(Counted(w.name, w.monday, w.weight) for w in body.weeks) or ordinary(plan)
    question = Question(
        body.pool, weeks, tuple(dict.fromkeys(body.free)), tuple(sorted(set(body.locked))),
        tuple((each.path, each.low, each.high) for each in body.within), body.axis, body.budget,
        body.seed,
    )  # fmt: skip
    turnable_in(plan, body.pool)  # raises for a pool that is not there
    by = asker(body, "tuner", pool=body.pool)
    return as_job(study_wish(plan, question, by, body.plan_id))


@tuner.get("", responses={200: StudiesAnswer, **described(503)})
def list_studies(query: PlanQuery) -> Response:
    """The studies of a plan, the newest first."""
    found = []
    for row in Jobs(database()).about("study", query.plan_id):
        result: dict[str, Any] = row["result"] or {}
        tuned = result.get("tuned")
        today = result.get("current")
        found.append({
            "job": job_values(row), "question": row["question"],
            "verdict": result.get("verdict", ""),
            "today": today["money"]["mean"] if today else None,
            "tuned": tuned["money"]["mean"] if tuned else None,
        })  # fmt: skip
    return json_response({"studies": found})


@tuner.get("/<int:job_id>", responses={200: StudyAnswer, **described(404, 409, 503)})
def read_study(path: JobPath) -> Response:
    """How far a study is, and what it has found."""
    jobs = Jobs(database())
    row = jobs.job(path.job_id)
    if row["kind"] != "study":
        return problem(
            "other-kind", 409, "This job is of another kind",
            f"job {path.job_id} is a {row['kind']}", "ask for what it is about",
        )  # fmt: skip
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
        }
    )
