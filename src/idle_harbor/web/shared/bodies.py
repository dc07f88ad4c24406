"""The plan in a request's body: most of its lists may stand there by a name alone.

A page sends its plan with everything it asks. The answer tells names for the lists that came, and
the page sends those names from then on, in place of lists that have not changed.
"""

from __future__ import annotations

from flask import Response, after_this_request

from idle_harbor.core.rules.unchanged import check_changed
from idle_harbor.formats.plan.codec import Sent, content_hash, read_sent
from idle_harbor.runtime import engine_version
from idle_harbor.web.shared.asked import to_json
from idle_harbor.web.shared.models import PlanBody

#: The header that names lists: a JSON object of the names by field.
NAMES = "Plan-Parts"


def read_body(body: PlanBody) -> Sent:
    """The plan of a body, whose parts may not fit each other; the answer tells the names.

    Raises PlanError where it cannot be read, UnknownPartsError where a name stands for nothing.
    """
    sent = read_sent(body.plan, body.parts)

    @after_this_request
    def _tell_names(response: Response) -> Response:
        if sent.names:
            response.headers[NAMES] = to_json(sent.names).decode()
        return response

    return sent


def checked_body(body: PlanBody) -> Sent:
    """The checked plan of a body; raises PlanError with everything that is wrong with it, and
    UnknownPartsError."""
    sent = read_body(body)
    check_changed(sent.plan, sent.says)
    return sent


def input_hash(sent: Sent, **inputs: object) -> str:
    """The name of an answer: a hash of the plan as it was sent, what was asked of it (values as
    JSON has them), and the engine's version."""
    return content_hash({"plan": sent.says, "engine": engine_version(), **inputs})
