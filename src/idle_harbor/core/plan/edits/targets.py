"""Targets of a day: add and remove."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from idle_harbor.core.errors import Fault, PlanError, UnknownNameError
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.declare import Clock, Id, clock_text
from idle_harbor.core.plan.edits.finding import with_day_type
from idle_harbor.core.plan.schedules import DayType, ReadyBy


@dataclass(frozen=True, slots=True)
class AddTarget:
    """Add a target for the start of the band with the highest floor, for that many hosts."""

    verb: Literal["add-target"]
    schedule: Id
    day_type: Id

    def done(self, plan: Plan) -> Plan:
        """Return the plan with one more target."""

        def add(day_type: DayType) -> DayType:
            taken = {target.at for target in day_type.ready_by}
            free = [band for band in day_type.bands if band.start not in taken]
            if not free:
                raise PlanError(
                    [
                        Fault(
                            "/schedules",
                            "every band has its hosts ready by its beginning",
                            "change one of these",
                        )
                    ]
                )
            band = max(free, key=lambda each: (each.floor, each.floor_share))
            target = ReadyBy(band.start, max(band.floor, 1), band.floor_share)
            targets = sorted((*day_type.ready_by, target), key=lambda each: each.at)
            return replace(day_type, ready_by=tuple(targets))

        return with_day_type(plan, self.schedule, self.day_type, add)


@dataclass(frozen=True, slots=True)
class RemoveTarget:
    """Remove a target."""

    verb: Literal["remove-target"]
    schedule: Id
    day_type: Id
    at: Clock

    def done(self, plan: Plan) -> Plan:
        """Return the plan without it."""

        def remove(day_type: DayType) -> DayType:
            at, times = clock_text(self.at), [clock_text(each.at) for each in day_type.ready_by]
            if at not in times:
                raise UnknownNameError("ready-by time", at, times)
            left = tuple(each for each in day_type.ready_by if clock_text(each.at) != at)
            return replace(day_type, ready_by=left)

        return with_day_type(plan, self.schedule, self.day_type, remove)
