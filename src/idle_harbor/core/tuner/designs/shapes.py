"""A design made otherwise as a whole: put right, wider, quiet in some hours, on other hosts."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import replace
from math import ceil

from idle_harbor.core.plan import Band, DayType, Pool
from idle_harbor.core.plan.declare import DAY
from idle_harbor.core.plan.schedules import Timeouts
from idle_harbor.core.tuner.designs.design import QUARTER, Design
from idle_harbor.core.tuner.designs.knobs import Bounds, knobs_of, path_of, turnable_of
from idle_harbor.core.tuner.designs.pins import edges_free


def together(bands: Iterable[Band]) -> tuple[Band, ...]:
    """Bands with those put together that say the same."""
    found: list[Band] = []
    for band in bands:
        if not found or band.drain_steps or not band.says_as(found[-1]):
            found.append(band)
    return tuple(found)


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
            band.floor,
            band.lid,
            band.session_limit,
            band.headroom,
        ):
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


def _banded(design: Design, kinds: frozenset[str], of: Callable[[Band], Band]) -> Design:
    """The design with all bands of some kinds of day changed alike."""

    def of_kind(kind: DayType) -> DayType:
        return replace(kind, bands=tuple(map(of, kind.bands))) if kind.id in kinds else kind

    return design.kinds_changed(of_kind)


def without_lids(design: Design, kinds: frozenset[str]) -> Design:
    """The design without lids: a search asks for fewer hosts instead."""

    return _banded(design, kinds, lambda band: replace(band, lid=None))


def knocking(design: Design, kinds: frozenset[str]) -> Design:
    """The design with a host started at once for whoever finds no room in a band that keeps no
    slots open for them."""

    def of(band: Band) -> Band:
        open_slots = band.headroom or band.headroom_share
        return band if open_slots else replace(band, knock=True)

    return _banded(design, kinds, of)


def longer(design: Design, bounds: Bounds, steps: int) -> Design:
    """The design with its pool's timeouts longer by so many steps, as far as they may be."""
    found = design
    for knob in knobs_of(design, bounds):
        if knob.tuned.belongs == "timeouts" and knob.where[0] == "pool":
            found = knob.turned(found, steps) or found
    return found


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


def cut(kind: DayType, start: int) -> DayType:
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


def shortest_timeouts(bounds: Bounds) -> Timeouts:
    """The shortest timeouts that a band may have."""
    where = ("schedule", "day_types", 0, "bands", 0, "timeouts")
    found = {}
    for each in turnable_of(Timeouts):
        low, high = bounds.within.get(path_of((*where, each.name)), (0.0, float("inf")))
        known = [value for value in each.values if value is not None and low <= value <= high]
        found[each.name] = min(known, default=each.values[0])
    return Timeouts(**found)


def quiet(
    design: Design, bounds: Bounds, hours: Sequence[tuple[int, int]], own: Timeouts
) -> Design:
    """The design with timeouts of their own in the bands of some hours of the day, from one quarter
    hour to another each; where bands may not begin at other times, in those that lie within. The
    same design where its pool has these timeouts anyway."""
    if own == Timeouts(design.pool.idle_timeout, design.pool.disconnected_timeout):
        return design

    def of(kind: DayType) -> DayType:
        if kind.id not in bounds.kinds:
            return kind
        if edges_free(bounds):
            for edge in sorted({QUARTER * each for pair in hours for each in pair}):
                kind = cut(kind, edge)
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


def at_a_place(pool: Pool, bounds: Bounds) -> Pool:
    """The pool where its hosts may be and there are such: at its own place if it can."""
    having = [place for place, sizes in bounds.places.items() if pool.size in sizes]
    if not having or pool.place in having:
        return pool
    return replace(pool, place=having[0], zones=())


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


def sized(design: Design, bounds: Bounds, size: str) -> Design:
    """The design on hosts of another size, as full as these bear, and as many as hold the same,
    where that may be changed."""
    pool = design.pool
    limit = pool.session_limit
    if pool.kind == "shared" and "limit" in bounds.free:
        limit = max(bounds.density[size], 1)
    changed = at_a_place(replace(pool, size=size, session_limit=limit), bounds)
    if "hosts" in bounds.free:
        changed = with_slots(changed, pool.hosts.most * pool.session_limit)
    return fitted(replace(design, pool=changed))


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
