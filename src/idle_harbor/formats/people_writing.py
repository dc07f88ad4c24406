"""From core values of a plan's people back to values of its document."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from idle_harbor.core import plan as core
from idle_harbor.core.rule_words import clock

_MINUTE = 60


def _number(value: float) -> float | int:
    """Whole numbers as such, so that a document stays as it was written."""
    return int(value) if float(value).is_integer() else value


def _leaving(leaving: core.Leaving) -> dict[str, float]:
    return {
        "sign_off": leaving.sign_off,
        "disconnect": leaving.disconnect,
        "walk_away": leaving.walk_away,
    }


def _start(spread: core.Spread) -> dict[str, Any]:
    if isinstance(spread, core.Normal):
        mean, sd = clock(int(spread.mean)), _number(spread.sd / _MINUTE)
        return {"kind": "normal", "mean": mean, "sd_minutes": sd}
    return {
        "kind": "histogram",
        "from": clock(spread.first),
        "step_minutes": spread.step // _MINUTE,
        "weights": list(spread.weights),
    }


def _length(spread: core.Spread) -> dict[str, Any]:
    if isinstance(spread, core.Normal):
        mean, sd = _number(spread.mean / _MINUTE), _number(spread.sd / _MINUTE)
        return {"kind": "normal", "mean_minutes": mean, "sd_minutes": sd}
    return {
        "kind": "histogram",
        "from_minutes": spread.first // _MINUTE,
        "step_minutes": spread.step // _MINUTE,
        "weights": list(spread.weights),
    }


def _break(pause: core.Break) -> dict[str, Any]:
    return {
        "probability": pause.probability,
        "at": None if pause.at is None else clock(pause.at),
        "after_minutes": None if pause.after is None else _number(pause.after / _MINUTE),
        "sd_minutes": pause.sd_minutes,
        "mean_minutes": pause.mean_minutes,
        "length_sd_minutes": pause.length_sd_minutes,
        "leaving": _leaving(pause.leaving),
    }


def _pattern(pattern: core.Pattern) -> dict[str, Any]:
    days = zip(core.WEEKDAYS, pattern.attendance, strict=True)
    return {
        "id": pattern.id,
        "share": pattern.share,
        "attendance": {day: chance for day, chance in days if chance is not None},
        "start": _start(pattern.start),
        "length": _length(pattern.length),
        "breaks": [_break(pause) for pause in pattern.breaks],
        "leaving": _leaving(pattern.leaving),
    }


def _demand(demand: core.Headcount | core.DropIn) -> dict[str, Any]:
    if isinstance(demand, core.DropIn):
        return {
            "kind": "drop-in",
            "arrivals_per_hour": {
                day: list(rates)
                for day, rates in zip(core.WEEKDAYS, demand.arrivals_per_hour, strict=True)
                if any(rates)
            },
            "session": {
                "kind": demand.session_kind,
                "mean_minutes": demand.session_mean_minutes,
                "cv": demand.session_cv,
            },
            "different_people": demand.different_people,
        }
    turn = demand.rotation
    return {
        "kind": "headcount",
        "people": demand.people,
        "follows": demand.follows,
        "rotation": None if turn is None else {
            "every_days": turn.every_days,
            "order": list(turn.order),
            "since": turn.since.isoformat(),
        },
        "patterns": [_pattern(pattern) for pattern in demand.patterns],
    }  # fmt: skip


def _group(group: core.Group) -> dict[str, Any]:
    growth = group.growth
    return {
        "id": group.id,
        "site": group.site,
        "profile": group.profile,
        "demand": _demand(group.demand),
        "works_holidays": group.works_holidays,
        "growth": None if growth is None else {
            "per_year": growth.per_year, "since": growth.since.isoformat(),
        },
        "data_areas": list(group.data_areas),
    }  # fmt: skip


def _event(event: core.Event) -> dict[str, Any]:
    first, last = event.when.first, event.when.last
    when: dict[str, Any] = {"kind": "month-workdays", "from": first, "to": last}
    if isinstance(event.when, core.Dates):
        when = {"kind": "dates", "from": str(first), "to": str(last)}
    return {
        "id": event.id,
        "groups": list(event.groups),
        "when": when,
        "factor": event.factor,
        "shift_minutes": event.shift_minutes,
        "pattern": event.pattern,
    }


def with_people(values: Mapping[str, Any], plan: core.Plan) -> dict[str, Any]:
    """A document's values with the groups, events, entitlements and overlaps of a plan."""
    sources = {tuple(o["groups"]): o.get("source", "typed") for o in values.get("overlaps", [])}
    return {
        **values,
        "groups": [_group(group) for group in plan.groups],
        "events": [_event(event) for event in plan.events],
        "overlaps": [
            {
                "groups": list(overlap.groups),
                "people": overlap.people,
                "source": sources.get(overlap.groups, "typed"),
            }
            for overlap in plan.overlaps
        ],
        "entitlements": [
            {
                "group": each.group,
                "pool": each.pool,
                "as": each.use_as,
                "apps": list(each.apps),
                "use": each.use,
                "profile": each.profile,
            }
            for each in plan.entitlements
        ],
    }
