"""Every pool of a plan side by side, and a week in which hosts fail."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from flask import Response

from idle_harbor.core.demand.draws import SHOWN_SEED
from idle_harbor.core.plan import Plan
from idle_harbor.core.weeks.drills import Failure, drill_week
from idle_harbor.core.weeks.side_by_side import PoolView, amount_for, check_pools
from idle_harbor.formats.reports.figures import values_of
from idle_harbor.jobs.kinds.checks import Found, checked_in
from idle_harbor.jobs.kinds.pools import POOLS
from idle_harbor.web.pools.answers import pool_rows, pools_answer
from idle_harbor.web.pools.models import DrillAnswer, DrillBody, PoolsAnswer, PoolsPart
from idle_harbor.web.shared.asked import (
    at_desk,
    computed,
    json_response,
    nothing,
    wanted_by,
)
from idle_harbor.web.shared.bodies import checked_body, input_hash
from idle_harbor.web.shared.jobs import asker
from idle_harbor.web.shared.long import LongAnswer
from idle_harbor.web.shared.models import AskedBody, JobPath, SinceQuery
from idle_harbor.web.shared.problems import described
from idle_harbor.web.shared.view import view

pools = view("pools")


def _tell(
    asked: Callable[[], Plan], found: Mapping[int, PoolView | list[Found]], whole: bool
) -> dict[str, Any]:
    plan = asked()
    views = {
        plan.pools[number].id: each for number, each in found.items() if isinstance(each, PoolView)
    }
    if not whole:
        return {"rows": pool_rows(plan, views, [])}
    checked = checked_in(each for each in found.values() if isinstance(each, list))
    return {"answer": pools_answer(plan, views, checked, amount_for(plan).weeks)}


_ANSWER = LongAnswer(POOLS, "pools", _tell, counted=lambda plan: len(plan.pools))


@pools.post("", responses={200: PoolsAnswer, 204: None})
def read_pools(body: AskedBody) -> Response:
    """Every pool of a plan side by side, simulated over a few weeks."""
    sent = checked_body(body)
    plan = sent.plan
    check_pools(plan)
    key = input_hash(sent, kind="pools")
    return computed("pools", body, key, lambda: _ANSWER.at_once(plan))


@pools.post("/parts", responses={200: PoolsPart, 204: None})
def read_pools_in_parts(body: AskedBody) -> Response:
    """The same, a line of JSON for each pool as it gets done; the last line has the whole.

    Of many pools the only line has the job that works them out.
    """
    return _ANSWER.in_parts(body, checked_body(body).plan, asker(body, "pools"))


@pools.get("/parts/<int:job_id>", responses={200: PoolsPart, **described(404, 409, 503)})
def read_pools_so_far(path: JobPath, query: SinceQuery) -> Response:
    """The pools that a job has done and that were not told before; in the end the whole."""
    return _ANSWER.so_far(path.job_id, query.since)


@pools.post("/drill", responses={200: DrillAnswer})
def run_drill(body: DrillBody) -> Response:
    """A week in which a zone or some hosts are struck for a while, beside the week without."""
    plan = checked_body(body).plan
    failure = Failure(body.day, body.minute, body.minutes, body.zone, body.hosts, body.kind)
    found = at_desk(wanted_by(), lambda: drill_week(plan, body.pool, failure, SHOWN_SEED))
    if found is None:
        return nothing()
    return json_response(values_of(found))
