"""The differences between two designs of one pool, as changes that can be made in any order.

A change is a setting of the pool, or a band or target that is added, removed or has other values.
Any subset of the changes gives a design; all of them give the second design exactly.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, fields, is_dataclass, replace
from functools import lru_cache
from math import inf
from typing import Any, Generic, TypeVar

from idle_harbor.core.plan import DayType
from idle_harbor.core.plan.load_rules import LoadRule
from idle_harbor.core.plan.schedules import Band, ReadyBy
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.designs.knobs import Where, put

Thing = TypeVar("Thing", Band, ReadyBy)
Part = TypeVar("Part")
#: The kind of a change of a load rule. No kind of day has such an id.
OF_RULES = "load rules"
#: Bands whose beginnings are further apart than this are not the same band moved.
_FAR = 3 * 3_600


@dataclass(frozen=True, slots=True)
class Value:
    """One value that differs: its field, before and after."""

    field: str
    before: Any
    after: Any


@dataclass(frozen=True, slots=True)
class Change:
    """One part that differs: the pool (``kind`` is empty), or a band or target of a kind of
    day, which is ``called`` so.

    ``before`` is None where the part is added, ``after`` where it is removed.
    """

    number: int
    kind: str
    before: Any
    after: Any
    values: tuple[Value, ...]
    called: str = ""


@dataclass(frozen=True, slots=True)
class _Row(Generic[Part]):
    """A part of the first design beside its counterpart in the second."""

    before: Part | None
    after: Part | None
    number: int | None

    def chosen(self, made: Collection[int]) -> Part | None:
        """The part that stands in this row once some changes are made."""
        return self.after if self.number is None or self.number in made else self.before


def values_of(before: Any, after: Any, prefix: str = "") -> tuple[Value, ...]:
    """The values in which two parts differ, with the names of their fields."""
    found: list[Value] = []
    for each in fields(after):
        one, two = getattr(before, each.name), getattr(after, each.name)
        if one == two:
            continue
        name = prefix + each.name
        if is_dataclass(one) and is_dataclass(two):
            found += values_of(one, two, f"{name}.")
        else:
            found.append(Value(name, one, two))
    return tuple(found)


def _begin(thing: Band | ReadyBy) -> int:
    return thing.start if isinstance(thing, Band) else thing.at


def _apart(one: Band | ReadyBy, two: Band | ReadyBy, begins: int) -> float:
    """How far one is moved to become the other, in seconds; without bound where it cannot be."""
    starts = _begin(one), _begin(two)
    moved = abs(starts[0] - starts[1])
    if moved > _FAR or (moved and begins in starts):
        return inf
    return moved or float(one != two)


def _aligned(
    before: Sequence[Thing], after: Sequence[Thing], begins: int
) -> list[tuple[Thing | None, Thing | None]]:
    """Align two ordered lists so that the parts move least in time, in total. A part that is added
    or removed counts as moved by the largest distance; one at the beginning of the day (in seconds
    from the date's 00:00) is not moved."""
    rows, columns = len(before), len(after)
    cost = [[0.0] * (columns + 1) for _ in range(rows + 1)]
    for i in range(rows + 1):
        for j in range(columns + 1):
            ways = []
            if i and j:
                ways.append(cost[i - 1][j - 1] + _apart(before[i - 1], after[j - 1], begins))
            if i:
                ways.append(cost[i - 1][j] + _FAR)
            if j:
                ways.append(cost[i][j - 1] + _FAR)
            cost[i][j] = min(ways, default=0.0)
    found: list[tuple[Thing | None, Thing | None]] = []
    i, j = rows, columns
    while i or j:
        if i and j:
            apart = _apart(before[i - 1], after[j - 1], begins)
            if apart < inf and cost[i][j] == cost[i - 1][j - 1] + apart:
                found.append((before[i - 1], after[j - 1]))
                i, j = i - 1, j - 1
                continue
        if i and cost[i][j] == cost[i - 1][j] + _FAR:
            found.append((before[i - 1], None))
            i -= 1
        else:
            found.append((None, after[j - 1]))
            j -= 1
    return found[::-1]


class Between:
    """Two designs of one pool with the same kinds of day, and the changes from one to the other."""

    def __init__(self, before: Design, after: Design) -> None:
        self.before, self.after = before, after
        self.changes: list[Change] = []
        self._pool: list[tuple[int, Where, Any]] = []
        differing = values_of(before.pool, after.pool)
        moved = before.pool.place != after.pool.place
        for value in differing:
            if moved and value.field == "zones":
                continue
            # Zones belong to a place and change with it.
            with_it = value.field == "place"
            made = [v for v in differing if v is value or (with_it and v.field == "zones")]
            for each in made:
                where: Where = ("pool", *each.field.split("."))
                self._pool.append((len(self.changes), where, each.after))
            self._note("", before.pool, after.pool, (value,))
        self._rules = self._of_rules(before.schedule.load_rules, after.schedule.load_rules)
        kinds = {kind.id: kind for kind in before.schedule.day_types}
        self._days = [
            (
                kinds[kind.id],
                kind,
                self._rows(kind, kinds[kind.id].bands, kind.bands),
                self._rows(kind, kinds[kind.id].ready_by, kind.ready_by),
            )
            for kind in after.schedule.day_types
        ]

    def _note(self, kind: str, before: Any, after: Any, values: tuple[Value, ...]) -> int:
        return self._add(Change(len(self.changes), kind, before, after, values))

    def _add(self, change: Change) -> int:
        self.changes.append(change)
        return change.number

    def _of_rules(
        self, before: Sequence[LoadRule], after: Sequence[LoadRule]
    ) -> list[_Row[LoadRule]]:
        """Load rules by their names; a search adds some and removes none."""
        known = {rule.id: rule for rule in before}
        rows = []
        for rule in after:
            was, number = known.get(rule.id), None
            if was != rule:
                values = () if was is None else values_of(was, rule)
                number = self._note(OF_RULES, was, rule, values)
            rows.append(_Row(was, rule, number))
        return rows

    def _rows(
        self, kind: DayType, before: Sequence[Thing], after: Sequence[Thing]
    ) -> list[_Row[Thing]]:
        rows: list[_Row[Thing]] = []
        for one, two in _aligned(before, after, kind.begins):
            number = None
            if one != two:
                values = () if one is None or two is None else values_of(one, two)
                change = Change(len(self.changes), kind.id, one, two, values, kind.called)
                number = self._add(change)
            rows.append(_Row(one, two, number))
        return rows

    def made(self, numbers: Collection[int]) -> Design:
        """The first design with some of the changes made."""
        design = self.before
        for number, where, value in self._pool:
            if number in numbers:
                design = put(design, where, value)
        kinds = tuple(
            replace(before, bands=_in_turn(bands, numbers), ready_by=_in_turn(targets, numbers))
            for before, _, bands, targets in self._days
        )
        rules = tuple(rule for row in self._rules if (rule := row.chosen(numbers)) is not None)
        names = {rule.id for rule in rules}
        schedule = replace(design.schedule, day_types=kinds, load_rules=rules)
        return replace(design, schedule=schedule).kinds_changed(lambda kind: _naming(kind, names))


def _naming(kind: DayType, names: Collection[str]) -> DayType:
    """The kind of day whose bands name only load rules that are there."""
    if all(name in names for band in kind.bands for name in band.load_rules):
        return kind
    bands = tuple(
        replace(band, load_rules=tuple(name for name in band.load_rules if name in names))
        for band in kind.bands
    )
    return replace(kind, bands=bands)


def _in_turn(rows: Sequence[_Row[Thing]], made: Collection[int]) -> tuple[Thing, ...]:
    """The parts of the rows in order of time; of two at the same time the changed one."""
    by_time: dict[int, tuple[bool, Thing]] = {}
    for row in rows:
        thing = row.chosen(made)
        if thing is None:
            continue
        changed = row.number is not None and row.number in made
        begin = _begin(thing)
        if begin not in by_time or changed:
            by_time[begin] = (changed, thing)
    return tuple(thing for _, (_, thing) in sorted(by_time.items()))


@lru_cache(maxsize=256)
def between_of(before: Design, after: Design) -> Between:
    """The changes between two designs (cached)."""
    return Between(before, after)
