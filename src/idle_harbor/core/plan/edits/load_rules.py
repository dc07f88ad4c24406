"""Load rules of a schedule: add, remove, change the signal."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from idle_harbor.core.errors import UnknownNameError
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.declare import Clock, Id
from idle_harbor.core.plan.edits.finding import day_type_named, free_name, place_of, with_schedule
from idle_harbor.core.plan.load_rules import LoadRule, Signal
from idle_harbor.core.plan.schedules import Band, DayType, Schedule

#: Default marks by signal: where a rule asks for hosts, and where it permits release.
_BEGINS: dict[Signal, tuple[float, float]] = {
    "cpu": (0.8, 0.4),
    "memory": (0.85, 0.5),
    "slots in use": (0.8, 0.5),
    "free slots": (10.0, 30.0),
    "sessions per host": (8.0, 4.0),
    "strained work": (0.1, 0.02),
    "logon time": (60.0, 30.0),
    "people waiting": (1.0, 0.5),
    "people at work": (100.0, 50.0),
    "logons in progress": (10.0, 3.0),
    "idle sessions": (50.0, 20.0),
    "disconnected sessions": (50.0, 20.0),
    "hosts draining": (5.0, 1.0),
    "hosts without credits": (1.0, 0.5),
    "network": (500.0, 200.0),
}


@dataclass(frozen=True, slots=True)
class AddLoadRule:
    """Add a load rule for a signal, active in one band of a day type."""

    verb: Literal["add-load-rule"]
    schedule: Id
    day_type: Id
    band: Clock
    signal: Signal

    def done(self, plan: Plan) -> Plan:
        """Return the plan with one more load rule."""

        def add(schedule: Schedule) -> Schedule:
            taken = [rule.id for rule in schedule.load_rules]
            name = free_name(self.signal.replace(" ", "-"), taken)
            asks, permits = _BEGINS[self.signal]
            rule = LoadRule(name, self.signal, asks_at=asks, permits_at=permits)
            kind = day_type_named(schedule, self.day_type)
            bands = list(kind.bands)
            place = place_of(kind.bands, self.band)
            bands[place] = replace(bands[place], load_rules=(*bands[place].load_rules, name))
            now = replace(kind, bands=tuple(bands))
            kinds = tuple(now if each is kind else each for each in schedule.day_types)
            return replace(schedule, day_types=kinds, load_rules=(*schedule.load_rules, rule))

        return with_schedule(plan, self.schedule, add)


@dataclass(frozen=True, slots=True)
class RemoveLoadRule:
    """Remove a load rule from the schedule and from all bands."""

    verb: Literal["remove-load-rule"]
    schedule: Id
    rule: Id

    def done(self, plan: Plan) -> Plan:
        """Return the plan without it."""

        def without(band: Band) -> Band:
            return replace(band, load_rules=tuple(n for n in band.load_rules if n != self.rule))

        def less(kind: DayType) -> DayType:
            return replace(kind, bands=tuple(map(without, kind.bands)))

        def remove(schedule: Schedule) -> Schedule:
            known = [rule.id for rule in schedule.load_rules]
            if self.rule not in known:
                raise UnknownNameError("load rule", self.rule, known)
            left = tuple(rule for rule in schedule.load_rules if rule.id != self.rule)
            return replace(
                schedule, day_types=tuple(map(less, schedule.day_types)), load_rules=left
            )

        return with_schedule(plan, self.schedule, remove)


@dataclass(frozen=True, slots=True)
class SetSignal:
    """Change the signal of a load rule; its marks get defaults, because they are in the signal's
    unit."""

    verb: Literal["set-signal"]
    schedule: Id
    rule: Id
    signal: Signal

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the marks that the rule had, at defaults of the new signal."""
        asks, permits = _BEGINS[self.signal]

        def told(rule: LoadRule) -> LoadRule:
            if rule.id != self.rule:
                return rule
            return replace(
                rule,
                signal=self.signal,
                asks_at=None if rule.asks_at is None else asks,
                permits_at=None if rule.permits_at is None else permits,
            )

        def change(schedule: Schedule) -> Schedule:
            known = [rule.id for rule in schedule.load_rules]
            if self.rule not in known:
                raise UnknownNameError("load rule", self.rule, known)
            return replace(schedule, load_rules=tuple(map(told, schedule.load_rules)))

        return with_schedule(plan, self.schedule, change)
