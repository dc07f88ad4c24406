"""How one design becomes another: a knob turned, bands split, joined, shifted or made alike."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from math import ceil
from typing import TypeVar, get_args

import numpy as np

from idle_harbor.core.plan import Band, DayType, Pool, Release, Rule
from idle_harbor.core.plan.declare import DAY
from idle_harbor.core.plan.schedules import Timeouts
from idle_harbor.core.tuner.design import Design
from idle_harbor.core.tuner.knobs import (
    Bounds,
    Knob,
    knobs_of,
    path_of,
    turnable_of,
    within_bounds,
)
from idle_harbor.core.tuner.pins import edges_free, own_timeouts_free
from idle_harbor.core.tuner.theory import QUARTER

T = TypeVar("T")

#: Bands of a day at most: more than that nobody would sign.
MOST_BANDS = 12
_FACTORS = (0.6, 0.8, 0.9, 1.1, 1.25, 1.5)


@dataclass(frozen=True, slots=True)
class Draw:
    """Random choices of a search: the same for the same seed, whoever works out the weeks."""

    random: np.random.Generator

    def below(self, many: int) -> int:
        """A whole number below another."""
        return int(self.random.integers(many))

    def one(self, things: Sequence[T]) -> T:
        """One of several things."""
        return things[self.below(len(things))]

    def chance(self, share: float) -> bool:
        """Whether something of that probability happens."""
        return bool(self.random.random() < share)


def together(bands: Iterable[Band]) -> tuple[Band, ...]:
    """Bands with those put together that say the same."""
    found: list[Band] = []
    for band in bands:
        if not found or band.drain_steps or not band.says_as(found[-1]):
            found.append(band)
    return tuple(found)


def fitted(design: Design) -> Design:
    """The design with what no plan may hold put right: nothing asks for more than there can be."""
    pool = design.pool
    most, limit = pool.hosts.most, pool.session_limit

    def band_of(band: Band) -> Band:
        floor = min(band.floor, most)
        least = max(floor, band.least(pool.hosts.standing))
        lid = band.lid if band.lid is None else max(min(band.lid, most), least, 1)
        own = band.session_limit
        own = own if own is None else min(own, limit)
        headroom = min(band.headroom, most * limit)
        if (floor, lid, own, headroom) == (
            band.floor, band.lid, band.session_limit, band.headroom,
        ):  # fmt: skip
            return band
        return replace(band, floor=floor, lid=lid, session_limit=own, headroom=headroom)

    def kind_of(kind: DayType) -> DayType:
        bands = together(band_of(band) for band in kind.bands)
        ready_by = tuple(
            each if each.hosts <= most else replace(each, hosts=most) for each in kind.ready_by
        )
        if bands == kind.bands and ready_by == kind.ready_by:
            return kind
        return replace(kind, bands=bands, ready_by=ready_by)

    return design.kinds_changed(kind_of)


def without_lids(design: Design, kinds: frozenset[str]) -> Design:
    """The design without lids: a search asks for fewer hosts instead."""

    def of(kind: DayType) -> DayType:
        if kind.id not in kinds:
            return kind
        return replace(kind, bands=tuple(replace(band, lid=None) for band in kind.bands))

    return design.kinds_changed(of)


def wider(design: Design, kinds: frozenset[str], by: float, quarters: int = 0) -> Design:
    """The design with all floors and open slots higher by a factor, rounded up; bands that ask for
    more than those before them begin so many quarter hours earlier, those that ask for less
    later."""
    limit = design.pool.session_limit

    def asks(band: Band) -> int:
        return band.floor * limit + band.headroom

    def of(kind: DayType) -> DayType:
        if kind.id not in kinds:
            return kind
        found: list[Band] = []
        for k, band in enumerate(kind.bands):
            floor, headroom = (ceil(each * by - 1e-9) for each in (band.floor, band.headroom))
            start = band.start
            if k:
                start += QUARTER * (-quarters if asks(band) > asks(kind.bands[k - 1]) else quarters)
            found.append(replace(band, start=start, floor=floor, headroom=headroom))
        moved = replace(kind, bands=tuple(found))
        if in_order(moved):
            return moved
        same = zip(found, kind.bands, strict=True)
        return replace(kind, bands=tuple(replace(b, start=was.start) for b, was in same))

    return fitted(design.kinds_changed(of))


def in_order(kind: DayType) -> bool:
    """Whether bands come one after the other, and drain steps lie within theirs."""
    starts = [band.start for band in kind.bands]
    ends = [*starts[1:], DAY]
    return (
        starts[0] == 0
        and all(a < b for a, b in zip(starts, ends, strict=True))
        and all(
            band.start <= step.by < end
            for band, end in zip(kind.bands, ends, strict=True)
            for step in band.drain_steps
        )
        and len({target.at for target in kind.ready_by}) == len(kind.ready_by)
    )


def _steps(draw: Draw, knob: Knob, design: Design) -> int:
    """How far to turn a knob: mostly a little, sometimes by much of what it stands at."""
    way = 1 if draw.chance(0.5) else -1
    if knob.values:
        return way * (1 if draw.chance(0.7) else 2 + draw.below(len(knob.values)))
    now = float(knob.read(design) or 0)
    far = max(abs(now) / knob.tuned.step, 4.0)
    return way * draw.one((1, 1, 1, 2, 2, max(int(0.1 * far), 1), max(int(0.3 * far), 1)))


#: How often fields are turned, beside others once: what hosts there are and when matters most.
_OFTEN = {"floor": 4.0, "headroom": 4.0, "from": 2.0, "session_limit": 2.0, "standing": 2.0}


def turn(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """One knob turned: first which field, then where."""
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
    """Each setting of the pool itself at every value that it may have, or over a wide range."""
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
    """Each choice of rule and way of letting go in all bands at once, all floors or open slots
    higher or lower, all bands earlier or later: where these may be changed."""
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
    for quarters in (-2, -1, 1, 2):
        moved = changed(
            lambda b, by=QUARTER * quarters: replace(b, start=b.start and b.start + by)  # type: ignore[misc]
        )
        if all(in_order(kind) for kind in moved.schedule.day_types):
            yield moved


def quiet(
    design: Design, bounds: Bounds, hours: Sequence[tuple[int, int]], own: Timeouts
) -> Design:
    """The design with timeouts of their own in the bands of some hours of the day, from one quarter
    hour to another each; where bands may not begin at other times, in those that lie within."""

    def of(kind: DayType) -> DayType:
        if kind.id not in bounds.kinds:
            return kind
        if edges_free(bounds):
            for edge in sorted({QUARTER * each for pair in hours for each in pair}):
                kind = _cut(kind, edge)
        ends = [*(band.start for band in kind.bands[1:]), DAY]
        within = [
            any(QUARTER * a <= band.start and end <= QUARTER * b for a, b in hours)
            for band, end in zip(kind.bands, ends, strict=True)
        ]
        bands = (
            replace(band, timeouts=own) if now else band
            for band, now in zip(kind.bands, within, strict=True)
        )
        return replace(kind, bands=together(bands))

    return design.kinds_changed(of)


def _cut(kind: DayType, start: int) -> DayType:
    """The kind of day with a band that begins at a time, if only to say what the one before it
    says."""
    if start >= DAY or start in (band.start for band in kind.bands):
        return kind
    k = max(i for i, band in enumerate(kind.bands) if band.start < start)
    band = kind.bands[k]
    early = tuple(step for step in band.drain_steps if step.by < start)
    late = tuple(step for step in band.drain_steps if step.by >= start)
    parted = (replace(band, drain_steps=early), replace(band, start=start, drain_steps=late))
    return replace(kind, bands=(*kind.bands[:k], *parted, *kind.bands[k + 1 :]))


def own_timeouts(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """A band with timeouts of its own, shorter than the pool's, or without them."""
    if not own_timeouts_free(bounds):
        return None
    at = _counting(draw, design, bounds)
    kind = design.schedule.day_types[at]
    k = draw.below(len(kind.bands))
    band = kind.bands[k]
    own = None if band.timeouts is not None else shortest_timeouts(bounds)
    changed = (*kind.bands[:k], replace(band, timeouts=own), *kind.bands[k + 1 :])
    return _with_kind(design, at, replace(kind, bands=changed))


def shortest_timeouts(bounds: Bounds) -> Timeouts:
    """The shortest timeouts that a band may have."""
    where = ("schedule", "day_types", 0, "bands", 0, "timeouts")
    found = {}
    for each in turnable_of(Timeouts):
        low, high = bounds.within.get(path_of((*where, each.name)), (0.0, float("inf")))
        known = [value for value in each.values if value is not None and low <= value <= high]
        found[each.name] = min(known, default=each.values[0])
    return Timeouts(**found)


def sized(design: Design, bounds: Bounds, size: str) -> Design:
    """The design on hosts of another size, as full as these bear, and as many as hold the same
    where their number may be changed."""
    pool = design.pool
    limit = pool.session_limit if pool.kind != "shared" else max(bounds.density[size], 1)
    changed = replace(pool, size=size, session_limit=limit)
    if "hosts" in bounds.free:
        changed = with_slots(changed, pool.hosts.most * pool.session_limit)
    return fitted(replace(design, pool=changed))


def with_slots(pool: Pool, slots: int) -> Pool:
    """The pool with as many standing hosts as hold so many sessions beside its surge hosts; where
    hosts keep no disk all of them come and go, since those that stand run all the time."""
    needed = min(-(-slots // pool.session_limit), 10_000)
    hosts = pool.hosts
    if hosts.throwaway:
        hosts = replace(hosts, standing=0, surge=max(needed, 1))
    else:
        hosts = replace(hosts, standing=max(needed - hosts.surge, 1))
    return replace(pool, hosts=hosts)


def traded(design: Design, bounds: Bounds) -> Iterator[Design]:
    """Standing hosts for surge hosts and the other way round: all of them, or a half."""
    pool = design.pool
    hosts = pool.hosts
    if "hosts" not in bounds.free or pool.kind == "dedicated":
        return
    for standing in (0, hosts.standing // 2, hosts.standing + hosts.surge // 2, hosts.most):
        if standing != hosts.standing:
            own = replace(hosts, standing=standing, surge=hosts.most - standing)
            yield replace(design, pool=replace(pool, hosts=own))


def other_size(draw: Draw, design: Design, bounds: Bounds, knob: Knob) -> Design | None:
    """The design on hosts of another size."""
    others = [size for size in knob.values if size != design.pool.size]
    return sized(design, bounds, draw.one(others)) if others else None


def _counting(draw: Draw, design: Design, bounds: Bounds) -> int:
    """The place of a kind of day that says something."""
    places = [k for k, kind in enumerate(design.schedule.day_types) if kind.id in bounds.kinds]
    return int(draw.one(places))


def _with_kind(design: Design, at: int, kind: DayType) -> Design | None:
    if not in_order(kind):
        return None
    kinds = design.schedule.day_types
    changed = (*kinds[:at], kind, *kinds[at + 1 :])
    return replace(design, schedule=replace(design.schedule, day_types=changed))


def split(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """A band that begins somewhere within another, and has one thing otherwise."""
    at = _counting(draw, design, bounds)
    kind = design.schedule.day_types[at]
    if len(kind.bands) >= MOST_BANDS:
        return None
    start = QUARTER * (1 + draw.below(DAY // QUARTER - 1))
    starts = [band.start for band in kind.bands]
    if start in starts:
        return None
    k = max(i for i, each in enumerate(starts) if each < start)
    parted = _with_kind(design, at, _cut(kind, start))
    if parted is None:
        return None
    place = ("schedule", "day_types", at, "bands", k + draw.below(2))
    knobs = [knob for knob in knobs_of(parted, bounds) if knob.where[:5] == place]
    if not knobs:
        return None
    knob = draw.one(knobs)
    return knob.turned(parted, _steps(draw, knob, parted))


def _joined(design: Design, at: int, k: int, kept: Band) -> Design | None:
    """The design with two bands of a day, the k-th and the one after it, as one."""
    kind = design.schedule.day_types[at]
    bands = (*kind.bands[:k], replace(kept, start=kind.bands[k].start), *kind.bands[k + 2 :])
    return _with_kind(design, at, replace(kind, bands=bands))


def one_band_less(design: Design, bounds: Bounds) -> Iterator[Design]:
    """Each two bands that follow each other as one, with what either says."""
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
    """Two bands of a day as one, with the rules of either."""
    at = _counting(draw, design, bounds)
    kind = design.schedule.day_types[at]
    if len(kind.bands) < 2:
        return None
    k = draw.below(len(kind.bands) - 1)
    first, second = kind.bands[k], kind.bands[k + 1]
    return _joined(design, at, k, first if draw.chance(0.5) else second)


def scale(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """All floors, or all open slots, of a kind of day a good deal higher or lower."""
    at = _counting(draw, design, bounds)
    kind, by = design.schedule.day_types[at], draw.one(_FACTORS)
    field = draw.one(("floor", "headroom"))

    def of(band: Band) -> Band:
        now = getattr(band, field)
        changed = round(now * by)
        if changed == now and now:
            changed = now + (1 if by > 1.0 else -1)
        return replace(band, **{field: changed})

    return _with_kind(design, at, replace(kind, bands=tuple(of(band) for band in kind.bands)))


def shift(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """All bands of a kind of day some quarter hours earlier or later."""
    at = _counting(draw, design, bounds)
    kind = design.schedule.day_types[at]
    by = QUARTER * draw.one((-2, -1, 1, 2))
    bands = tuple(
        band if k == 0 else replace(band, start=band.start + by)
        for k, band in enumerate(kind.bands)
    )
    return _with_kind(design, at, replace(kind, bands=bands))


def alike(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """One value of a band in all bands of the kinds of day that count."""
    kind = design.schedule.day_types[_counting(draw, design, bounds)]
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


def ready_by(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """A target less: floors may do what it does."""
    at = _counting(draw, design, bounds)
    kind = design.schedule.day_types[at]
    if kind.ready_by and draw.chance(0.6):
        k = draw.below(len(kind.ready_by))
        return _with_kind(
            design, at, replace(kind, ready_by=(*kind.ready_by[:k], *kind.ready_by[k + 1 :]))
        )
    return None


Move = Callable[[Draw, Design, Bounds], Design | None]
#: Moves with how often they are tried at first.
MOVES: tuple[tuple[Move, float], ...] = (
    (turn, 8.0), (split, 1.5), (join, 1.5), (scale, 1.0), (shift, 0.7), (alike, 0.8),
    (ready_by, 0.2), (own_timeouts, 0.5),
)  # fmt: skip
_SCHEDULE_MOVES = (split, join, scale, shift, alike, ready_by)


def moves_for(bounds: Bounds) -> list[tuple[Move, float]]:
    """The moves that these freedoms allow."""
    free = "schedule" in bounds.free and bounds.kinds
    found = [(move, often) for move, often in MOVES if free or move not in _SCHEDULE_MOVES]
    if edges_free(bounds):
        return found
    return [(move, often) for move, often in found if move not in (split, join, shift)]


def cross(draw: Draw, one: Design, two: Design) -> Design:
    """A design with each kind of day of either of two, and the pool of the first."""
    others = {kind.id: kind for kind in two.schedule.day_types}

    def of(kind: DayType) -> DayType:
        return others.get(kind.id, kind) if draw.chance(0.5) else kind

    return fitted(one.kinds_changed(of))


def allowed(design: Design, bounds: Bounds) -> bool:
    """Whether a design is one that a plan may hold, within what may be turned."""
    if not all(in_order(kind) for kind in design.schedule.day_types):
        return False
    return within_bounds(design, bounds)
