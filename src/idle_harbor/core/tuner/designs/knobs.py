"""Knobs: the values of a design that a search may turn, found from the declarations of fields.

A knob is a field of the pool, of a band, of a target or of a part of these whose declaration says
how it may be varied. A new field of the plan joins by declaring that.
"""

from __future__ import annotations

from collections.abc import Hashable, Iterator, Mapping
from dataclasses import dataclass, field, is_dataclass, replace
from functools import cache
from math import ceil, floor, inf
from typing import Any, Literal, TypeAlias, cast, get_args, get_origin, get_type_hints

from idle_harbor.core.plan.declare import DAY, About, Freedom, Tuned
from idle_harbor.core.plan.load_rules import LoadRule
from idle_harbor.core.plan.schedules import (
    Band,
    BandException,
    DayType,
    ReadyByException,
    Timeouts,
    in_day,
)
from idle_harbor.core.tuner.designs.design import Design

#: The path from a design to a value in it: names of fields and places in lists.
Where: TypeAlias = tuple[str | int, ...]
#: Where a band has timeouts of its own.
OWN_TIMEOUTS: Where = ("schedule", "day_types", 0, "bands", 0, "timeouts")


@dataclass(frozen=True, slots=True)
class Bounds:
    """What a search may change: freedoms, bounds that the planner set (by a field's path in the
    plan), and locked fields."""

    free: frozenset[Freedom] = frozenset(("schedule",))
    within: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    locked: frozenset[str] = frozenset()
    #: The largest session limit by host size; its keys are the sizes to choose from.
    density: Mapping[str, int] = field(default_factory=dict)
    #: The places to choose from, with the sizes that each offers.
    places: Mapping[str, frozenset[str]] = field(default_factory=dict)
    #: The least number of parallel starts.
    at_once: int = 1
    #: Kinds of day in the weeks that count. The others have no effect and stay as they are.
    kinds: frozenset[str] = frozenset()


@dataclass(frozen=True, slots=True)
class Knob:
    """One value of a design, and how it may be turned."""

    where: Where
    tuned: Tuned
    low: float | None
    high: float | None
    #: The values in order, where the knob does not go in steps.
    values: tuple[Any, ...]

    def read(self, design: Design) -> Any:
        """The value in a design."""
        return _read(design, self.where)

    def turned(self, design: Design, steps: int) -> Design | None:
        """The design with the knob turned by some steps, or by as many as its bounds allow; None
        where they allow none."""
        now = self.read(design)
        value = self._after(now, steps)
        return None if value == now else put(design, self.where, value)

    def _after(self, now: Any, steps: int) -> Any:
        if self.values:
            at = self.values.index(now) if now in self.values else _nearest(self.values, now)
            return self.values[min(max(at + steps, 0), len(self.values) - 1)]
        if now is None:
            return now
        step = self.tuned.step
        value = round(round(now / step) * step + steps * step, 6)
        if self.low is not None:
            value = max(value, min(self.low, now))
        if self.high is not None:
            value = min(value, max(self.high, now))
        return type(now)(value)


def _nearest(values: tuple[Any, ...], now: Any) -> int:
    """The place of the value that is nearest to another one."""
    if now is None or isinstance(now, str):
        return 0
    far = [abs(value - now) if value is not None else float("inf") for value in values]
    return far.index(min(far))


def _read(whole: Any, where: Where) -> Any:
    for step in where:
        whole = whole[step] if isinstance(step, int) else getattr(whole, step)
    return whole


def put(whole: Any, where: Where, value: Any) -> Any:
    """A copy of a frozen value with one inner value replaced."""
    if not where:
        return value
    first, rest = where[0], where[1:]
    if isinstance(first, int):
        return (*whole[:first], put(whole[first], rest, value), *whole[first + 1 :])
    return replace(whole, **{first: put(getattr(whole, first), rest, value)})


def _about(hint: Any) -> About | None:
    for each in get_args(hint)[1:] if hasattr(hint, "__metadata__") else ():
        if isinstance(each, About):
            return each
    return next((about for part in get_args(hint) if (about := _about(part)) is not None), None)


def _choices(hint: Any) -> tuple[Any, ...]:
    """The values of a field that takes one of a few."""
    if hint is bool:
        return (False, True)
    if get_origin(hint) is Literal:
        return get_args(hint)
    if hasattr(hint, "__metadata__"):
        return _choices(get_args(hint)[0])
    return ()


@dataclass(frozen=True, slots=True)
class _Turnable:
    name: str
    about: About
    tuned: Tuned
    values: tuple[Any, ...]


@cache
def _turnable(part: Any) -> tuple[_Turnable, ...]:
    """The fields of a part that say how they may be varied."""
    found = []
    for name, hint in get_type_hints(part, include_extras=True).items():
        about = _about(hint)
        if about is not None and about.tuned is not None:
            tuned = about.tuned
            found.append(_Turnable(name, about, tuned, tuned.values or _choices(hint)))
    return tuple(found)


def turnable_of(part: type) -> tuple[_Turnable, ...]:
    """The fields of a part that say how they may be varied."""
    return _turnable(cast(Hashable, part))


@cache
def path_of(where: Where) -> str:
    """The path of a value in the plan document."""
    names = [str(step) for step in where if not isinstance(step, int)]
    root = {"pool": "pools", "schedule": "schedules"}[names[0]]
    return ".".join(
        [root, *("from" if name == "start" and "bands" in names else name for name in names[1:])]
    )


@cache
def _members(part: Any) -> tuple[str, ...]:
    """The fields of a part that hold parts with fields that may be varied."""
    return tuple(
        name
        for name, hint in get_type_hints(part, include_extras=True).items()
        if any(_turnable(each) or _members(each) for each in _parts_in(hint))
    )


def _parts_in(hint: Any) -> Iterator[Any]:
    """The parts that a field holds. Exceptions for a pool are left out: a design has them put in
    already."""
    part = isinstance(hint, type) and is_dataclass(hint)
    if part and hint not in (BandException, ReadyByException):
        yield hint
    for each in get_args(hint):
        yield from _parts_in(each)


@dataclass(frozen=True, slots=True)
class _Place:
    """A value in a design: its path, its part, and its band."""

    where: Where
    each: _Turnable
    part: Any
    band: Band | None

    @property
    def value(self) -> Any:
        return getattr(self.part, self.each.name)


def _walk(part: Any, where: Where, band: Band | None, bounds: Bounds) -> Iterator[_Place]:
    kind: Any = type(part)
    if kind is DayType and part.id not in bounds.kinds:
        return
    if kind is Band:
        band = part
    for each in turnable_of(kind):
        if each.tuned.belongs in bounds.free:
            yield _Place((*where, each.name), each, part, band)
    for name in _members(kind):
        value = getattr(part, name)
        if isinstance(value, tuple):
            for k, item in enumerate(value):
                yield from _walk(item, (*where, name, k), band, bounds)
        elif value is not None:
            yield from _walk(value, (*where, name), band, bounds)


#: Fields that are clock times of a schedule's day.
_CLOCKS = tuple(
    f"schedules.day_types.{field}"
    for field in ("bands.from", "bands.drain_steps.by", "ready_by.at")
)


class _Ranges:
    """The bounds of the values of one design."""

    def __init__(self, design: Design, bounds: Bounds) -> None:
        self.design, self.bounds = design, bounds
        pool = design.pool
        self._most = {
            "schedules.day_types.bands.floor": float(pool.hosts.most),
            "schedules.day_types.ready_by.hosts": float(pool.hosts.most),
            "schedules.day_types.bands.headroom": float(pool.hosts.most * pool.session_limit),
            "schedules.day_types.bands.lid": float(pool.hosts.most),
            "schedules.day_types.bands.session_limit": float(pool.session_limit),
        }
        density = bounds.density.get(pool.size)
        if density is not None:
            self._most["pools.session_limit"] = float(max(density, 1))
        # The schedule needs at least so many hosts.
        asked = max(
            max([b.floor for b in kind.bands] + [t.hosts for t in kind.ready_by], default=0)
            for kind in design.schedule.day_types
        )
        self._least = {
            "pools.hosts.standing": float(max(asked - pool.hosts.surge, 0)),
            "pools.hosts.surge": float(max(asked - pool.hosts.standing, 0)),
            "pools.start.parallel": float(bounds.at_once),
        }
        for clock in _CLOCKS:
            begins = design.schedule.day_begins
            self._least[clock], self._most[clock] = float(begins), float(begins + DAY - 1)
        self._values = {
            "pools.size": tuple(bounds.density),
            "pools.place": tuple(bounds.places),
        }

    def values_of(self, path: str, each: _Turnable) -> tuple[Any, ...]:
        """The values to choose from, where the knob has a list of them."""
        low, high = self._least.get(path, -inf), inf
        if path in self.bounds.within:
            lowest, high = self.bounds.within[path]
            low = max(low, lowest)
        return tuple(
            value
            for value in self._values.get(path, each.values)
            if isinstance(value, str) or (high == inf if value is None else low <= value <= high)
        )

    def _on_the_day(self, path: str) -> tuple[float, float]:
        """The bounds of the planner; those of a clock time in the day of the schedule."""
        low, high = self.bounds.within[path]
        if path not in _CLOCKS or high == inf:
            return low, high
        begins = self.design.schedule.day_begins
        first = in_day(begins, int(low))
        return first, first + high - low

    def of(self, path: str, each: _Turnable) -> tuple[float | None, float | None]:
        """The least and the largest value allowed."""
        low = each.about.low if each.tuned.low is None else each.tuned.low
        high = each.about.high if each.tuned.high is None else each.tuned.high
        low, high = _more(low, self._least.get(path)), _less(high, self._most.get(path))
        if path in self.bounds.within:
            lowest, highest = self._on_the_day(path)
            low, high = _more(low, lowest), _less(high, None if highest == inf else highest)
        if each.tuned.step % 1 == 0:
            low, high = low and ceil(low), high and floor(high)
        return low, high


def _more(one: float | None, two: float | None) -> float | None:
    return one if two is None else two if one is None else max(one, two)


def _less(one: float | None, two: float | None) -> float | None:
    return one if two is None else two if one is None else min(one, two)


def knobs_of(design: Design, bounds: Bounds) -> list[Knob]:
    """All knobs of a design, in the order of the document."""
    found = []
    ranges = _Ranges(design, bounds)
    for place in _walk(design, (), None, bounds):
        each, path = place.each, path_of(place.where)
        if path in bounds.locked or not _means_something(design, place):
            continue
        low, high = ranges.of(path, each)
        values = ranges.values_of(path, each)
        if values or (each.tuned.step and not each.values):
            found.append(Knob(place.where, _in_unit(place), low, high, values))
    return found


def _in_unit(place: _Place) -> Tuned:
    """How a field may be varied: the marks of a load rule go in steps of its signal."""
    tuned, part = place.each.tuned, place.part
    if isinstance(part, LoadRule) and place.each.name in ("asks_at", "permits_at"):
        return tuned if part.in_shares else replace(tuned, step=1.0)
    return tuned


def kind_bounds(design: Design, bounds: Bounds) -> Bounds:
    """The bounds, and the least values that are kind to people where the planner gave none.

    A field whose value is lower today may stay as low as it is.
    """
    kind: dict[str, tuple[float, float]] = {}
    for place in _walk(design, (), None, bounds):
        low, path = place.each.tuned.kind_low, path_of(place.where)
        if low is not None and path not in bounds.within:
            now = inf if place.value is None else place.value
            kind[path] = min(kind.get(path, (low, inf))[0], now), inf
    # Bands without timeouts of their own may get some.
    for each in turnable_of(Timeouts):
        path = path_of((*OWN_TIMEOUTS, each.name))
        if each.tuned.kind_low is not None and path not in bounds.within:
            kind.setdefault(path, (each.tuned.kind_low, inf))
    return replace(bounds, within={**kind, **bounds.within})


def within_bounds(design: Design, bounds: Bounds) -> bool:
    """Whether all knobs are within their bounds."""
    ranges = _Ranges(design, bounds)
    for place in _walk(design, (), None, bounds):
        now = place.value
        if place.each.values or not isinstance(now, (int, float)):
            continue
        path = path_of(place.where)
        if path in bounds.locked or not _means_something(design, place):
            continue
        low, high = ranges.of(path, place.each)
        if (high is not None and now > high + 1e-9) or (low is not None and now < low - 1e-9):
            return False
    return True


def clamped(design: Design, bounds: Bounds) -> Design:
    """The design with values moved into the bounds that the planner set."""
    if not bounds.within:
        return design
    ranges = _Ranges(design, bounds)
    for place in _walk(design, (), None, bounds):
        path, now = path_of(place.where), place.value
        if path in bounds.within and path not in bounds.locked and _means_something(design, place):
            value = _nearest_within(now, place.each.values, ranges.of(path, place.each))
            if value != now:
                design = put(design, place.where, value)
    return design


def _nearest_within(
    now: Any, values: tuple[Any, ...], span: tuple[float | None, float | None]
) -> Any:
    low = -inf if span[0] is None else span[0]
    high = inf if span[1] is None else span[1]
    if values:
        known = [v for v in values if isinstance(v, (int, float)) and low <= v <= high]
        if now in known or not known or (now is None and high == inf):
            return now
        # None never strikes, so it is longer than all others.
        return max(known) if now is None else known[_nearest(tuple(known), now)]
    if not isinstance(now, (int, float)):
        return now
    return type(now)(min(max(now, low), high)) if low <= high else now


#: Fields of a band that only a shared pool has.
_SHARED = ("rule", "fill_ceiling", "draining_share", "session_limit")
#: The mark of a load rule without which a field of it has no effect.
_MARKS = {
    **dict.fromkeys(("asks_hold_minutes", "adds"), "asks_at"),
    **dict.fromkeys(("permits_hold_minutes", "takes_back"), "permits_at"),
}


def _works(design: Design, rule: LoadRule) -> bool:
    """Whether a load rule is at work in any band."""
    kinds = design.schedule.day_types
    return any(rule.id in band.load_rules for kind in kinds for band in kind.bands)


def _means_something(design: Design, place: _Place) -> bool:
    """Whether a value has an effect in this design: a notice has one only where hosts drain with
    notice."""
    name, pool, where, band = place.each.name, design.pool, place.where, place.band
    if isinstance(place.part, LoadRule):
        return (
            _works(design, place.part) and getattr(place.part, _MARKS.get(name, name)) is not None
        )
    if band is not None:
        if name == "start":
            return band.start != design.schedule.day_begins
        if "notice" in where:
            return band.release == "drain with notice" and pool.kind != "dedicated"
        if name in ("draining_share", "margin", "least_run_minutes"):
            return band.release != "keep all"
        if pool.kind != "shared" and name in _SHARED:
            return False
        return not (pool.kind == "dedicated" and name in ("knock", "lid"))
    if name == "surge_stays_minutes":
        return pool.hosts.surge > 0
    if name == "session_limit":
        return pool.kind == "shared"
    if name in ("place", "parallel"):
        # A pool without a place has no lines, and no limit needs no value.
        return place.value is not None
    # A dedicated pool has as many hosts as people.
    return not (where[1] == "hosts" and pool.kind == "dedicated")
