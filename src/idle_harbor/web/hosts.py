"""Hosts and pools: the sizing picture, kinds and places side by side, prices, samples, checks."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterator
from dataclasses import replace
from typing import Any

from flask import Response
from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.models.tag import Tag

from idle_harbor.core.checks import Checked, in_order, look
from idle_harbor.core.demand.crowd import FEWEST_SEEDS
from idle_harbor.core.drills import Failure, drill_week
from idle_harbor.core.errors import Fault, NotWantedError, PlanError
from idle_harbor.core.lookup import find_pool
from idle_harbor.core.plan import Plan
from idle_harbor.core.sizing.hosts import (
    SEEDS,
    Wish,
    check_all_sizings,
    check_sizing,
    crest_of_pool,
    seeds_for_all,
    sizing_of,
)
from idle_harbor.core.sizing.kinds import compare_kinds
from idle_harbor.core.sizing.places import places_for
from idle_harbor.core.sizing.samples import profile_from_samples
from idle_harbor.core.weeks import (
    case_of,
    check_amount,
    figures_of,
    weeks,
)
from idle_harbor.formats.figures_json import figures_values
from idle_harbor.formats.plan.codec import edited, plan_of, read_plan, to_values
from idle_harbor.formats.price_sheet import (
    PriceSheet,
    differences,
    read_sheet,
    sheet_csv,
    sheet_json,
    sheet_of,
    with_sheet,
)
from idle_harbor.formats.samples_csv import read_samples
from idle_harbor.runtime import engine_version
from idle_harbor.standins.price_feed import SimulatedPriceFeed
from idle_harbor.web.asked import (
    Step,
    computed,
    desk,
    in_parts,
    json_response,
    nothing,
    wanted_by,
)
from idle_harbor.web.desk import Superseded
from idle_harbor.web.hosts_answers import (
    PoolResult,
    checks_answer,
    kinds_answer,
    places_answer,
    pool_rows,
    pools_answer,
    sizing_answer,
)
from idle_harbor.web.hosts_models import (
    ChangedPlan,
    ChecksAnswer,
    ChecksPart,
    DrillAnswer,
    DrillBody,
    FeedBody,
    GroupBody,
    KindsAnswer,
    PlacesAnswer,
    PlanBody,
    PoolsAnswer,
    PoolsPart,
    SamplesBody,
    SheetAnswer,
    SheetBody,
    SheetFormBody,
    SheetText,
    SizingAnswer,
    SizingBody,
)

hosts = APIBlueprint("hosts", __name__, url_prefix="/api/hosts", abp_tags=[Tag(name="hosts")])

SEED = 1
#: Weeks that the table of pools is simulated over.
_TABLE_SEEDS = 4


def _computed(
    kind: str, body: PlanBody, plan: Plan, more: object, work: Callable[[], dict[str, Any]]
) -> Response:
    text = f"{kind}\x1f{plan!r}\x1f{more}\x1f{engine_version()}"
    key = hashlib.sha256(text.encode()).hexdigest()
    return computed(kind, body.tab, body.edit, key, work)


@hosts.post("/sizing", responses={200: SizingAnswer, 204: None})
def read_sizing(body: SizingBody) -> Response:
    """What each host size bears of a pool's people, and the hosts for their peak."""
    plan = plan_of(body.plan)
    pool = find_pool(plan, body.pool)
    wish = Wish(body.percentile, body.spare, body.lose_zone, body.active_share, body.group)
    check_sizing(plan, pool, wish)
    return _computed(
        "sizing", body, plan, (pool.id, wish),
        lambda: sizing_answer(plan, sizing_of(plan, pool, wish), wish),
    )  # fmt: skip


@hosts.post("/kinds", responses={200: KindsAnswer, 204: None})
def read_kinds(body: GroupBody) -> Response:
    """One group of a pool as each kind of desktop, simulated."""
    plan = plan_of(body.plan)
    pool = find_pool(plan, body.pool)
    check_sizing(plan, pool, Wish(group=body.group))

    def work() -> dict[str, Any]:
        return kinds_answer(plan, compare_kinds(plan, pool, body.group))

    return _computed("kinds", body, plan, (pool.id, body.group), work)


@hosts.post("/places", responses={200: PlacesAnswer})
def read_places(body: GroupBody) -> Response:
    """Every place of the plan for one group of a pool, the best first."""
    plan = plan_of(body.plan)
    pool = find_pool(plan, body.pool)
    return json_response(places_answer(plan, body.group, places_for(plan, pool, body.group)))


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


@hosts.post("/pools", responses={200: PoolsAnswer, 204: None})
def read_pools(body: PlanBody) -> Response:
    """Every pool of a plan side by side, simulated over a few weeks."""
    plan = plan_of(body.plan)
    _check_pools(plan)

    def work() -> dict[str, Any]:
        return _last(_pool_steps(plan))

    return _computed("pools", body, plan, "", work)


@hosts.post("/pools/parts", responses={200: PoolsPart, 204: None})
def read_pools_in_parts(body: PlanBody) -> Response:
    """The same, a line of JSON for each pool as it gets done; the last line has the whole."""
    plan = plan_of(body.plan)
    _check_pools(plan)
    return in_parts("pools", body.tab, body.edit, _pool_steps(plan))


def _last(steps: Iterator[Step]) -> dict[str, Any]:
    """The answer that comes with the last step."""
    *_, (_, _, brought) = steps
    answer: dict[str, Any] = brought["answer"]
    return answer


@hosts.post("/drill", responses={200: DrillAnswer})
def run_drill(body: DrillBody) -> Response:
    """A week in which a zone or some hosts fail for a while, beside the same week without."""
    plan = plan_of(body.plan)
    failure = Failure(body.day, body.minute, body.minutes, body.zone, body.hosts)
    try:
        found = desk().run(wanted_by(), lambda: drill_week(plan, body.pool, failure, SEED))
    except (Superseded, NotWantedError):
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


@hosts.post("/samples", responses={200: ChangedPlan})
def take_samples(body: SamplesBody) -> Response:
    """A new workload profile from samples of sessions; the plan comes back with it."""
    plan = plan_of(body.plan)
    like = next((p for p in plan.profiles if p.id == body.like), None)
    if like is None:
        raise PlanError([Fault("/profiles", f"there is no workload profile '{body.like}'",
                               "name one that exists")])  # fmt: skip
    measured = profile_from_samples(like, read_samples(body.text), body.source)
    profiles = (*plan.profiles, replace(measured, id=body.new))
    return json_response({"plan": edited(replace(plan, profiles=profiles))})


def _with_sheet(body: SheetBody | FeedBody, sheet_for: Callable[[PriceSheet], PriceSheet]
                ) -> Response:  # fmt: skip
    plan = plan_of(body.plan)
    before = sheet_of(plan)
    after = with_sheet(plan, sheet_for(before))
    return json_response({"plan": edited(after), "changes": differences(before, sheet_of(after))})


@hosts.post("/prices", responses={200: SheetAnswer})
def take_prices(body: SheetBody) -> Response:
    """Bring a price sheet (JSON or CSV) into a plan; what differs is told, nothing is saved."""
    sheet = read_sheet(body.text)
    return _with_sheet(body, lambda _: sheet)


@hosts.post("/prices/feed", responses={200: SheetAnswer})
def take_feed(body: FeedBody) -> Response:
    """Ask the simulated price feed for a day's prices; what differs is told, nothing is saved."""
    return _with_sheet(body, lambda now: SimulatedPriceFeed(now).sheet_on(body.day))


@hosts.post("/prices/sheet", responses={200: SheetText})
def write_prices(body: SheetFormBody) -> Response:
    """A plan's price sheet as JSON or CSV."""
    sheet = sheet_of(read_plan(body.plan))
    text = sheet_csv(sheet) if body.form == "csv" else sheet_json(sheet)
    return json_response({"name": f"price-sheet.{body.form}", "text": text})


def _check_steps(plan: Plan, values: dict[str, Any]) -> Iterator[Step]:
    found: list[Checked] = []
    for looked in look(plan):
        found += looked.found
        last = looked.done == looked.of
        more = {"answer": checks_answer(values, in_order(found))} if last else {}
        yield looked.done, looked.of, {"found": len(found), **more}


@hosts.post("/checks", responses={200: ChecksAnswer, 204: None})
def read_checks(body: PlanBody) -> Response:
    """Everything that would make a build or a morning fail, with the way to mend it."""
    plan = plan_of(body.plan)
    check_all_sizings(plan)
    values = to_values(plan)
    return _computed("checks", body, plan, "", lambda: _last(_check_steps(plan, values)))


@hosts.post("/checks/parts", responses={200: ChecksPart, 204: None})
def read_checks_in_parts(body: PlanBody) -> Response:
    """The same, a line of JSON for each step as it gets done; the last line has the whole."""
    plan = plan_of(body.plan)
    check_all_sizings(plan)
    steps = _check_steps(plan, to_values(plan))
    return in_parts("checks", body.tab, body.edit, steps)
