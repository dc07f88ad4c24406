"""What kinds of long work there are: into which parts each falls, and what becomes of them.

A part is worked out of the job's input and its number alone, so that any process may do it, and
doing it twice gives the same. Input, parts and result are values that JSON can hold.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import date
from typing import Any, TypeAlias

from idle_harbor.core.weeks import case_of, check_amount, week
from idle_harbor.core.years import mondays_of, week_of_year
from idle_harbor.formats.plan.codec import plan_of
from idle_harbor.formats.reports.outcomes import outcome_values, outcomes_of, told_figures

Input: TypeAlias = Mapping[str, Any]
#: What works out one part by its number.
Part: TypeAlias = Callable[[int], Any]


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of job: how many parts an input has, what works them out once the input is read, and
    the result of all of them in order."""

    name: str
    parts: Callable[[Input], int]
    open: Callable[[Input], Part]
    whole: Callable[[Input, Sequence[Any]], Any]


def _year_part(given: Input) -> Part:
    plan, pool, mondays = plan_of(given["plan"]), given["pool"], mondays_of(given["year"])

    def part(number: int) -> dict[str, Any]:
        found = asdict(week_of_year(plan, pool, mondays[number]))
        return {**found, "first": found["first"].isoformat()}

    return part


def _range_part(given: Input) -> Part:
    first = given["first"] and date.fromisoformat(given["first"])
    case = case_of(plan_of(given["plan"]), given["pool"], first=first, days=given["days"])
    check_amount(case, 1)
    return lambda number: outcome_values(week(case, number + 1).outcome())


def _range_whole(given: Input, parts: Sequence[Any]) -> Any:
    first = given["first"] and date.fromisoformat(given["first"])
    case = case_of(plan_of(given["plan"]), given["pool"], first=first, days=given["days"])
    return told_figures(case, outcomes_of(parts))


KINDS: dict[str, Kind] = {
    kind.name: kind
    for kind in (
        Kind("year", lambda given: len(mondays_of(given["year"])), _year_part,
             lambda given, parts: {"weeks": list(parts)}),
        Kind("range", lambda given: int(given["seeds"]), _range_part, _range_whole),
    )
}  # fmt: skip
