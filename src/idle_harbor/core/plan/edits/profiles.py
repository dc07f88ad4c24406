"""Workload profiles: one more like another."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from idle_harbor.core.errors import UnknownNameError
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.declare import Id
from idle_harbor.core.plan.edits.finding import must_be_free


@dataclass(frozen=True, slots=True)
class CopyProfile:
    """Put a copy of a workload profile beside it, for groups that are given it later."""

    verb: Literal["copy-profile"]
    profile: Id
    new: Id

    def done(self, plan: Plan) -> Plan:
        """The plan with both; nobody has measured the copy."""
        names = [profile.id for profile in plan.profiles]
        if self.profile not in names:
            raise UnknownNameError("profile", self.profile, names)
        must_be_free(self.new, names, "/profiles", "a profile")
        like = plan.profiles[names.index(self.profile)]
        return replace(plan, profiles=(*plan.profiles, replace(like, id=self.new, measured=None)))
