"""Every pool of a plan side by side, and a week in which hosts fail."""

from __future__ import annotations

from collections.abc import Iterator

from flask import Response

from idle_harbor.core.checks import Checked, look
from idle_harbor.core.demand.crowd import FEWEST_SEEDS
from idle_harbor.core.drills import Failure, drill_week
from idle_harbor.core.plan import Plan
from idle_harbor.core.sizing.peak import (
    SEEDS,
    Wish,
    check_all_sizings,
    crest_of_pool,
    seeds_for_all,
)
from idle_harbor.core.summary import figures_of
from idle_harbor.core.weeks import case_of, check_amount, weeks
from idle_harbor.formats.reports.figures import figures_values
from idle_harbor.web.pools.answers import PoolResult, pool_rows, pools_answer
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
from idle_harbor.web.shared.models import AskedBody
from idle_harbor.web.shared.view import view

pools = view("pools")

SEED = 1
#: Weeks that the table of pools is simulated over.
_TABLE_SEEDS = 4


def _pool_steps(plan: Plan) -> Iterator[Step]:
    """Every pool simulated, a step each; with the last the checks, and what all of them make."""
    seeds = seeds_for_all(plan, _TABLE_SEEDS)
    wish = Wish(seeds=seeds_for_all(plan, SEEDS))
    rows: list[PoolResult] = []
    found: list[Checked] = []
    of = len(plan.pools)
    for done, pool in enumerate(plan.pools, start=1):
        case = case_of(plan, pool.id)
        figures = figures_of(case, weeks(case, range(SEED, SEED + seeds)))
        rows.append(PoolResult(case, figures, crest_of_pool(plan, pool, wish).peak.value))
        if done < of:
            yield done, of, {"rows": pool_rows(plan, rows[-1:], [])}
    for looked in look(plan):
        found += looked.found
    yield of, of, {"answer": pools_answer(plan, rows, found, seeds)}


def _check_pools(plan: Plan) -> None:
    check_all_sizings(plan)
    for pool in plan.pools:
        check_amount(case_of(plan, pool.id), FEWEST_SEEDS)


@pools.post("", responses={200: PoolsAnswer, 204: None})
def read_pools(body: AskedBody) -> Response:
    """Every pool of a plan side by side, simulated over a few weeks."""
    sent = checked_body(body)
    plan = sent.plan
    _check_pools(plan)
    key = input_hash(sent, kind="pools")
    return computed("pools", body, key, lambda: last(_pool_steps(plan)))


@pools.post("/parts", responses={200: PoolsPart, 204: None})
def read_pools_in_parts(body: AskedBody) -> Response:
    """The same, a line of JSON for each pool as it gets done; the last line has the whole."""
    plan = checked_body(body).plan
    _check_pools(plan)
    return in_parts("pools", body, _pool_steps(plan))


@pools.post("/drill", responses={200: DrillAnswer})
def run_drill(body: DrillBody) -> Response:
    """A week in which a zone or some hosts fail for a while, beside the same week without."""
    plan = checked_body(body).plan
    failure = Failure(body.day, body.minute, body.minutes, body.zone, body.hosts)
    found = at_desk(wanted_by(), lambda: drill_week(plan, body.pool, failure, SEED))
    if found is None:
        return nothing()
    return json_response(
        {
            "calm": figures_values(found.calm),
            "drilled": figures_values(found.drilled),
            "failed": found.failed,
            "interrupted": found.interrupted,
            "most_waiting": found.most_waiting,
        }
    )
