"""A tuned design as simple as it can be: what is not worth its place is taken out again."""

from __future__ import annotations

from collections.abc import Callable, Generator, Iterator, Mapping, Sequence
from dataclasses import replace
from typing import TypeAlias

from idle_harbor.core.plan import Band
from idle_harbor.core.tuner.changes import Change, between_of
from idle_harbor.core.tuner.design import Design
from idle_harbor.core.tuner.knobs import put
from idle_harbor.core.tuner.moves import allowed
from idle_harbor.core.tuner.racing import SURE, SURER
from idle_harbor.core.tuner.scores import Score
from idle_harbor.core.tuner.search import Search
from idle_harbor.core.tuner.trials import Trial

#: A thing that is worth less than this share of the money is not worth its place.
WORTH_IT = 0.005
#: A value of a band that is as in the one before it, or as bands have it, need not be told.
_PLAIN = ("rule", "release", "knock", "fill_ceiling", "draining_share", "margin",
          "least_run_minutes", "headroom", "floor", "timeouts")  # fmt: skip
#: Rounds of weeks by which things are ranked before any is taken out.
_RANKED_BY = 1

#: Things taken out one at a time, where they cannot be together.
_TRIES = 8

#: One way to make a design simpler; None where there is nothing to it any more.
Way: TypeAlias = Callable[[Design], Design | None]


def _same(change: Change, other: Change) -> bool:
    return (change.kind, change.before, change.after) == (other.kind, other.before, other.after)


def _undo(current: Design, change: Change) -> Way:
    """One change from the plan of today less."""

    def way(design: Design) -> Design | None:
        between = between_of(current, design)
        left = [each.number for each in between.changes if not _same(each, change)]
        return between.made(left) if len(left) < len(between.changes) else None

    return way


def _band_at(design: Design, kind_id: str, start: int) -> tuple[int, int] | None:
    """The places of a kind of day and of the band of it that begins at a time."""
    for at, kind in enumerate(design.schedule.day_types):
        if kind.id == kind_id:
            for k, band in enumerate(kind.bands):
                if band.start == start:
                    return at, k
    return None


def _as(kind: str, start: int, field: str, value: object) -> Way:
    """A value of a band otherwise."""

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
    """A band put together with the one before it."""

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
    return replace(first, floor=max(first.floor, second.floor),
                   headroom=max(first.headroom, second.headroom))  # fmt: skip


def ways(current: Design, design: Design, search: Search) -> Iterator[Way]:
    """Everything that might be simpler about a design: a change from the plan of today less, a band
    less, a value of a band as today, as in the band before it, or as bands have it."""
    for change in between_of(current, design).changes:
        yield _undo(current, change)
        if isinstance(change.before, Band) and isinstance(change.after, Band):
            for value in change.values:
                if "." not in value.field and value.field != "start":
                    yield _as(change.kind, change.after.start, value.field, value.before)
    plain = Band(0)
    for kind in design.schedule.day_types:
        if kind.id not in search.bounds.kinds or "schedule" not in search.bounds.free:
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


def words(current: Design, design: Design, kinds: frozenset[str]) -> int:
    """How much there is to say of a design: its bands, what differs from one to the next, and what
    differs from the plan of today."""
    said = 0
    for change in between_of(current, design).changes:
        said += max(len(change.values), 1)
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
    return said


def _all_of(search: Search, design: Design, chosen: Sequence[Way]) -> Design:
    for way in chosen:
        design = way(design) or design
    return search.fit(design)


def simplified(
    search: Search, current: Design, design: Design, last: int
) -> Generator[list[Trial], list[list[Score]], Design]:
    """Take out of a design what is not worth its place, the least worth first and many at a time,
    as long as the promise is kept as surely, until so many weeks are used."""
    aim, weeks = search.aims[0], search.weeks
    if not search.keeps(design, aim):
        return design
    sure = SURER if search.keeps(design, aim, SURER) else SURE
    refused: set[Design] = set()
    few = _RANKED_BY * len(weeks)
    kinds = search.bounds.kinds
    while search.used < last:
        tried: dict[Design, Way] = {}
        now = words(current, design, kinds)
        for way in ways(current, design, search):
            simpler = way(design)
            if simpler is None:
                continue
            simpler = search.fit(simpler)
            if simpler in refused or words(current, simpler, kinds) >= now:
                continue
            if allowed(simpler, search.bounds):
                tried.setdefault(simpler, way)
        bar = search.worth(design, aim, few, 0.0) * (1.0 + WORTH_IT)
        yield from search.measure(list(tried), few)
        worths = {d: search.worth(d, aim, few, 0.0) for d in tried}
        ranked = sorted((d for d in tried if worths[d] <= bar), key=lambda d: worths[d])
        refused |= tried.keys() - set(ranked)
        found = yield from _taken_out(search, current, design, ranked, tried, last, sure)
        if found is None:
            refused |= set(ranked[:_TRIES])
            if len(ranked) <= _TRIES:
                break
            continue
        design = found
        search.also(design)
    return design


def _taken_out(
    search: Search,
    current: Design,
    design: Design,
    ranked: Sequence[Design],
    tried: Mapping[Design, Way],
    last: int,
    sure: float,
) -> Generator[list[Trial], list[list[Score]], Design | None]:
    """As many of the things that seem least worth as can be taken out together; None where none of
    the first few can."""
    aim = search.aims[0]
    most = search.money(design) * (1.0 + WORTH_IT)
    many = len(ranked)
    singles = 0
    while many and search.used < last:
        if many > 1:
            changed = _all_of(search, design, [tried[d] for d in ranked[:many]])
        elif singles < min(_TRIES, len(ranked)):
            changed, singles = ranked[singles], singles + 1
        else:
            return None
        many = max(many // 2, 1)
        if changed == design or not allowed(changed, search.bounds):
            continue
        if words(current, changed, search.bounds.kinds) >= words(
            current, design, search.bounds.kinds
        ):
            continue
        yield from search.measure([changed])
        if search.money(changed) <= most and search.keeps(changed, aim, sure):
            return changed
    return None
