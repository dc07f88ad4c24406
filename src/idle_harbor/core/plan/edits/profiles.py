"""Workload profiles: add a measured one, or fill one with what a class of users draws."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

from idle_harbor.core.errors import UnknownNameError
from idle_harbor.core.plan import Plan, Profile
from idle_harbor.core.plan.classes import UserClass, as_class
from idle_harbor.core.plan.declare import Id
from idle_harbor.core.plan.edits.finding import must_be_free


def _named(plan: Plan, name: str) -> Profile:
    names = [profile.id for profile in plan.profiles]
    if name not in names:
        raise UnknownNameError("profile", name, names)
    return plan.profiles[names.index(name)]


@dataclass(frozen=True, slots=True)
class SetClass:
    """Fill a workload profile with what a class of users draws: CPU, memory and logon."""

    verb: Literal["set-class"]
    profile: Id
    user: UserClass

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the filled profile; raises UnknownNameError without it."""
        old = _named(plan, self.profile)
        filled = tuple(as_class(each, self.user) if each is old else each for each in plan.profiles)
        return replace(plan, profiles=filled)


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
