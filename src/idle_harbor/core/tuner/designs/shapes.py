"""Changes of a whole design: repairs, more capacity, quiet hours, other hosts."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import replace
from math import ceil

from idle_harbor.core.plan import Band, DayType, Pool
from idle_harbor.core.plan.schedules import ReadyBy, Timeouts, cut
from idle_harbor.core.tuner.designs.design import QUARTER, Design, band_within
from idle_harbor.core.tuner.designs.knobs import (
    OWN_TIMEOUTS,
    Bounds,
    knobs_of,
    path_of,
    turnable_of,
)
from idle_harbor.core.tuner.designs.pins import edges_free


def together(bands: Iterable[Band]) -> tuple[Band, ...]:
    """Bands with equal neighbours merged."""
    found: list[Band] = []
    for band in bands:
        if not found or band.drain_steps or not band.says_as(found[-1]):
            found.append(band)
    return tuple(found)


def in_order(kind: DayType, begins: int) -> bool:
    """Whether bands are in order from the beginning of the day on (seconds from the date's 00:00),
    and each drain step lies within its band."""
    starts, ends = [band.start for band in kind.bands], kind.ends
    return (
        starts[0] == begins
        and all(a < b for a, b in zip(starts, ends, strict=True))
        and all(
            band.start <= step.by < end
            for band, end in zip(kind.bands, ends, strict=True)
            for step in band.drain_steps
        )
        and len({target.at for target in kind.ready_by}) == len(kind.ready_by)
    )


def days_in_order(design: Design) -> bool:
    """Whether all kinds of day of a design are in order."""
    schedule = design.schedule
    return all(in_order(kind, schedule.day_begins) for kind in schedule.day_types)


def _under_targets(band: Band, ready_by: Sequence[ReadyBy], end: int, standing: int) -> Band:
    """The band with a lid that leaves room for the targets within it."""
    if band.lid is None:
        return band
    asked = [each.least(standing) for each in ready_by if band.start <= each.at < end]
    lid = max([band.lid, *asked])
    return band if lid == band.lid else replace(band, lid=lid)


def fitted(design: Design) -> Design:
    """The design repaired so that a plan may hold it: no value asks for more than there can be."""
    pool = design.pool
    most = pool.hosts.most

    def kind_of(kind: DayType) -> DayType:
        ready_by = tuple(
            each if each.hosts <= most else replace(each, hosts=most) for each in kind.ready_by
        )
        bands = together(
            _under_targets(band_within(band, pool), ready_by, end, pool.hosts.standing)
            for band, end in zip(kind.bands, kind.ends, strict=True)
        )
        if bands == kind.bands and ready_by == kind.ready_by:
            return kind
        return replace(kind, bands=bands, ready_by=ready_by)

    return design.kinds_changed(kind_of)


def _banded(design: Design, kinds: frozenset[str], of: Callable[[Band], Band]) -> Design:
    """The design with one change in all bands of some kinds of day."""

    def of_kind(kind: DayType) -> DayType:
        return replace(kind, bands=tuple(map(of, kind.bands))) if kind.id in kinds else kind

    return design.kinds_changed(of_kind)


def with_lids(design: Design, kinds: frozenset[str]) -> Design:
    """The design with at most as many hosts in each band as its floor, where none starts at a
    knock."""

    def of(band: Band) -> Band:
        return band if band.knock else replace(band, lid=max(band.floor, 1))

    return _banded(design, kinds, of)


def without_lids(design: Design, kinds: frozenset[str]) -> Design:
    """The design without lids: a search asks for fewer hosts instead."""

    return _banded(design, kinds, lambda band: replace(band, lid=None))


def knocking(design: Design, kinds: frozenset[str]) -> Design:
    """The design with knock starts in bands without headroom."""

    def of(band: Band) -> Band:
        open_slots = band.headroom or band.headroom_share
        return band if open_slots else replace(band, knock=True)

    return _banded(design, kinds, of)


def longer(design: Design, bounds: Bounds, steps: int) -> Design:
    """The design with longer timeouts of the pool, by so many steps within the bounds."""
    found = design
    for knob in knobs_of(design, bounds):
        if knob.tuned.belongs == "timeouts" and knob.where[0] == "pool":
            found = knob.turned(found, steps) or found
    return found


def wider(design: Design, kinds: frozenset[str], by: float, quarters: int = 0) -> Design:
    """The design with floors and headroom multiplied by a factor and rounded up. Bands that ask for
    more than the band before begin some quarter hours earlier, those that ask for less later."""
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
        if in_order(moved, design.schedule.day_begins):
            return moved
        same = zip(found, kind.bands, strict=True)
        return replace(kind, bands=tuple(replace(b, start=was.start) for b, was in same))

    return fitted(design.kinds_changed(of))


def shortest_timeouts(bounds: Bounds) -> Timeouts:
    """The shortest timeouts that a band may have."""
    found = {}
    for each in turnable_of(Timeouts):
        low, high = bounds.within.get(path_of((*OWN_TIMEOUTS, each.name)), (0.0, float("inf")))
        known = [value for value in each.values if value is not None and low <= value <= high]
        found[each.name] = min(known, default=each.values[0])
    return Timeouts(**found)


def quiet(
    design: Design, bounds: Bounds, hours: Sequence[tuple[int, int]], own: Timeouts
) -> Design:
    """The design with timeouts of their own in quiet hours (first and last quarter hour of each).

    Where bands may not be split, only bands that lie within get them. The design itself where the
    pool has these timeouts already.
    """
    if own == Timeouts(design.pool.idle_timeout, design.pool.disconnected_timeout):
        return design

    def of(kind: DayType) -> DayType:
        if kind.id not in bounds.kinds:
            return kind
        if edges_free(bounds):
            for edge in sorted({kind.begins + QUARTER * k for pair in hours for k in pair}):
                kind = cut(kind, edge)
        ends = kind.ends
        within = [
            any(
                QUARTER * a <= band.start - kind.begins and end - kind.begins <= QUARTER * b
                for a, b in hours
            )
            for band, end in zip(kind.bands, ends, strict=True)
        ]
        bands = (
            replace(band, timeouts=own) if now else band
            for band, now in zip(kind.bands, within, strict=True)
        )
        return replace(kind, bands=together(bands))

    return design.kinds_changed(of)


def at_a_place(pool: Pool, bounds: Bounds) -> Pool:
    """The pool at a place that offers its host size: its own place where possible."""
    having = [place for place, sizes in bounds.places.items() if pool.size in sizes]
    if not having or pool.place in having:
        return pool
    return replace(pool, place=having[0], zones=())


def with_slots(pool: Pool, slots: int) -> Pool:
    """The pool with enough standing hosts for so many sessions beside its surge hosts. Throwaway
    hosts all become surge hosts, since standing ones would always run."""
    needed = min(-(-slots // pool.session_limit), 10_000)
    hosts = pool.hosts
    if hosts.throwaway:
        hosts = replace(hosts, standing=0, surge=max(needed, 1))
    else:
        hosts = replace(hosts, standing=max(needed - hosts.surge, 1))
    return replace(pool, hosts=hosts)


def sized(design: Design, bounds: Bounds, size: str) -> Design:
    """The design on another host size, with the session limit that it bears and enough hosts for
    the same number of sessions, as far as these are free."""
    pool = design.pool
    limit = pool.session_limit
    if pool.kind == "shared" and "limit" in bounds.free:
        limit = max(bounds.density[size], 1)
    changed = at_a_place(replace(pool, size=size, session_limit=limit), bounds)
    if "hosts" in bounds.free:
        changed = with_slots(changed, pool.hosts.most * pool.session_limit)
    return fitted(replace(design, pool=changed))


def traded(design: Design, bounds: Bounds) -> Iterator[Design]:
    """Exchange standing hosts for surge hosts and the reverse: all of them, or half."""
    pool = design.pool
    hosts = pool.hosts
    if "hosts" not in bounds.free or pool.kind == "dedicated":
        return
    for standing in (0, hosts.standing // 2, hosts.standing + hosts.surge // 2, hosts.most):
        if standing != hosts.standing:
            own = replace(hosts, standing=standing, surge=hosts.most - standing)
            yield replace(design, pool=replace(pool, hosts=own))
