"""Everything that would go wrong with a plan."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from idle_harbor.core.checks import FAMILIES, Checked, found_at, steps_of
from idle_harbor.core.checks.finding import Finding
from idle_harbor.core.plan import Plan
from idle_harbor.core.sizing.peak import check_all_sizings
from idle_harbor.formats.plan.codec import plan_of, to_values
from idle_harbor.jobs.asking import BESIDE, LongQuestion
from idle_harbor.jobs.kind import Input

#: Spells in a week of all pools beyond which the checks take longer than a second.
MOST_AT_ONCE = 100_000


@dataclass(frozen=True, slots=True)
class Found:
    """A finding, and the name of the family that found it."""

    family: str
    finding: Finding


def checked_in(found: Iterable[Sequence[Found]]) -> list[Checked]:
    """What the steps of a check have found, with the families."""
    families = {family.id: family for family in FAMILIES}
    return [Checked(families[each.family], each.finding) for step in found for each in step]


def step_of(plan: Plan) -> Callable[[int], list[Found]]:
    """What works out the steps of a check of a plan by their numbers."""
    steps = steps_of(plan)

    def part(number: int) -> list[Found]:
        return [Found(each.family.id, each.finding) for each in found_at(plan, steps[number])]

    return part


def written(plan: Plan) -> dict[str, Any]:
    """The input of a question about a plan alone."""
    return {"plan": to_values(plan)}


def plan_in(given: Input) -> Plan:
    """The plan of such an input."""
    return plan_of(given["plan"])


CHECKS: LongQuestion[Plan, list[Found]] = LongQuestion(
    name="checks",
    title=lambda plan: f"{plan.name}: checks",
    write=written,
    read=plan_in,
    parts=lambda plan: len(steps_of(plan)),
    open=step_of,
    value=list[Found],
    short=lambda plan: check_all_sizings(plan) <= MOST_AT_ONCE,
    priority=BESIDE,
)
