"""Pins: what a search may not change keeps today's value at each time of the day."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import fields, is_dataclass, replace
from functools import cache
from typing import Any, TypeVar

from idle_harbor.core.plan import Band, DayType, Pool, Schedule
from idle_harbor.core.plan.declare import DAY, Freedom
from idle_harbor.core.plan.load_rules import LoadRule
from idle_harbor.core.plan.schedules import Timeouts
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.designs.knobs import OWN_TIMEOUTS, Bounds, path_of, turnable_of

#: Without this field free, bands can be neither split nor joined.
EDGES = "schedules.day_types.bands.from"
TARGETS = ("schedules.day_types.ready_by.at", "schedules.day_types.ready_by.hosts")
LIDS, LIMITS = "schedules.day_types.bands.lid", "schedules.day_types.bands.session_limit"
STEPS = "schedules.day_types.bands.drain_steps.by"
RULES = "schedules.day_types.bands.load_rules"
#: What each of these belongs to.
_BELONGS: dict[str, Freedom] = {
    **dict.fromkeys(TARGETS, "schedule"),
    LIDS: "lids",
    LIMITS: "limit",
    STEPS: "drain steps",
    RULES: "load rules",
}

T = TypeVar("T")


def _free(path: str, belongs: str, bounds: Bounds) -> bool:
    return belongs in bounds.free and path not in bounds.locked


def whole_free(path: str, bounds: Bounds) -> bool:
    """Whether what stands at one of the paths above may be added and removed."""
    return _free(path, _BELONGS[path], bounds)


def edges_free(bounds: Bounds) -> bool:
    """Whether bands may begin at other times."""
    return _free(EDGES, "schedule", bounds)


@cache
def _names(part: Any) -> tuple[str, ...]:
    return tuple(each.name for each in fields(part))


def _held(
    design: T, kept: T, where: tuple[str | int, ...], bounds: Bounds, beside: Sequence[str] = ()
) -> T:
    """A part with today's values in fields that are not free. The caller handles some fields."""
    free = {
        each.name
        for each in turnable_of(type(kept))
        if _free(path_of((*where, each.name)), each.tuned.belongs, bounds)
    }.union(beside)
    changes: dict[str, Any] = {}
    for name in _names(type(kept)):  # type: ignore[arg-type]
        mine, other = getattr(kept, name), getattr(design, name)
        if name in free or mine is other or mine == other:
            continue
        if (mine is None or other is None) and _whole_free(mine or other, (*where, name), bounds):
            continue
        if is_dataclass(mine) and type(mine) is type(other):
            mine = _held(other, mine, (*where, name), bounds)
        if mine is not other:
            changes[name] = mine
    return replace(design, **changes) if changes else design  # type: ignore[type-var]


def _whole_free(part: Any, where: tuple[str | int, ...], bounds: Bounds) -> bool:
    """Whether an optional part may be added and removed: all its fields are free."""
    if not is_dataclass(part):
        return False
    known = turnable_of(type(part))
    return bool(known) and all(
        _free(path_of((*where, each.name)), each.tuned.belongs, bounds) for each in known
    )


def own_timeouts_free(bounds: Bounds) -> bool:
    """Whether bands may get and lose timeouts of their own."""
    return _whole_free(Timeouts(), OWN_TIMEOUTS, bounds)


def _in_force(bands: Sequence[Band], start: int) -> Band:
    return next(band for band in reversed(bands) if band.start <= start)


def _over(bands: Sequence[Band], start: int, end: int) -> Band:
    """One band for a stretch of several: the rules of the first, with the largest numbers."""
    ends = [*(band.start for band in bands[1:]), bands[0].start + DAY]
    within = [b for b, e in zip(bands, ends, strict=True) if b.start < end and e > start]
    first = within[0]
    return replace(
        first,
        start=start,
        floor=max(band.floor for band in within),
        headroom=max(band.headroom for band in within),
    )


def _kind(kind: DayType, kept: DayType, bounds: Bounds) -> DayType:
    bands = kind.bands
    if not edges_free(bounds):
        starts = [band.start for band in kept.bands]
        bands = tuple(
            _over(kind.bands, start, end) for start, end in zip(starts, kept.ends, strict=True)
        )
    where = ("schedule", "day_types", 0, "bands", 0)
    ends = [*(band.start for band in bands[1:]), bands[0].start + DAY]
    found = []
    for band, end in zip(bands, ends, strict=True):
        mine = _in_force(kept.bands, band.start)
        held = _held(band, mine, where, bounds, ("start", "drain_steps"))
        kept_steps = band.drain_steps if whole_free(STEPS, bounds) else mine.drain_steps
        steps = tuple(step for step in kept_steps if band.start <= step.by < end)
        found.append(held if held.drain_steps == steps else replace(held, drain_steps=steps))
    targets = kind.ready_by
    if not all(whole_free(path, bounds) for path in TARGETS):
        targets = kept.ready_by
    return replace(kept, bands=tuple(found), ready_by=targets)


def pinned(design: Design, today: Design, bounds: Bounds) -> Design:
    """The design with today's values in everything that is not free."""
    pool: Pool = _held(design.pool, today.pool, ("pool",), bounds)
    if pool.place != today.pool.place:
        # Zones belong to a place.
        pool = replace(pool, zones=())
    before = {kind.id: kind for kind in today.schedule.day_types}
    kinds = tuple(
        _kind(kind, before[kind.id], bounds) if kind.id in bounds.kinds else before[kind.id]
        for kind in design.schedule.day_types
    )
    rules = _rules(design.schedule, today.schedule, bounds)
    schedule = replace(today.schedule, day_types=kinds, load_rules=rules)
    return Design(pool, schedule, today.together)


def _rules(schedule: Schedule, kept: Schedule, bounds: Bounds) -> tuple[LoadRule, ...]:
    """Today's load rules with what is free of them, and those that a search has added."""
    if schedule.load_rules == kept.load_rules or not whole_free(RULES, bounds):
        return kept.load_rules
    before = {rule.id: rule for rule in kept.load_rules}
    used = {name for kind in schedule.day_types for band in kind.bands for name in band.load_rules}
    where = ("schedule", "load_rules", 0)
    return tuple(
        _held(rule, before[rule.id], where, bounds) if rule.id in before else rule
        for rule in schedule.load_rules
        if rule.id in before or rule.id in used
    )
