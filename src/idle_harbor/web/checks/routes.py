"""Everything that would make a build or a morning fail."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from flask import Response

from idle_harbor.core.checks import Checked, in_order, look
from idle_harbor.core.plan import Plan
from idle_harbor.core.sizing.peak import check_all_sizings
from idle_harbor.formats.plan.codec import to_values
from idle_harbor.web.checks.answers import checks_answer
from idle_harbor.web.checks.models import ChecksAnswer, ChecksPart
from idle_harbor.web.shared.asked import Step, computed, in_parts, last
from idle_harbor.web.shared.bodies import checked_body, input_hash
from idle_harbor.web.shared.models import AskedBody
from idle_harbor.web.shared.view import view

checks = view("checks")


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
    """The same, a line of JSON for each step as it gets done; the last line has the whole."""
    plan = checked_body(body).plan
    check_all_sizings(plan)
    steps = _check_steps(plan, to_values(plan))
    return in_parts("checks", body, steps)
