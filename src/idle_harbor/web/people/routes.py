"""Who comes, when and to what: pictures of a plan's people, and changes of its groups."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import asdict, replace
from typing import Any

import numpy as np
from flask import Response

from idle_harbor.core.calendar.clock import Horizon, week_start, zone_exists
from idle_harbor.core.calendar.occasions import countries
from idle_harbor.core.demand.crowd import (
    BAND,
    DayHours,
    affordable_seeds,
    check_crowd,
    check_drawn,
    crowd_horizon,
    crowd_of,
    weeks_over,
)
from idle_harbor.core.demand.draws import SHOWN_SEED
from idle_harbor.core.demand.pattern_picture import pattern_picture
from idle_harbor.core.demand.regroup import merge_groups, split_group
from idle_harbor.core.errors import Fault, PlanError, UnknownNameError
from idle_harbor.core.figures.intervals import estimate, percentile
from idle_harbor.core.plan import Headcount, Pattern, Plan
from idle_harbor.core.plan.lookup import find_group, find_pool
from idle_harbor.formats.calendar.days import calendar_days
from idle_harbor.formats.plan.codec import Sent, checked, edited
from idle_harbor.formats.reports.figures import estimate_values
from idle_harbor.formats.tables.assigned import assigned_from, read_list
from idle_harbor.jobs.kinds.crowd import CROWD, ManyDays
from idle_harbor.store.directories import Directories
from idle_harbor.store.directory import Directory
from idle_harbor.web.people.answers import crowd_answer, pattern_answer, year_days
from idle_harbor.web.people.models import (
    AssignedBody,
    CalendarAnswer,
    CalendarBody,
    CountriesAnswer,
    CrowdAnswer,
    CrowdBody,
    CrowdRangeAnswer,
    CrowdRangeBody,
    CrowdYearAnswer,
    CrowdYearPart,
    ListQuery,
    PatternAnswer,
    PatternBody,
    RegroupBody,
    SplitBody,
)
from idle_harbor.web.shared.asked import (
    computed,
    database,
    json_response,
)
from idle_harbor.web.shared.bodies import checked_body, input_hash
from idle_harbor.web.shared.jobs import asker
from idle_harbor.web.shared.long import LongAnswer
from idle_harbor.web.shared.models import ChangedPlan, JobPath, SinceQuery
from idle_harbor.web.shared.problems import described
from idle_harbor.web.shared.view import view

people = view("people")

_HIGH = 0.95


def _read(body: CrowdBody) -> tuple[Sent, Plan, Horizon]:
    """What was sent, the plan with what is asked of it done, and the days."""
    sent = checked_body(body)
    plan = sent.plan if body.what_if is None else checked(body.what_if.done(sent.plan))
    zone = body.zone or (plan.sites[0].time_zone if plan.sites else "UTC")
    if not zone_exists(zone):
        raise PlanError(
            [
                Fault(
                    "",
                    f"'{zone}' is not a time zone that is known here",
                    "use an IANA name such as Europe/Dublin",
                )
            ]
        )
    return sent, plan, crowd_horizon(zone, body.first or week_start(plan.week_of), body.days)


def _named(kind: str, body: CrowdBody, sent: Sent, horizon: Horizon) -> str:
    begin = str(horizon.counted_dates[0])
    return input_hash(
        sent,
        kind=kind,
        zone=horizon.time_zone,
        first=begin,
        days=horizon.days,
        what_if=None if body.what_if is None else asdict(body.what_if),
    )


@people.post("/crowd", responses={200: CrowdAnswer, 204: None})
def read_crowd(body: CrowdBody) -> Response:
    """Who is at work over some days, by group: seed 1."""
    sent, plan, horizon = _read(body)
    check_crowd(plan, horizon)
    check_drawn(plan, horizon)
    key = _named("week", body, sent, horizon)
    return computed(
        "people",
        body,
        key,
        lambda: crowd_answer(plan, crowd_of(plan, horizon, SHOWN_SEED)),
        urgent=True,
    )


@people.post("/range", responses={200: CrowdRangeAnswer, 204: None})
def read_range(body: CrowdRangeBody) -> Response:
    """The peak over several seeds: fewer than asked for where the plan is very large."""
    sent, plan, horizon = _read(body)
    seeds = affordable_seeds(plan, horizon, body.seeds)

    def work() -> dict[str, Any]:
        weeks = weeks_over(plan, horizon, range(SHOWN_SEED, SHOWN_SEED + seeds))
        high = percentile(weeks.peaks, _HIGH)
        return {
            "seeds": seeds,
            "peak": estimate_values(estimate(weeks.peaks)),
            "percentile": _HIGH,
            "high": high.value,
            "high_from": high.low,
            "high_to": high.high,
            "band": None
            if weeks.low is None or weeks.high is None
            else {
                "share": BAND,
                "low": np.round(weeks.low, 1).tolist(),
                "high": np.round(weeks.high, 1).tolist(),
            },
        }

    return computed("people", body, _named(f"range {seeds}", body, sent, horizon), work)


@people.post("/year", responses={200: CrowdYearAnswer, 204: None})
def read_people_of_year(body: CrowdBody) -> Response:
    """The highest presence of every hour over many days, for a heat map: seed 1."""
    sent, plan, horizon = _read(body)
    check_crowd(plan, horizon)
    key = _named("year", body, sent, horizon)
    return computed("people", body, key, lambda: _YEAR.at_once(_days(plan, horizon)))


@people.post("/year/parts", responses={200: CrowdYearPart, 204: None})
def read_year_in_parts(body: CrowdBody) -> Response:
    """The same, a line of JSON for each stretch of days as it gets done; the last has the whole.

    Of many people the only line has the job that draws them.
    """
    _, plan, horizon = _read(body)
    return _YEAR.in_parts(body, _days(plan, horizon), asker(body, "people", show="year"))


@people.get("/year/parts/<int:job_id>", responses={200: CrowdYearPart, **described(404, 409, 503)})
def read_year_so_far(path: JobPath, query: SinceQuery) -> Response:
    """How far a job that draws a year is; in the end the whole."""
    return _YEAR.so_far(path.job_id, query.since)


def _days(plan: Plan, horizon: Horizon) -> ManyDays:
    return ManyDays(plan, horizon.time_zone, horizon.counted_dates[0], horizon.days)


def _tell_year(
    asked: Callable[[], ManyDays], found: Mapping[int, list[DayHours]], whole: bool
) -> dict[str, Any]:
    if not whole:
        return {}
    days = [day for stretch in found.values() for day in stretch]
    return {"answer": {"zone": asked().time_zone, "days": year_days(asked().plan, days)}}


_YEAR = LongAnswer(CROWD, "people", _tell_year)


def _pattern(plan: Plan, group_id: str, pattern_id: str) -> Pattern:
    group = find_group(plan, group_id)
    patterns = group.demand.patterns if isinstance(group.demand, Headcount) else ()
    for pattern in patterns:
        if pattern.id == pattern_id:
            return pattern
    raise UnknownNameError("pattern", pattern_id, [pattern.id for pattern in patterns])


@people.post("/pattern", responses={200: PatternAnswer})
def read_pattern(body: PatternBody) -> Response:
    """A working day of one pattern, as a picture."""
    plan = checked_body(body).plan
    pattern = _pattern(plan, body.group, body.pattern)
    return json_response(pattern_answer(pattern, pattern_picture(pattern)))


@people.post("/regroup", responses={200: ChangedPlan})
def regroup(body: RegroupBody) -> Response:
    """Split or merge groups of a plan; the plan comes back changed."""
    plan = checked_body(body).plan
    change = body.change
    if isinstance(change, SplitBody):
        changed = split_group(plan, change.group, change.people, change.new)
    else:
        changed = merge_groups(plan, change.groups, change.new)
    return json_response({"plan": edited(changed)})


@people.post("/assigned", responses={200: ChangedPlan, **described(404, 503)})
def take_list(query: ListQuery, body: AssignedBody) -> Response:
    """Put a list of people and hosts into a dedicated pool; the plan comes back changed."""
    plan = checked_body(body).plan
    rows = read_list(body.text)
    named = {row.group for row in rows}
    follows = {
        group.id: group.demand.follows
        for group in plan.groups
        if group.id in named and isinstance(group.demand, Headcount) and group.demand.follows
    }
    found = Directories(database()).of_plan(query.plan) if query.plan else None
    places = {}
    if found is not None:
        held = Directory(database(), found)
        places = {
            name: {key: place for place, key in enumerate(held.keys(group), start=1)}
            for name, group in follows.items()
        }
    pool = find_pool(plan, body.pool)
    listed = replace(pool, kind="dedicated", assigned=tuple(assigned_from(rows, places)))
    pools = tuple(listed if each is pool else each for each in plan.pools)
    return json_response({"plan": edited(replace(plan, pools=pools))})


@people.get("/countries", responses={200: CountriesAnswer})
def read_countries() -> Response:
    """Countries whose public holidays are known."""
    return json_response(
        {"countries": {code: list(regions) for code, regions in countries().items()}}
    )


@people.post("/calendar", responses={200: CalendarAnswer})
def read_calendar(body: CalendarBody) -> Response:
    """Dates that an iCalendar file names between two dates, for a site's own holidays."""
    days, skipped = calendar_days(body.text, body.first, body.last)
    named = [{"day": day.day, "name": day.name} for day in days]
    return json_response({"days": named, "skipped": skipped})
