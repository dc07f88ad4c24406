"""Everything that would make a build or a morning fail."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from flask import Response

from idle_harbor.core.checks import Checked, in_order, look
from idle_harbor.core.plan import Plan
from idle_harbor.core.sizing.peak import check_all_sizings
from idle_harbor.formats.plan.codec import plan_of, to_values
from idle_harbor.jobs.asking import checks_wish
from idle_harbor.jobs.kind import Input
from idle_harbor.jobs.simulated import found_in
from idle_harbor.web.checks.answers import checks_answer
from idle_harbor.web.checks.models import ChecksAnswer, ChecksPart
from idle_harbor.web.shared.asked import Step, computed, in_parts, last
from idle_harbor.web.shared.bodies import checked_body, input_hash
from idle_harbor.web.shared.jobs import as_job, asker, told_so_far
from idle_harbor.web.shared.models import AskedBody, JobPath, SinceQuery
from idle_harbor.web.shared.problems import described
from idle_harbor.web.shared.view import view

checks = view("checks")

#: Spells in a week of all pools beyond which the checks take longer than a second.
LONG = 100_000


def _check_steps(plan: Plan, values: dict[str, Any]) -> Iterator[Step]:
    found: list[Checked] = []
    for looked in look(plan):
        found += looked.found
        last = looked.done == looked.of
        more = {"answer": checks_answer(values, in_order(found))} if last else {}
        yield looked.done, looked.of, {"found": len(found), **more}


@checks.post("", responses={200: ChecksAnswer, 204: None})
def read_checks(body: AskedBody) -> Response:
    """Everything that would make a build or a morning fail, with the way to mend it."""
    sent = checked_body(body)
    plan = sent.plan
    check_all_sizings(plan)
    values = to_values(plan)
    key = input_hash(sent, kind="checks")
    return computed("checks", body, key, lambda: last(_check_steps(plan, values)))


@checks.post("/parts", responses={200: ChecksPart, 204: None})
def read_checks_in_parts(body: AskedBody) -> Response:
    """The same, a line of JSON for each step as it gets done; the last line has the whole.

    Of a large plan the only line has the job that checks it.
    """
    plan = checked_body(body).plan
    if check_all_sizings(plan) > LONG:
        return as_job(checks_wish(plan, asker(body, "checks")))
    return in_parts("checks", body, _check_steps(plan, to_values(plan)))


@checks.get("/parts/<int:job_id>", responses={200: ChecksPart, **described(404, 409, 503)})
def read_checks_so_far(path: JobPath, query: SinceQuery) -> Response:
    """How much a job has found that was not told before; in the end all of it."""
    return told_so_far(path.job_id, "checks", query.since, _tell)


def _tell(given: Input, parts: Sequence[Mapping[str, Any]], whole: bool) -> dict[str, Any]:
    if not whole:
        return {"found": sum(len(each["body"]) for each in parts)}
    found = found_in(plan_of(given["plan"]), [each["body"] for each in parts])
    return {"found": len(found), "answer": checks_answer(given["plan"], in_order(found))}
