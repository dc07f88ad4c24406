"""What cannot be about load rules: marks on the wrong side of each other, and
names that are not there."""

from __future__ import annotations

from collections.abc import Iterator

from idle_harbor.core.errors import Fault
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.load_rules import LoadRule
from idle_harbor.core.rules.wording import missing, repeated


def load_rule_faults(plan: Plan) -> Iterator[Fault]:
    """Everything that is wrong about the load rules of the plan's schedules."""
    for s, schedule in enumerate(plan.schedules):
        base = f"/schedules/{s}/load_rules"
        known = [rule.id for rule in schedule.load_rules]
        yield from repeated(base, known)
        for r, rule in enumerate(schedule.load_rules):
            yield from _marks(f"{base}/{r}", rule)
        for d, day_type in enumerate(schedule.day_types):
            for b, band in enumerate(day_type.bands):
                named = f"/schedules/{s}/day_types/{d}/bands/{b}/load_rules"
                for k, name in enumerate(band.load_rules):
                    yield from missing(f"{named}/{k}", "load rule", name, known)
                    if name in band.load_rules[:k]:
                        yield Fault(f"{named}/{k}", f"'{name}' is named twice", "name it once")


def _marks(base: str, rule: LoadRule) -> Iterator[Fault]:
    asks, permits = rule.asks_at, rule.permits_at
    if asks is None and permits is None:
        yield Fault(
            f"{base}/asks_at",
            f"load rule '{rule.called}' neither asks for hosts nor lets any go",
            "give it a value at which it asks, or one at which hosts may go",
        )
    if asks is None or permits is None:
        return
    side = "above" if rule.asks_where_low else "below"
    if asks == permits:
        yield Fault(
            f"{base}/permits_at",
            f"load rule '{rule.called}' asks for hosts and lets them go at the same value, "
            f"{asks:g}",
            f"let hosts go {side} a value that is {side} {asks:g}",
        )
    elif not rule.in_order:
        yield Fault(
            f"{base}/permits_at",
            f"load rule '{rule.called}' lets hosts go where it asks for them: {permits:g} is not "
            f"{side} {asks:g}",
            f"let hosts go {side} a value that is {side} {asks:g}",
        )
