"""Steps that make a design simpler, and a measure of how complex it is."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from typing import TypeAlias

from idle_harbor.core.plan import Band
from idle_harbor.core.tuner.designs.changes import Change, between_of
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.designs.knobs import Bounds, put

#: Default values of a band's fields. These, and values equal to the band before, are not counted.
_PLAIN = (
    "rule",
    "release",
    "knock",
    "fill_ceiling",
    "draining_share",
    "margin",
    "least_run_minutes",
    "headroom",
    "floor",
    "timeouts",
    "floor_share",
    "headroom_share",
    "lid",
    "session_limit",
    "drain_steps",
    "load_rules",
)
#: A step that makes a design simpler; it gives None where it no longer applies.
Way: TypeAlias = Callable[[Design], Design | None]


def _same(change: Change, other: Change) -> bool:
    """Whether changes of two designs are the same one. Values of a pool are compared one by one."""
    if not change.kind:
        return change.values == other.values
    return (change.kind, change.before, change.after) == (other.kind, other.before, other.after)


def _undo(current: Design, change: Change) -> Way:
    """Undo one change from today's plan."""

    def way(design: Design) -> Design | None:
        between = between_of(current, design)
        left = [each.number for each in between.changes if not _same(each, change)]
        return between.made(left) if len(left) < len(between.changes) else None

    return way


def _band_at(design: Design, kind_id: str, start: int) -> tuple[int, int] | None:
    """The places of a kind of day and of its band that begins at a time."""
    for at, kind in enumerate(design.schedule.day_types):
        if kind.id == kind_id:
            for k, band in enumerate(kind.bands):
                if band.start == start:
                    return at, k
    return None


def _as(kind: str, start: int, field: str, value: object) -> Way:
    """Give a field of a band another value."""

    def way(design: Design) -> Design | None:
        found = _band_at(design, kind, start)
        if found is None:
            return None
        where = ("schedule", "day_types", found[0], "bands", found[1])
        band = design.schedule.day_types[found[0]].bands[found[1]]
        if getattr(band, field) == value:
            return None
        changed: Design = put(design, (*where, field), value)
        return changed

    return way


def _joined(kind: str, start: int, how: Callable[[Band, Band], Band]) -> Way:
    """Join a band with the one before it."""

    def way(design: Design) -> Design | None:
        found = _band_at(design, kind, start)
        if found is None or found[1] == 0:
            return None
        at, k = found
        bands = design.schedule.day_types[at].bands
        kept = replace(how(bands[k - 1], bands[k]), start=bands[k - 1].start)
        joined = (*bands[: k - 1], kept, *bands[k + 1 :])
        changed: Design = put(design, ("schedule", "day_types", at, "bands"), joined)
        return changed

    return way


def _higher(first: Band, second: Band) -> Band:
    return replace(
        first, floor=max(first.floor, second.floor), headroom=max(first.headroom, second.headroom)
    )


def undoing(current: Design, design: Design, *, values: bool = True) -> Iterator[Way]:
    """The steps that undo a change from today's plan, or with ``values`` one value of a band."""
    for change in between_of(current, design).changes:
        yield _undo(current, change)
        if values and isinstance(change.before, Band) and isinstance(change.after, Band):
            for value in change.values:
                if "." not in value.field:
                    yield _as(change.kind, change.after.start, value.field, value.before)


def ways(current: Design, design: Design, bounds: Bounds) -> Iterator[Way]:
    """All steps that may simplify a design: undo a change, remove a band, or give a value of a band
    today's value, that of the band before, or the default."""
    yield from undoing(current, design)
    plain = Band(0)
    for kind in design.schedule.day_types:
        if kind.id not in bounds.kinds or "schedule" not in bounds.free:
            continue
        for k, band in enumerate(kind.bands):
            if k:
                yield _joined(kind.id, band.start, lambda first, _: first)
                yield _joined(kind.id, band.start, lambda _, second: second)
                yield _joined(kind.id, band.start, _higher)
            for field in _PLAIN:
                models = [getattr(plain, field)]
                if k and field not in ("floor", "headroom"):
                    models.append(getattr(kind.bands[k - 1], field))
                for value in dict.fromkeys(models):
                    if value != getattr(band, field):
                        yield _as(kind.id, band.start, field, value)


def much(current: Design, design: Design, kinds: frozenset[str]) -> tuple[int, int, int]:
    """The complexity of a design: changes from today's plan, their values, and bands with the
    differences between neighbours."""
    changes = between_of(current, design).changes
    values = sum(max(len(change.values), 1) for change in changes)
    said = 0
    plain = Band(0)
    for kind in design.schedule.day_types:
        if kind.id not in kinds:
            continue
        before = plain
        for band in kind.bands:
            said += 2 + sum(
                getattr(band, field) not in (getattr(before, field), getattr(plain, field))
                for field in _PLAIN
            )
            before = band
    return len(changes), values, said
