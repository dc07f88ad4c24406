"""What would make a build or a morning fail: one file per family of checks.

A new family is a file with a ``FAMILY`` of its own and its name in ``FAMILIES``.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import TypeAlias

from idle_harbor.core.base.stopping import go_on
from idle_harbor.core.checks import capacity, complete, fit, people, places, promise, schedules
from idle_harbor.core.checks.finding import Family, Finding
from idle_harbor.core.plan import Plan

FAMILIES: tuple[Family, ...] = (
    people.FAMILY,
    promise.FAMILY,
    capacity.FAMILY,
    schedules.FAMILY,
    fit.FAMILY,
    places.FAMILY,
    complete.FAMILY,
)
_ORDER = {"harm": 0, "doubt": 1}


@dataclass(frozen=True, slots=True)
class Checked:
    """A finding and the family that found it."""

    family: Family
    finding: Finding


@dataclass(frozen=True, slots=True)
class Looked:
    """So many steps of a check of a plan are done of so many; what this one found."""

    done: int
    of: int
    found: list[Checked]


#: A step of a check of a plan: a family over the plan, or over its pool at a place.
Step: TypeAlias = tuple[Family, int | None]


def steps_of(plan: Plan) -> list[Step]:
    """Every family over the plan, then over each of its pools."""
    steps: list[Step] = [(family, None) for family in FAMILIES]
    for place in range(len(plan.pools)):
        steps += [(family, place) for family in FAMILIES if family.find_in_pool is not None]
    return steps


def found_at(plan: Plan, step: Step) -> list[Checked]:
    """What a step finds; raises NotWantedError where it is given up between weeks."""
    family, place = step
    if place is None:
        found = family.find(plan)
    else:
        assert family.find_in_pool is not None
        found = family.find_in_pool(plan, place)
    return [Checked(family, each) for each in found]


def look(plan: Plan) -> Iterator[Looked]:
    """All steps, one at a time; raises NotWantedError once nobody waits for it."""
    steps = steps_of(plan)
    for done, step in enumerate(steps, start=1):
        go_on()
        yield Looked(done, len(steps), found_at(plan, step))


def in_order(found: Iterable[Checked]) -> list[Checked]:
    """The harmful first, families in their order."""
    by_family = sorted(found, key=lambda each: FAMILIES.index(each.family))
    return sorted(by_family, key=lambda each: _ORDER[each.finding.severity])


def findings_of(plan: Plan) -> list[Checked]:
    """Everything that any family finds, the harmful first, families in their order."""
    return in_order(each for step in look(plan) for each in step.found)
