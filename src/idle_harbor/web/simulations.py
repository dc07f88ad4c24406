"""Simulations of plans as they stand on a page, and what can be asked about a simulated week."""

from __future__ import annotations

from collections.abc import Callable

from flask import Response, make_response
from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.models.tag import Tag
from pydantic_core import to_json

from idle_harbor.core.errors import NotWantedError
from idle_harbor.core.plan import Plan
from idle_harbor.core.weeks import DAYS, Case, case_of, check_amount, week, weeks
from idle_harbor.formats.plan.codec import content_hash, plan_of, to_values
from idle_harbor.runtime import engine_version
from idle_harbor.store.database import StoreError
from idle_harbor.web.answers import lanes_answer, range_answer, waiters_answer, week_answer
from idle_harbor.web.asked import answered, desk, nothing, wanted_by
from idle_harbor.web.desk import Superseded
from idle_harbor.web.models import (
    LanesAnswer,
    RangeAnswer,
    RangeBody,
    ResultPath,
    SimulationBody,
    WaitersAnswer,
    WeekAnswer,
    WindowQuery,
)
from idle_harbor.web.plans import database
from idle_harbor.web.problems import described, problem

simulations = APIBlueprint(
    "simulations", __name__, url_prefix="/api/simulations", abp_tags=[Tag(name="simulations")]
)

SEED = 1
WEEK = "week"


def _read(body: SimulationBody, days: int = DAYS) -> tuple[Plan, Case, str]:
    plan = plan_of(body.plan)
    case = case_of(plan, body.pool, first=body.first, days=days)
    key = {
        "plan": to_values(plan), "pool": body.pool, "engine": engine_version(),
        "first": str(case.horizon.dates[case.horizon.warm_days]), "days": days,
    }  # fmt: skip
    return plan, case, content_hash(key)


def _stored(body: SimulationBody, key: str, kind: str) -> bytes | None:
    """The answer kept for this input: in memory, or for a saved plan in the database.

    A week's picture counts as kept only while its lanes and waits are in memory too.
    """
    if kind == WEEK:
        return desk().answer(f"{kind} {key}") if desk().week(key) else None
    found = desk().answer(f"{kind} {key}")
    if found is None and body.saved:
        try:
            text = database().result(key, engine_version(), kind)
        except StoreError:
            return None
        found = None if text is None else text.encode()
    return found


def _keep(body: SimulationBody, key: str, kind: str, text: bytes) -> None:
    desk().keep_answer(f"{kind} {key}", text)
    if body.saved and kind != WEEK:
        try:
            database().store_result(key, engine_version(), kind, text.decode())
        except StoreError:
            return  # a result that is not kept is computed again


def _computed(body: SimulationBody, key: str, kind: str, work: Callable[[], bytes]) -> Response:
    """The kept answer, or the one that the desk computes when it is its turn."""
    desk().announce(body.tab, body.edit)
    text = _stored(body, key, kind)
    if text is None:
        try:
            text = desk().run(wanted_by(body.tab, body.edit), work)
        except (Superseded, NotWantedError):
            return nothing()
        _keep(body, key, kind, text)
    return answered(text, body.edit, key)


@simulations.post("/week", responses={200: WeekAnswer, 204: None})
def simulate_week(body: SimulationBody) -> Response:
    """Simulate one week of a pool: its picture and figures."""
    plan, case, key = _read(body)
    check_amount(case, 1)

    kept = desk()

    def work() -> bytes:
        result = week(case, SEED, record=True)
        kept.keep_week(key, case, result)
        return to_json(week_answer(plan, case, result))

    return _computed(body, key, WEEK, work)


@simulations.post("/range", responses={200: RangeAnswer, 204: None})
def simulate_range(body: RangeBody) -> Response:
    """Simulate several weeks of a pool: figures with 95 % intervals."""
    plan, case, key = _read(body, body.days)
    kind = f"range {body.seeds}"

    def work() -> bytes:
        results = weeks(case, range(SEED, SEED + body.seeds))
        return to_json(range_answer(plan, case, results))

    return _computed(body, key, kind, work)


def _forgotten() -> Response:
    return problem(
        "forgotten", 404, "This week is no longer in memory",
        "the details of a simulated week are kept for a while only",
        "simulate it again",
    )  # fmt: skip


@simulations.get("/<input_hash>/lanes", responses={200: LanesAnswer, **described(404)})
def read_lanes(path: ResultPath, query: WindowQuery) -> Response:
    """Host lanes of a simulated week in a window, as lists of changes, with their causes."""
    kept = desk().week(path.input_hash)
    if kept is None:
        return _forgotten()
    body = to_json(lanes_answer(kept.week, query.start, query.end))
    response = make_response(body)
    response.mimetype = "application/json"
    return response


@simulations.get("/<input_hash>/waiters", responses={200: WaitersAnswer, **described(404)})
def read_waiters(path: ResultPath, query: WindowQuery) -> Response:
    """People who did not have a desktop at once, in a window of a simulated week."""
    kept = desk().week(path.input_hash)
    if kept is None:
        return _forgotten()
    comers = kept.case.demand.comers
    names = [""] * (max((comer.group_index for comer in comers), default=-1) + 1)
    for comer in comers:
        names[comer.group_index] = comer.group.id
    response = make_response(to_json(waiters_answer(names, kept.week, query.start, query.end)))
    response.mimetype = "application/json"
    return response
