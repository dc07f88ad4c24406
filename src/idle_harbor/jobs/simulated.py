"""Long work that simulates: years, many weeks, all pools, checks, kinds of desktop."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from typing import Any

from idle_harbor.core.checks import Checked, found_at, steps_of
from idle_harbor.core.checks.finding import Finding
from idle_harbor.core.demand.crowd import (
    check_crowd,
    crowd_horizon,
    crowd_of,
    hours_of,
    stretches_of,
)
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.lookup import find_pool
from idle_harbor.core.weeks.kinds import KINDS as DESKTOPS
from idle_harbor.core.weeks.kinds import kind_of_group
from idle_harbor.core.weeks.side_by_side import amount_for, view_of_pool
from idle_harbor.core.weeks.week import Case, case_of, check_amount, week
from idle_harbor.core.weeks.years import mondays_of, week_of_year
from idle_harbor.formats.plan.codec import plan_of
from idle_harbor.formats.reports.outcomes import as_values, from_values, told_figures
from idle_harbor.jobs.kind import Input, Kind, Part

#: The seed that pictures show.
_SEED = 1


def _year(given: Input) -> Part:
    plan, pool, mondays = plan_of(given["plan"]), given["pool"], mondays_of(given["year"])
    return lambda number: as_values(week_of_year(plan, pool, mondays[number]))


def range_case(given: Input) -> tuple[Plan, Case]:
    """The plan and the case of a range's input."""
    first, plan = given["first"] and date.fromisoformat(given["first"]), plan_of(given["plan"])
    return plan, case_of(plan, given["pool"], first=first, days=given["days"])


def _range(given: Input) -> Part:
    _, case = range_case(given)
    check_amount(case, 1)
    return lambda number: as_values(week(case, number + 1).outcome())


def _range_whole(given: Input, parts: Sequence[Any]) -> Any:
    return told_figures(range_case(given)[1], parts)


def _found(plan: Plan) -> Part:
    steps = steps_of(plan)

    def part(number: int) -> list[dict[str, Any]]:
        found = found_at(plan, steps[number])
        return [{"family": each.family.id, "finding": as_values(each.finding)} for each in found]

    return part


def found_in(plan: Plan, parts: Sequence[Sequence[Mapping[str, Any]]]) -> list[Checked]:
    """What the parts of a check of a plan found."""
    families = {family.id: family for family, _ in steps_of(plan)}
    return [
        Checked(families[each["family"]], from_values(Finding, each["finding"]))
        for part in parts
        for each in part
    ]


def _pools(given: Input) -> Part:
    """Each pool, and then each step of the plan's checks."""
    plan = plan_of(given["plan"])
    amount, found = amount_for(plan), _found(plan)

    def part(number: int) -> Any:
        if number < len(plan.pools):
            return as_values(view_of_pool(plan, plan.pools[number], amount))
        return found(number - len(plan.pools))

    return part


def _desktops(given: Input) -> Part:
    plan, group = plan_of(given["plan"]), given["group"]
    pool = find_pool(plan, given["pool"])
    return lambda number: as_values(kind_of_group(plan, pool, group, DESKTOPS[number]))


def _crowd(given: Input) -> Part:
    """Presence over many days, a stretch of them each."""
    plan, zone = plan_of(given["plan"]), given["zone"]
    stretches = stretches_of(date.fromisoformat(given["first"]), given["days"])

    def part(number: int) -> list[dict[str, Any]]:
        first, many = stretches[number]
        horizon = crowd_horizon(zone, first, many)
        check_crowd(plan, horizon)
        return [as_values(each) for each in hours_of(crowd_of(plan, horizon, _SEED))]

    return part


SIMULATED = (
    Kind("year", _year),
    Kind("range", _range, whole=_range_whole),
    Kind("pools", _pools),
    Kind("checks", lambda given: _found(plan_of(given["plan"]))),
    Kind("desktops", _desktops),
    Kind("crowd", _crowd),
)
