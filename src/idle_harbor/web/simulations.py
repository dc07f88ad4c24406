"""Simulations of plans as they stand on a page, and what can be asked about a simulated week."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask import Response, make_response
from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.models.tag import Tag
from pydantic_core import to_json

from idle_harbor.core.plan import Plan
from idle_harbor.core.simulate import DAYS, Case, case_of, check_amount, week, weeks
from idle_harbor.formats.plan_reading import content_hash, document_of, plan_from, to_values
from idle_harbor.runtime import engine_version
from idle_harbor.store.database import StoreError
from idle_harbor.web.answers import lanes_answer, range_answer, waiters_answer, week_answer
from idle_harbor.web.asked import desk
from idle_harbor.web.desk import Kept, Superseded
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


def _body(values: dict[str, Any]) -> bytes:
    return to_json(values)


def _answer(parts: bytes | str, edit: int, input_hash: str) -> Response:
    """The computed part of an answer, with the page's edit number put in front."""
    text = parts.decode() if isinstance(parts, bytes) else parts
    response = make_response(f'{{"edit":{edit},"input_hash":"{input_hash}",{text[1:]}')
    response.mimetype = "application/json"
    return response


def _read(body: SimulationBody, days: int = DAYS) -> tuple[Plan, Case, str]:
    document = document_of(body.plan)
    plan = plan_from(document)
    case = case_of(plan, body.pool, first=body.first, days=days)
    key = {
        "plan": to_values(document), "pool": body.pool, "engine": engine_version(),
        "first": str(case.horizon.dates[case.horizon.warm_days]), "days": days,
    }  # fmt: skip
    return plan, case, content_hash(key)


def _stored(body: SimulationBody, key: str, kind: str) -> str | None:
    """The answer kept for this input: in memory, or for a saved plan in the database.

    A week's picture counts as kept only while its lanes and waits are in memory too.
    """
    if kind == WEEK:
        return desk().answers.get(f"{kind} {key}") if desk().weeks.get(key) else None
    found = desk().answers.get(f"{kind} {key}")
    if found is None and body.saved:
        try:
            found = database().result(key, engine_version(), kind)
        except StoreError:
            return None
    return found


def _keep(body: SimulationBody, key: str, kind: str, text: str) -> None:
    desk().answers.put(f"{kind} {key}", text)
    if body.saved and kind != WEEK:
        try:
            database().store_result(key, engine_version(), kind, text)
        except StoreError:
            return  # a result that is not kept is computed again


def _superseded() -> Response:
    """Nothing: the page has sent a newer edit and waits for the answer to that one."""
    return make_response("", 204)


def _computed(body: SimulationBody, key: str, kind: str, work: Callable[[], str]) -> Response:
    """The kept answer, or the one that the desk computes when it is its turn."""
    desk().announce(body.tab, body.edit)
    text = _stored(body, key, kind)
    if text is None:
        try:
            text = desk().run(body.tab, body.edit, work)
        except Superseded:
            return _superseded()
        _keep(body, key, kind, text)
    return _answer(text, body.edit, key)


@simulations.post("/week", responses={200: WeekAnswer, 204: None})
def simulate_week(body: SimulationBody) -> Response:
    """Simulate one week of a pool: its picture and figures."""
    plan, case, key = _read(body)
    check_amount(case, 1)

    def work() -> str:
        result = week(case, SEED, record=True)
        desk().weeks.put(key, Kept(case, result))
        return _body(week_answer(plan, case, result)).decode()

    return _computed(body, key, WEEK, work)


@simulations.post("/range", responses={200: RangeAnswer, 204: None})
def simulate_range(body: RangeBody) -> Response:
    """Simulate several weeks of a pool: figures with 95 % intervals."""
    plan, case, key = _read(body, body.days)
    kind = f"range {body.seeds}"

    def work() -> str:
        results = weeks(
            case,
            range(SEED, SEED + body.seeds),
            wanted=lambda: kept.wanted(body.tab, body.edit),
        )
        if not results:
            raise Superseded
        return _body(range_answer(plan, case, results)).decode()

    kept = desk()
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
    kept = desk().weeks.get(path.input_hash)
    if kept is None:
        return _forgotten()
    body = _body(lanes_answer(kept.week, query.start, query.end))
    response = make_response(body)
    response.mimetype = "application/json"
    return response


@simulations.get("/<input_hash>/waiters", responses={200: WaitersAnswer, **described(404)})
def read_waiters(path: ResultPath, query: WindowQuery) -> Response:
    """People who did not have a desktop at once, in a window of a simulated week."""
    kept = desk().weeks.get(path.input_hash)
    if kept is None:
        return _forgotten()
    comers = kept.case.demand.comers
    names = [""] * (max((comer.group_index for comer in comers), default=-1) + 1)
    for comer in comers:
        names[comer.group_index] = comer.group.id
    response = make_response(_body(waiters_answer(names, kept.week, query.start, query.end)))
    response.mimetype = "application/json"
    return response
