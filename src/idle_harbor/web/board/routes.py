"""Simulations of plans as they stand on a page, and what can be asked about a simulated week."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from flask import Response

from idle_harbor.core.base.stopping import go_on
from idle_harbor.core.demand.draws import SHOWN_SEED
from idle_harbor.core.plan import Plan
from idle_harbor.core.weeks.case import DAYS, Case, case_of, check_amount
from idle_harbor.core.weeks.week import Outcome, week, weeks
from idle_harbor.core.weeks.years import WeekOfYear
from idle_harbor.formats.reports.figures import values_of
from idle_harbor.jobs.asking import LOOKED_AT
from idle_harbor.jobs.kinds.weeks import RANGE, ManyWeeks
from idle_harbor.jobs.kinds.year import YEAR, PoolYear
from idle_harbor.web.board.answers import lanes_answer, range_answer, waiters_answer, week_answer
from idle_harbor.web.board.models import (
    LanesAnswer,
    LongRangeBody,
    RangeAnswer,
    RangeBody,
    RangePart,
    ResultPath,
    SimulationBody,
    WaitersAnswer,
    WeekAnswer,
    WeekBody,
    WindowBody,
    WindowQuery,
    YearOfWeeksBody,
    YearPart,
)
from idle_harbor.web.shared.asked import (
    announced,
    at_desk,
    computed,
    desk,
    json_response,
    nothing,
    wanted_by,
)
from idle_harbor.web.shared.bodies import checked_body, input_hash
from idle_harbor.web.shared.desk import KeptWeek
from idle_harbor.web.shared.jobs import asker
from idle_harbor.web.shared.long import LongAnswer
from idle_harbor.web.shared.models import JobPath, SinceQuery
from idle_harbor.web.shared.problems import described, problem
from idle_harbor.web.shared.view import view

board = view("board", "simulations")


def _read(body: SimulationBody, days: int = DAYS) -> tuple[Plan, Case, str]:
    sent = checked_body(body)
    case = case_of(sent.plan, body.pool, first=body.first, days=days)
    begin = str(case.horizon.counted_dates[0])
    return sent.plan, case, input_hash(sent, pool=body.pool, first=begin, days=days)


@board.post("/week", responses={200: WeekAnswer, 204: None})
def simulate_week(body: WeekBody) -> Response:
    """Simulate one week of a pool: its picture and figures."""
    announced("board", body)
    plan, case, key = _read(body)
    check_amount(case, 1)
    kept = desk()

    def work() -> dict[str, Any]:
        result = week(case, SHOWN_SEED, record=not body.preview)
        go_on()
        if not body.preview:
            kept.keep_week(key, case, result)
        return week_answer(plan, case, result, body.day if body.preview else None)

    # A picture is whole only with the week that its lanes and waits are asked of.
    whole = body.preview or kept.week(key) is not None
    return computed(
        "board",
        body,
        key,
        work,
        kind="week",
        whole=whole,
        keeps=not body.preview,
        urgent=body.preview,
    )


@board.post("/range", responses={200: RangeAnswer, 204: None})
def simulate_range(body: RangeBody) -> Response:
    """Simulate several weeks of a pool: figures with 95 % intervals."""
    plan, case, key = _read(body, body.days)

    def work() -> dict[str, Any]:
        results = weeks(case, range(SHOWN_SEED, SHOWN_SEED + body.seeds))
        return range_answer(plan, case, results)

    return computed("board", body, key, work, kind=f"range {body.seeds}", saved=body.saved)


@board.post("/range/long", responses={200: RangePart, **described(429, 503)})
def ask_for_range(body: LongRangeBody) -> Response:
    """Have many weeks of a pool simulated: the job that does it."""
    plan, case, _ = _read(body, body.days)
    check_amount(case, 1)
    asked = ManyWeeks(plan, body.pool, body.seeds, body.first, body.days)
    return _RANGE.as_job(asked, asker(body, "board", pool=body.pool), LOOKED_AT)


@board.get("/range/long/<int:job_id>", responses={200: RangePart, **described(404, 409, 503)})
def read_range_so_far(path: JobPath) -> Response:
    """Figures over all the weeks that a job has done so far."""
    return _RANGE.so_far(path.job_id)


def _tell_range(
    asked: Callable[[], ManyWeeks], found: Mapping[int, Outcome], whole: bool
) -> dict[str, Any]:
    if not found:
        return {}
    answer = range_answer(asked().plan, asked().case, list(found.values()))
    return {"answer" if whole else "so_far": answer}


_RANGE = LongAnswer(RANGE, "board", _tell_range, anew=True)


@board.post("/year", responses={200: YearPart, **described(429, 503)})
def ask_for_year(body: YearOfWeeksBody) -> Response:
    """Have every week of a pool's year simulated; the same asked again is the same job."""
    plan = checked_body(body).plan
    check_amount(case_of(plan, body.pool), 1)
    by = asker(body, "board", pool=body.pool, weeks=body.year)
    return _YEAR.in_parts(body, PoolYear(plan, body.pool, body.year), by)


@board.get("/year/<int:job_id>", responses={200: YearPart, **described(404, 409, 503)})
def read_year(path: JobPath, query: SinceQuery) -> Response:
    """The weeks of a year that are done and were not told before."""
    return _YEAR.so_far(path.job_id, query.since)


def _tell_year(
    _: Callable[[], PoolYear], found: Mapping[int, WeekOfYear], whole: bool
) -> dict[str, Any]:
    weeks = [values_of(each) for each in found.values()]
    if whole:
        return {"answer": {"weeks": weeks}}
    return {"places": list(found), "weeks": weeks}


_YEAR = LongAnswer(YEAR, "board", _tell_year)


def _forgotten() -> Response:
    return problem(
        "forgotten",
        404,
        "This week is no longer in memory",
        "the details of a simulated week are kept for a while only",
        "ask with the plan",
    )


@board.get("/<input_hash>/lanes", responses={200: LanesAnswer, **described(404)})
def read_lanes(path: ResultPath, query: WindowQuery) -> Response:
    """Host lanes of a simulated week in a window, as lists of changes, with their causes."""
    kept = desk().week(path.input_hash)
    if kept is None:
        return _forgotten()
    return json_response(lanes_answer(kept.week, query.start, query.end))


@board.post("/lanes", responses={200: LanesAnswer, 204: None})
def simulate_lanes(body: WindowBody) -> Response:
    """The same, where the week is not in this server's memory: it is simulated anew."""
    kept = _again(body)
    return (
        nothing() if kept is None else json_response(lanes_answer(kept.week, body.start, body.end))
    )


@board.post("/waiters", responses={200: WaitersAnswer, 204: None})
def simulate_waiters(body: WindowBody) -> Response:
    """People who did not have a desktop at once, where the week is not in this server's memory."""
    kept = _again(body)
    return (
        nothing()
        if kept is None
        else json_response(waiters_answer(kept.case, kept.week, body.start, body.end))
    )


def _again(body: WindowBody) -> KeptWeek | None:
    """A week as it was simulated before, from memory or anew; None where nobody waits for it."""
    _, case, key = _read(body)
    check_amount(case, 1)
    kept = desk()
    found = kept.week(key)
    if found is None:
        result = at_desk(wanted_by(), lambda: week(case, SHOWN_SEED, record=True))
        if result is None:
            return None
        kept.keep_week(key, case, result)
        found = KeptWeek(case, result)
    return found


@board.get("/<input_hash>/waiters", responses={200: WaitersAnswer, **described(404)})
def read_waiters(path: ResultPath, query: WindowQuery) -> Response:
    """People who did not have a desktop at once, in a window of a simulated week."""
    kept = desk().week(path.input_hash)
    if kept is None:
        return _forgotten()
    return json_response(waiters_answer(kept.case, kept.week, query.start, query.end))
