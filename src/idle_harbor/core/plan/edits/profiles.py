"""Workload profiles: add a measured one."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from idle_harbor.core.errors import UnknownNameError
from idle_harbor.core.plan import Plan, Profile
from idle_harbor.core.plan.edits.finding import must_be_free


def _named(plan: Plan, name: str) -> Profile:
    names = [profile.id for profile in plan.profiles]
    if name not in names:
        raise UnknownNameError("profile", name, names)
    return plan.profiles[names.index(name)]


def with_measured(plan: Plan, like: str, new: str, measure: Callable[[Profile], Profile]) -> Plan:
    """Return the plan with a measured profile beside the original, and its groups on it.

    ``like`` and ``new`` are the names of the two profiles. Raises UnknownNameError without a
    profile ``like``, PlanError if ``new`` exists.
    """
    old = _named(plan, like)
    must_be_free(new, [profile.id for profile in plan.profiles], "/profiles", "a profile")
    measured = replace(measure(old), id=new)
    groups = tuple(
        replace(group, profile=new) if group.profile == like else group for group in plan.groups
    )
    return replace(plan, profiles=(*plan.profiles, measured), groups=groups)
