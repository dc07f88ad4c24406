"""Moves: how one design becomes another. A knob is turned; bands are split, joined or shifted."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from itertools import pairwise
from typing import get_args

import numpy as np

from idle_harbor.core.plan import Band, DayType, Release, Rule
from idle_harbor.core.plan.declare import DAY, Freedom
from idle_harbor.core.plan.schedules import cut
from idle_harbor.core.tuner.designs.design import QUARTER, Design
from idle_harbor.core.tuner.designs.drawing import Draw, counting, with_kind
from idle_harbor.core.tuner.designs.knobs import (
    Bounds,
    Knob,
    knobs_of,
    path_of,
    within_bounds,
)
from idle_harbor.core.tuner.designs.optional import (
    drain_step,
    lid,
    load_rule,
    own_limit,
    ready_by,
)
from idle_harbor.core.tuner.designs.pins import edges_free, own_timeouts_free
from idle_harbor.core.tuner.designs.shapes import (
    days_in_order,
    fitted,
    shortest_timeouts,
    sized,
    traded,
)

#: Bands of a day at most: no planner would sign more.
MOST_BANDS = 12
_FACTORS = (0.6, 0.8, 0.9, 1.1, 1.25, 1.5)


def _steps(draw: Draw, knob: Knob, design: Design) -> int:
    """How far to turn a knob: mostly one step, sometimes a large share of its value."""
    way = 1 if draw.chance(0.5) else -1
    if knob.values:
        return way * (1 if draw.chance(0.7) else 2 + draw.below(len(knob.values)))
    now = float(knob.read(design) or 0)
    far = max(abs(now) / knob.tuned.step, 4.0)
    return way * draw.one((1, 1, 1, 2, 2, max(int(0.1 * far), 1), max(int(0.3 * far), 1)))


#: Weights of fields in the draw of a knob; others have 1. Numbers and times of hosts matter most.
_OFTEN = {"floor": 4.0, "headroom": 4.0, "from": 2.0, "session_limit": 2.0, "standing": 2.0}


def turn(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """Turn one knob: draw its field first, then its place."""
    by_path: dict[str, list[Knob]] = {}
    for knob in knobs_of(design, bounds):
        by_path.setdefault(path_of(knob.where), []).append(knob)
    if not by_path:
        return None
    often = np.array([_OFTEN.get(path.rpartition(".")[2], 1.0) for path in by_path])
    chosen = int(draw.random.choice(len(often), p=often / often.sum()))
    knob = draw.one(list(by_path.values())[chosen])
    if knob.where == ("pool", "size"):
        return other_size(draw, design, bounds, knob)
    return knob.turned(design, _steps(draw, knob, design))


def all_over(design: Design, bounds: Bounds) -> Iterator[Design]:
    """Designs with one setting of the pool at each of its values, or over a wide range."""
    yield from traded(design, bounds)
    for knob in knobs_of(design, bounds):
        if knob.where[0] != "pool":
            continue
        if knob.where == ("pool", "size"):
            yield from (sized(design, bounds, size) for size in knob.values)
            continue
        reach = len(knob.values) or 1
        now = abs(float(knob.read(design) or 0)) if not knob.values else 0.0
        wide = {max(round(share * now), 1) for share in (0.02, 0.05, 0.1, 0.2, 0.35, 0.5)}
        steps = range(1, reach) if knob.values else sorted(wide)
        for far in steps:
            for way in (-far, far):
                changed = knob.turned(design, way)
                if changed is not None:
                    yield fitted(changed)


def throughout(design: Design, bounds: Bounds) -> Iterator[Design]:
    """Designs with one change in all bands at once, as far as these are free: another balancing
    rule or release, floors or headroom scaled, bands shifted."""
    if "schedule" not in bounds.free:
        return

    def changed(of: Callable[[Band], Band]) -> Design:
        return design.kinds_changed(
            lambda kind: (
                replace(kind, bands=tuple(map(of, kind.bands))) if kind.id in bounds.kinds else kind
            )
        )

    for rule in get_args(Rule):
        for release in get_args(Release):
            yield changed(lambda b, r=rule, way=release: replace(b, rule=r, release=way))  # type: ignore[misc]
    for field in ("floor", "headroom"):
        for by in _FACTORS:
            yield changed(
                lambda b, f=field, by=by: replace(b, **{f: round(getattr(b, f) * by)})  # type: ignore[misc]
            )
    begins = design.schedule.day_begins
    for quarters in (-2, -1, 1, 2):
        moved = changed(
            lambda b, by=QUARTER * quarters: (  # type: ignore[misc]
                b if b.start == begins else replace(b, start=b.start + by)
            )
        )
        if days_in_order(moved):
            yield moved


def own_timeouts(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """A band with shorter timeouts than the pool's, or without timeouts of its own."""
    if not own_timeouts_free(bounds):
        return None
    at = counting(draw, design, bounds)
    kind = design.schedule.day_types[at]
    k = draw.below(len(kind.bands))
    band = kind.bands[k]
    own = None if band.timeouts is not None else shortest_timeouts(bounds)
    changed = (*kind.bands[:k], replace(band, timeouts=own), *kind.bands[k + 1 :])
    return with_kind(design, at, replace(kind, bands=changed))


def other_size(draw: Draw, design: Design, bounds: Bounds, knob: Knob) -> Design | None:
    """The design on hosts of another size."""
    others = [size for size in knob.values if size != design.pool.size]
    return sized(design, bounds, draw.one(others)) if others else None


def split(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """Split a band at a random time, and turn one knob of the second half."""
    at = counting(draw, design, bounds)
    kind = design.schedule.day_types[at]
    if len(kind.bands) >= MOST_BANDS:
        return None
    start = kind.begins + QUARTER * (1 + draw.below(DAY // QUARTER - 1))
    starts = [band.start for band in kind.bands]
    if start in starts:
        return None
    k = max(i for i, each in enumerate(starts) if each < start)
    parted = with_kind(design, at, cut(kind, start))
    if parted is None:
        return None
    place = ("schedule", "day_types", at, "bands", k + draw.below(2))
    knobs = [knob for knob in knobs_of(parted, bounds) if knob.where[:5] == place]
    if not knobs:
        return None
    knob = draw.one(knobs)
    return knob.turned(parted, _steps(draw, knob, parted))


def _joined(design: Design, at: int, k: int, kept: Band) -> Design | None:
    """The design with the k-th band of a day and the next one joined."""
    kind = design.schedule.day_types[at]
    bands = (*kind.bands[:k], replace(kept, start=kind.bands[k].start), *kind.bands[k + 2 :])
    return with_kind(design, at, replace(kind, bands=bands))


def one_band_less(design: Design, bounds: Bounds) -> Iterator[Design]:
    """Designs with two neighbouring bands joined, with the rules of either."""
    if not ("schedule" in bounds.free and edges_free(bounds)):
        return
    for at, kind in enumerate(design.schedule.day_types):
        if kind.id in bounds.kinds:
            for k, pair in enumerate(pairwise(kind.bands)):
                for kept in pair:
                    joined = _joined(design, at, k, kept)
                    if joined is not None:
                        yield joined


def join(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """Join two random neighbouring bands of a day, with the rules of either."""
    at = counting(draw, design, bounds)
    kind = design.schedule.day_types[at]
    if len(kind.bands) < 2:
        return None
    k = draw.below(len(kind.bands) - 1)
    first, second = kind.bands[k], kind.bands[k + 1]
    return _joined(design, at, k, first if draw.chance(0.5) else second)


def scale(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """Scale all floors, or all headroom, of a kind of day."""
    at = counting(draw, design, bounds)
    kind, by = design.schedule.day_types[at], draw.one(_FACTORS)
    field = draw.one(("floor", "headroom"))

    def of(band: Band) -> Band:
        now = getattr(band, field)
        changed = round(now * by)
        if changed == now and now:
            changed = now + (1 if by > 1.0 else -1)
        return replace(band, **{field: changed})

    return with_kind(design, at, replace(kind, bands=tuple(of(band) for band in kind.bands)))


def shift(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """Shift all bands of a kind of day by some quarter hours."""
    at = counting(draw, design, bounds)
    kind = design.schedule.day_types[at]
    by = QUARTER * draw.one((-2, -1, 1, 2))
    bands = tuple(
        band if k == 0 else replace(band, start=band.start + by)
        for k, band in enumerate(kind.bands)
    )
    return with_kind(design, at, replace(kind, bands=bands))


def alike(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """Copy one value of a band into all bands of the kinds of day that count."""
    kind = design.schedule.day_types[counting(draw, design, bounds)]
    source = draw.one(kind.bands)
    field = draw.one(("rule", "release", "fill_ceiling", "margin", "least_run_minutes", "knock"))
    value = getattr(source, field)
    if draw.chance(0.3) and field in ("rule", "release"):
        value = draw.one(("spread", "fill") if field == "rule" else ("when empty", "drain"))

    def of(each: DayType) -> DayType:
        if each.id not in bounds.kinds:
            return each
        return replace(each, bands=tuple(replace(b, **{field: value}) for b in each.bands))

    return design.kinds_changed(of)


Move = Callable[[Draw, Design, Bounds], Design | None]
#: Moves with their initial weights.
MOVES: tuple[tuple[Move, float], ...] = (
    (turn, 8.0),
    (split, 1.5),
    (join, 1.5),
    (scale, 1.0),
    (shift, 0.7),
    (alike, 0.8),
    (ready_by, 0.4),
    (own_timeouts, 0.5),
    (lid, 0.8),
    (own_limit, 0.5),
    (drain_step, 0.8),
    (load_rule, 0.8),
)
#: Moves that only some freedom allows.
_NEEDS: dict[Move, Freedom] = {
    own_timeouts: "timeouts",
    lid: "lids",
    own_limit: "limit",
    drain_step: "drain steps",
    load_rule: "load rules",
}
_SCHEDULE_MOVES = (split, join, scale, shift, alike, ready_by)


def moves_for(bounds: Bounds) -> list[tuple[Move, float]]:
    """The moves that these freedoms allow."""
    free = "schedule" in bounds.free and bounds.kinds
    found = [
        (move, often)
        for move, often in MOVES
        if (free or move not in _SCHEDULE_MOVES)
        and (move not in _NEEDS or (_NEEDS[move] in bounds.free and bounds.kinds))
    ]
    if edges_free(bounds):
        return found
    return [(move, often) for move, often in found if move not in (split, join, shift)]


def cross(draw: Draw, one: Design, two: Design) -> Design:
    """Cross two designs: the pool of the first, each kind of day from either."""
    others = {kind.id: kind for kind in two.schedule.day_types}

    def of(kind: DayType) -> DayType:
        return others.get(kind.id, kind) if draw.chance(0.5) else kind

    return fitted(one.kinds_changed(of))


def allowed(design: Design, bounds: Bounds) -> bool:
    """Whether a plan may hold a design and all its knobs are within bounds."""
    if not days_in_order(design):
        return False
    if not all(rule.in_order for rule in design.schedule.load_rules):
        return False
    sizes = bounds.places.get(design.pool.place or "")
    if sizes is not None and design.pool.size not in sizes:
        return False
    return within_bounds(design, bounds)
