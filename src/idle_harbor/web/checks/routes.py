"""Everything that would make a build or a morning fail."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from flask import Response

from idle_harbor.core.checks import in_order
from idle_harbor.core.plan import Plan
from idle_harbor.core.sizing.peak import check_all_sizings
from idle_harbor.formats.plan.codec import to_values
from idle_harbor.jobs.kinds.checks import CHECKS, Found, checked_in
from idle_harbor.web.checks.answers import checks_answer
from idle_harbor.web.checks.models import ChecksAnswer, ChecksPart
from idle_harbor.web.shared.asked import computed
from idle_harbor.web.shared.bodies import checked_body, input_hash
from idle_harbor.web.shared.jobs import asker
from idle_harbor.web.shared.long import LongAnswer
from idle_harbor.web.shared.models import AskedBody, JobPath, SinceQuery
from idle_harbor.web.shared.problems import described
from idle_harbor.web.shared.view import view

checks = view("checks")


def _tell(
    asked: Callable[[], Plan], parts: Mapping[int, list[Found]], whole: bool
) -> dict[str, Any]:
    found = {"found": sum(map(len, parts.values()))}
    if not whole:
        return found
    answer = checks_answer(to_values(asked()), in_order(checked_in(parts.values())))
    return {**found, "answer": answer}


_ANSWER = LongAnswer(CHECKS, "checks", _tell)


@checks.post("", responses={200: ChecksAnswer, 204: None})
def read_checks(body: AskedBody) -> Response:
    """Everything that would make a build or a morning fail, with the way to mend it."""
    sent = checked_body(body)
    plan = sent.plan
    check_all_sizings(plan)
    key = input_hash(sent, kind="checks")
    return computed("checks", body, key, lambda: _ANSWER.at_once(plan))


@checks.post("/parts", responses={200: ChecksPart, 204: None})
def read_checks_in_parts(body: AskedBody) -> Response:
    """The same, a line of JSON for each step as it gets done; the last line has the whole.

    Of a large plan the only line has the job that checks it.
    """
    return _ANSWER.in_parts(body, checked_body(body).plan, asker(body, "checks"))


@checks.get("/parts/<int:job_id>", responses={200: ChecksPart, **described(404, 409, 503)})
def read_checks_so_far(path: JobPath, query: SinceQuery) -> Response:
    """How much a job has found that was not told before; in the end all of it."""
    return _ANSWER.so_far(path.job_id, query.since)
