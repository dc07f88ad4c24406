"""Every pool of a plan side by side, and a week in which hosts fail."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from flask import Response

from idle_harbor.core.checks import look
from idle_harbor.core.plan import Plan
from idle_harbor.core.weeks.drills import Failure, drill_week
from idle_harbor.core.weeks.side_by_side import PoolView, amount_for, check_pools, view_of_pool
from idle_harbor.formats.plan.codec import plan_of
from idle_harbor.formats.reports.figures import figures_values
from idle_harbor.formats.reports.outcomes import from_values
from idle_harbor.jobs.asking import pools_wish
from idle_harbor.jobs.kind import Input
from idle_harbor.jobs.simulated import found_in
from idle_harbor.web.pools.answers import pool_rows, pools_answer
from idle_harbor.web.pools.models import DrillAnswer, DrillBody, PoolsAnswer, PoolsPart
from idle_harbor.web.shared.asked import (
    Step,
    at_desk,
    computed,
    in_parts,
    json_response,
    last,
    nothing,
    wanted_by,
)
from idle_harbor.web.shared.bodies import checked_body, input_hash
from idle_harbor.web.shared.jobs import as_job, asker, told_so_far
from idle_harbor.web.shared.models import AskedBody, JobPath, SinceQuery
from idle_harbor.web.shared.problems import described
from idle_harbor.web.shared.view import view

pools = view("pools")

SEED = 1
#: Spells in a week of all pools beyond which they take longer than a second.
LONG = 40_000


def _pool_steps(plan: Plan) -> Iterator[Step]:
    """Every pool simulated, a step each; with the last the checks, and what all of them make."""
    amount = amount_for(plan)
    views: dict[str, PoolView] = {}
    of = len(plan.pools)
    for done, pool in enumerate(plan.pools, start=1):
        view_ = views[pool.id] = view_of_pool(plan, pool, amount)
        if done < of:
            yield done, of, {"rows": pool_rows(plan, {pool.id: view_}, [])}
    found = [each for looked in look(plan) for each in looked.found]
    yield of, of, {"answer": pools_answer(plan, views, found, amount.weeks)}


@pools.post("", responses={200: PoolsAnswer, 204: None})
def read_pools(body: AskedBody) -> Response:
    """Every pool of a plan side by side, simulated over a few weeks."""
    sent = checked_body(body)
    plan = sent.plan
    check_pools(plan)
    key = input_hash(sent, kind="pools")
    return computed("pools", body, key, lambda: last(_pool_steps(plan)))


@pools.post("/parts", responses={200: PoolsPart, 204: None})
def read_pools_in_parts(body: AskedBody) -> Response:
    """The same, a line of JSON for each pool as it gets done; the last line has the whole.

    Of many pools the only line has the job that works them out.
    """
    plan = checked_body(body).plan
    if check_pools(plan) > LONG:
        return as_job(pools_wish(plan, asker(body, "pools")))
    return in_parts("pools", body, _pool_steps(plan))


@pools.get("/parts/<int:job_id>", responses={200: PoolsPart, **described(404, 409, 503)})
def read_pools_so_far(path: JobPath, query: SinceQuery) -> Response:
    """The pools that a job has done and that were not told before; in the end the whole."""
    return told_so_far(
        path.job_id, "pools", query.since, _tell, lambda given: len(given["plan"]["pools"])
    )


def _tell(given: Input, parts: Sequence[Mapping[str, Any]], whole: bool) -> dict[str, Any]:
    plan = plan_of(given["plan"])
    of = len(plan.pools)
    views = {
        plan.pools[each["part"]].id: from_values(PoolView, each["body"])
        for each in parts
        if each["part"] < of
    }
    if not whole:
        return {"rows": pool_rows(plan, views, [])}
    found = found_in(plan, [each["body"] for each in parts[of:]])
    return {"answer": pools_answer(plan, views, found, amount_for(plan).weeks)}


@pools.post("/drill", responses={200: DrillAnswer})
def run_drill(body: DrillBody) -> Response:
    """A week in which a zone or some hosts are struck for a while, beside the week without."""
    plan = checked_body(body).plan
    failure = Failure(body.day, body.minute, body.minutes, body.zone, body.hosts, body.kind)
    found = at_desk(wanted_by(), lambda: drill_week(plan, body.pool, failure, SEED))
    if found is None:
        return nothing()
    return json_response(
        {
            "calm": figures_values(found.calm),
            "drilled": figures_values(found.drilled),
            "failed": found.failed,
            "told": found.told,
            "interrupted": found.interrupted,
            "most_waiting": found.most_waiting,
        }
    )
