"""What would make a build or a morning fail: one file per family of checks.

A new family is a file with a ``FAMILY`` of its own and its name in ``FAMILIES``.
"""

from __future__ import annotations

from dataclasses import dataclass

from idle_harbor.core.checks import capacity, fit, people, places
from idle_harbor.core.checks.finding import Family, Finding
from idle_harbor.core.plan import Plan

FAMILIES: tuple[Family, ...] = (people.FAMILY, capacity.FAMILY, fit.FAMILY, places.FAMILY)
_ORDER = {"harm": 0, "doubt": 1}


@dataclass(frozen=True, slots=True)
class Checked:
    """A finding and the family that found it."""

    family: Family
    finding: Finding


def findings_of(plan: Plan) -> list[Checked]:
    """Everything that any family finds, the harmful first, families in their order."""
    found = [Checked(family, each) for family in FAMILIES for each in family.find(plan)]
    return sorted(found, key=lambda each: _ORDER[each.finding.severity])
