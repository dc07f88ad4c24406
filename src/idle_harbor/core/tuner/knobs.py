"""What of a design a search may turn: found in the declarations of its fields.

A knob is a field of the pool, of a band, of a target or of a part of these whose declaration says
how it may be varied; a field that comes to the plan later joins by declaring that.
"""

from __future__ import annotations

from collections.abc import Hashable, Iterator, Mapping
from dataclasses import dataclass, field, fields, is_dataclass, replace
from functools import cache
from typing import Any, Literal, TypeAlias, cast, get_args, get_origin, get_type_hints

from idle_harbor.core.plan.declare import About, Freedom, Tuned
from idle_harbor.core.plan.schedules import Band, BandException, ReadyByException
from idle_harbor.core.tuner.design import Design

#: From a design to a value in it: names of fields and places in lists.
Where: TypeAlias = tuple[str | int, ...]


@dataclass(frozen=True, slots=True)
class Bounds:
    """What may be turned: the freedoms given, bounds that the planner set (by a field's path in the
    plan), and fields that stay as they are."""

    free: frozenset[Freedom] = frozenset(("schedule",))
    within: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    locked: frozenset[str] = frozenset()
    #: The most that a session limit may be by host size, and the sizes to choose from.
    density: Mapping[str, int] = field(default_factory=dict)
    #: Kinds of day that the weeks which count have; the others say nothing and stay.
    kinds: frozenset[str] = frozenset()


@dataclass(frozen=True, slots=True)
class Knob:
    """One value of a design, and how it may be turned."""

    where: Where
    tuned: Tuned
    low: float | None
    high: float | None
    #: The values in their order, where they are not numbers in steps.
    values: tuple[Any, ...]

    def read(self, design: Design) -> Any:
        """Its value in a design."""
        return _read(design, self.where)

    def turned(self, design: Design, steps: int) -> Design | None:
        """The design with the knob turned by so many steps as far as it goes; None where it goes
        no further."""
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
    """The place of the value nearest to one that is not among them."""
    if now is None or isinstance(now, str):
        return 0
    far = [abs(value - now) if value is not None else float("inf") for value in values]
    return far.index(min(far))


def _read(whole: Any, where: Where) -> Any:
    for step in where:
        whole = whole[step] if isinstance(step, int) else getattr(whole, step)
    return whole


def put(whole: Any, where: Where, value: Any) -> Any:
    """A frozen value with another value somewhere in it."""
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
    """The values of a field that has one of a few."""
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
    """The path of a value in the plan document, as its field is known by."""
    names = [str(step) for step in where if not isinstance(step, int)]
    root = {"pool": "pools", "schedule": "schedules"}[names[0]]
    return ".".join([root, *("from" if name == "start" and "bands" in names else name
                             for name in names[1:])])  # fmt: skip


def _walk(part: Any, where: Where) -> Iterator[tuple[Where, _Turnable]]:
    if isinstance(part, (BandException, ReadyByException)):
        return
    for each in turnable_of(type(part)):
        yield (*where, each.name), each
    for member in fields(part):
        value = getattr(part, member.name)
        if is_dataclass(value):
            yield from _walk(value, (*where, member.name))
        elif isinstance(value, tuple):
            for k, item in enumerate(value):
                if is_dataclass(item):
                    yield from _walk(item, (*where, member.name, k))


def _tighter(one: float | None, two: float | None, pick: Any) -> float | None:
    given = [each for each in (one, two) if each is not None]
    return pick(given) if given else None


def _most(design: Design, bounds: Bounds, path: str) -> float | None:
    """What a value may be at most, in this design, beside what its field says."""
    pool = design.pool
    match path.rpartition(".")[2]:
        case "floor" | "hosts" if path.startswith("schedules"):
            return float(pool.hosts.most)
        case "headroom":
            return float(pool.hosts.most * pool.session_limit)
        case "session_limit" if path == "pools.session_limit":
            most = bounds.density.get(pool.size)
            return None if most is None else float(max(most, 1))
    return None


def _least(design: Design, path: str) -> float | None:
    """What hosts there have to be at least, for what the schedule asks of them."""
    if path not in ("pools.hosts.standing", "pools.hosts.surge"):
        return None
    pool = design.pool
    asked = max(
        max(
            [band.floor for band in kind.bands] + [target.hosts for target in kind.ready_by],
            default=0,
        )
        for kind in design.schedule.day_types
    )
    other = pool.hosts.surge if path.endswith("standing") else pool.hosts.standing
    return float(max(asked - other, 0))


def knobs_of(design: Design, bounds: Bounds) -> list[Knob]:
    """Everything in a design that may be turned, in the order of the document."""
    found = []
    for where, each in _walk(design, ()):
        path = path_of(where)
        if each.tuned.belongs not in bounds.free or path in bounds.locked:
            continue
        if "day_types" in where and not _counts(design, where, bounds):
            continue
        if not _means_something(design, where):
            continue
        low, high = each.tuned.low, each.tuned.high
        low = _tighter(each.about.low if low is None else low, _least(design, path), max)
        high = _tighter(each.about.high if high is None else high, _most(design, bounds, path), min)
        values = each.values
        if path in bounds.within:
            lowest, highest = bounds.within[path]
            low, high = _tighter(low, lowest, max), _tighter(high, highest, min)
            values = tuple(v for v in values if v is not None and lowest <= v <= highest)
        if path == "pools.size":
            values = tuple(bounds.density)
        if values or (each.tuned.step and not each.values):
            found.append(Knob(where, each.tuned, low, high, values))
    return found


def _counts(design: Design, where: Where, bounds: Bounds) -> bool:
    at = where[where.index("day_types") + 1]
    assert isinstance(at, int)
    return design.schedule.day_types[at].id in bounds.kinds


def _means_something(design: Design, where: Where) -> bool:
    """Whether a value does anything in this design: a notice only where hosts drain with one."""
    name, pool = where[-1], design.pool
    if "bands" in where:
        at = where.index("bands") + 2
        band: Band = _read(design, where[:at])
        if name == "start":
            return where[at - 1] != 0
        if "notice" in where:
            return band.release == "drain with notice" and pool.kind != "dedicated"
        if name in ("draining_share", "margin", "least_run_minutes"):
            return band.release != "keep all"
        if pool.kind != "shared" and name in ("rule", "fill_ceiling", "draining_share"):
            return False
        return not (pool.kind == "dedicated" and name == "knock")
    if name == "surge_stays_minutes":
        return pool.hosts.surge > 0
    if name == "session_limit":
        return pool.kind == "shared"
    # Hosts that are each one person's are as many as these.
    return not (where[1] == "hosts" and pool.kind == "dedicated")
