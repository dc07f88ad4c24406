"""Groups and patterns become spells: who wants a desktop from when to when, and how they leave."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core import draws
from idle_harbor.core.calendar import DAY, EPOCH, HOUR, Horizon, local_to_instants, transitions
from idle_harbor.core.plan import DropIn, Group, Headcount, Leaving, Pattern, Plan

#: Nobody's working day is shorter than this, whatever the draw says.
LEAST_LENGTH = 600
#: Ends beyond this many seconds are all the same: after every horizon (34 years).
FURTHEST = 2**30
#: A pattern may begin a day before and its spell end a day after the horizon.
_REACH = timedelta(days=1)

Ints: TypeAlias = NDArray[np.int32]
Longs: TypeAlias = NDArray[np.int64]


@dataclass(frozen=True, slots=True)
class Spells:
    """Spells of one pool over one horizon, sorted by (start, person).

    All arrays have one entry per spell. ``start`` and ``end`` are seconds from the horizon's
    start; where ``from_connection`` is 1, ``end`` is instead a length in seconds that begins at
    connection. ``person`` counts from 0 over all groups; ``group`` and ``profile`` index the
    plan's lists; ``leaving`` is SIGN_OFF, DISCONNECT or WALK_AWAY.
    """

    person: Ints
    start: Ints
    end: Ints
    from_connection: NDArray[np.int8]
    leaving: NDArray[np.int8]
    profile: NDArray[np.int16]
    group: NDArray[np.int16]
    people: int

    def __len__(self) -> int:
        return len(self.start)


@dataclass(slots=True)
class _Block:
    """Spells of one group before they are put together; ``start``/``end`` are instants."""

    person: Longs
    start: Longs
    end: Longs
    leaving: Longs


def _ways(u: draws.Floats, leaving: Leaving) -> Longs:
    edges = np.array([leaving.sign_off, leaving.sign_off + leaving.disconnect])
    if leaving.walk_away == 0.0:
        edges[1] = 2.0
    if leaving.walk_away == 0.0 and leaving.disconnect == 0.0:
        edges[0] = 2.0
    return np.searchsorted(edges, u, side="right").astype(np.int64)


def _pattern_of_person(
    patterns: tuple[Pattern, ...], weekday: int, u: draws.Floats
) -> tuple[Longs, draws.Floats]:
    """Drawn pattern of each person and that pattern's attendance on the weekday."""
    shares = np.cumsum([pattern.share for pattern in patterns])
    chosen = np.minimum(np.searchsorted(shares, u, side="right"), len(patterns) - 1)
    attendance = np.array([pattern.attendance[weekday] for pattern in patterns])
    return chosen.astype(np.int64), attendance[chosen]


def _spells_of_pattern(
    group: Group, zone: str, day: date, seed: int, people: int, index: int, who: Longs
) -> list[_Block]:
    """Spells on one date of the people ``who`` that follow pattern ``index``."""
    assert isinstance(group.demand, Headcount)
    pattern = group.demand.patterns[index]

    def uniform(purpose: str) -> draws.Floats:
        return draws.uniforms(people, seed, group.id, day, purpose)[who]

    clock = pattern.start_mean + 60.0 * pattern.start_sd_minutes * draws.cut_normals(
        uniform("start")
    )
    start = local_to_instants(zone, day, np.rint(clock).astype(np.int64))
    minutes = pattern.length_mean_minutes + pattern.length_sd_minutes * draws.normals(
        uniform("length")
    )
    end = start + np.maximum(np.rint(60.0 * minutes), LEAST_LENGTH).astype(np.int64)
    last_leaving = _ways(uniform("leaving"), pattern.leaving)

    blocks: list[_Block] = []
    for number, pause in enumerate(pattern.breaks):
        shift = 60.0 * pause.sd_minutes * draws.cut_normals(uniform(f"break {number} at"))
        away = local_to_instants(zone, day, np.rint(pause.at + shift).astype(np.int64))
        length = pause.mean_minutes + pause.length_sd_minutes * draws.normals(
            uniform(f"break {number} length")
        )
        back = away + draws.whole_seconds(60.0 * length)
        taken = uniform(f"break {number} taken") < pause.probability
        taken &= (away > start) & (back < end)
        ways = _ways(uniform(f"break {number} leaving"), pause.leaving)
        blocks.append(_Block(who[taken], start[taken], away[taken], ways[taken]))
        start = np.where(taken, back, start)
    blocks.append(_Block(who, start, end, last_leaving))
    return blocks


def _headcount_blocks(group: Group, zone: str, day: date, seed: int) -> list[_Block]:
    assert isinstance(group.demand, Headcount)
    people, patterns = group.demand.people, group.demand.patterns
    if people == 0 or not patterns:
        return []
    chosen, attendance = _pattern_of_person(
        patterns, day.weekday(), draws.uniforms(people, seed, group.id, day, "pattern")
    )
    comes = draws.uniforms(people, seed, group.id, day, "attends") < attendance
    blocks: list[_Block] = []
    for index in range(len(patterns)):
        who = np.flatnonzero(comes & (chosen == index))
        if len(who):
            blocks += _spells_of_pattern(group, zone, day, seed, people, index, who)
    return blocks


def hourly_pieces(zone: str, day: date) -> tuple[Longs, Longs]:
    """A local date cut where its wall-clock hour changes.

    Returns the instants of the cuts (pieces + 1 of them) and the local hour of each piece. A
    doubled hour appears in two pieces, a skipped one in none; every zone in force today shifts
    by whole quarters of an hour, so quarters of UTC are fine enough.
    """
    quarter = HOUR // 4
    edges = local_to_instants(zone, day, np.array([0, DAY]))
    begin, end = int(edges[0]), int(edges[1])
    instants = np.arange(begin, end, quarter, dtype=np.int64)
    changes, offsets = transitions(zone, day)
    shift = np.array(offsets)[np.searchsorted(np.array(changes), instants, side="right")]
    hours = (instants + shift - (day - EPOCH).days * DAY) // HOUR
    return np.append(instants, end), np.clip(hours, 0, 23)


def _drop_in_block(group: Group, zone: str, day: date, seed: int) -> _Block:
    """Arrivals of one local date by time-rescaling of a unit-rate Poisson process.

    ``end`` holds session lengths. (Çinlar 1975, ch. 4: the arrivals of a process with integrated
    rate Λ are Λ⁻¹ of the arrivals of the unit-rate process.)
    """
    demand = group.demand
    assert isinstance(demand, DropIn)
    cuts, hours = hourly_pieces(zone, day)
    per_second = np.array(demand.arrivals_per_hour[day.weekday()])[hours] / HOUR
    integrated = np.concatenate(([0.0], np.cumsum(per_second * np.diff(cuts))))
    total = float(integrated[-1])
    source = draws.stream(seed, group.id, day, "arrivals")
    unit = np.empty(0)
    reached = 0.0
    while reached < total:
        count = int(total - reached + 6.0 * np.sqrt(total) + 16.0)
        gaps = -np.log1p(-source.random(count))
        unit = np.concatenate((unit, reached + np.cumsum(gaps)))
        reached = float(unit[-1])
    unit = unit[unit < total]
    arrivals = np.floor(np.interp(unit, integrated, cuts.astype(np.float64))).astype(np.int64)
    u = draws.uniforms(len(arrivals), seed, group.id, day, "length")
    mean = 60.0 * demand.session_mean_minutes
    if demand.session_kind == "exponential":
        lengths = -mean * np.log1p(-u)
    elif demand.session_kind == "lognormal":
        lengths = draws.lognormals(u, mean, demand.session_cv)
    else:
        lengths = np.full(len(u), mean)
    order = np.arange(len(arrivals), dtype=np.int64)
    return _Block(order, arrivals, draws.whole_seconds(lengths).astype(np.int64), order * 0)


def _merge_overlaps(block: _Block) -> _Block:
    """Overlapping spells of one person become one, which leaves as its last part does."""
    order = np.lexsort((block.start, block.person))
    person, start = block.person[order], block.start[order]
    end, leaving = block.end[order], block.leaving[order]
    if len(start) < 2 or not np.any((person[1:] == person[:-1]) & (start[1:] < end[:-1])):
        return _Block(person, start, end, leaving)
    keep = np.ones(len(start), dtype=bool)
    last = 0
    for k in range(1, len(start)):
        if person[k] == person[last] and start[k] < end[last]:
            keep[k] = False
            if end[k] > end[last]:
                end[last], leaving[last] = end[k], leaving[k]
        else:
            last = k
    return _Block(person[keep], start[keep], end[keep], leaving[keep])


def _gather(blocks: list[_Block]) -> _Block:
    empty = np.empty(0, dtype=np.int64)
    return _Block(
        np.concatenate([empty, *(b.person for b in blocks)]),
        np.concatenate([empty, *(b.start for b in blocks)]),
        np.concatenate([empty, *(b.end for b in blocks)]),
        np.concatenate([empty, *(b.leaving for b in blocks)]),
    )


def _within(block: _Block, horizon: Horizon, from_connection: bool) -> _Block:
    """Cut to the horizon: who is at work when it starts asks at its first second."""
    if from_connection:
        inside = (block.start >= horizon.start) & (block.start < horizon.end)
        end = block.end[inside]
    else:
        inside = (block.end > horizon.start) & (block.start < horizon.end)
        end = block.end[inside] - horizon.start
    start = np.maximum(block.start[inside] - horizon.start, 0)
    return _Block(block.person[inside], start, end, block.leaving[inside])


@dataclass(frozen=True, slots=True)
class PoolDemand:
    """The groups entitled to a pool, with what of the plan shapes their spells.

    ``zones``, ``profile_indexes`` and ``group_indexes`` run beside ``groups``.
    """

    groups: tuple[Group, ...]
    zones: tuple[str, ...]
    profile_indexes: tuple[int, ...]
    group_indexes: tuple[int, ...]

    @property
    def headcount(self) -> int:
        """Named people; drop-ins have none."""
        return sum(g.demand.people for g in self.groups if isinstance(g.demand, Headcount))

    def expected_spells(self, horizon: Horizon) -> float:
        """How many spells a horizon brings on average, before any is drawn."""
        return sum(_expected(group, day) for group in self.groups for day in horizon.dates)


def demand_of(plan: Plan, pool_id: str) -> PoolDemand:
    """The demand on one pool."""
    entitled = {e.group for e in plan.entitlements if e.pool == pool_id}
    zones = {site.id: site.time_zone for site in plan.sites}
    profiles = [profile.id for profile in plan.profiles]
    chosen = [(k, group) for k, group in enumerate(plan.groups) if group.id in entitled]
    return PoolDemand(
        groups=tuple(group for _, group in chosen),
        zones=tuple(zones[group.site] for _, group in chosen),
        profile_indexes=tuple(profiles.index(group.profile) for _, group in chosen),
        group_indexes=tuple(k for k, _ in chosen),
    )


def _expected(group: Group, day: date) -> float:
    demand = group.demand
    if isinstance(demand, DropIn):
        return sum(demand.arrivals_per_hour[day.weekday()])
    return demand.people * sum(
        p.share * p.attendance[day.weekday()] * (1 + sum(b.probability for b in p.breaks))
        for p in demand.patterns
    )


def _group_block(group: Group, zone: str, horizon: Horizon, seed: int) -> tuple[_Block, int]:
    """Spells of one group in seconds from the horizon's start, and how many people make them."""
    first = horizon.first_day - _REACH
    days = [first + timedelta(days=k) for k in range(len(horizon.dates) + 2)]
    if isinstance(group.demand, DropIn):
        whole = _gather([_drop_in_block(group, zone, day, seed) for day in days])
        block = _within(whole, horizon, from_connection=True)
        block.person = np.arange(len(block.start), dtype=np.int64)
        return block, len(block.start)
    whole = _gather([b for day in days for b in _headcount_blocks(group, zone, day, seed)])
    return _within(_merge_overlaps(whole), horizon, from_connection=False), group.demand.people


def pool_spells(demand: PoolDemand, horizon: Horizon, seed: int) -> Spells:
    """Spells of every group entitled to a pool; people of different groups are different people.

    Cost: about a microsecond per person and day.
    """
    blocks: list[_Block] = []
    offset = 0
    for group, zone in zip(demand.groups, demand.zones, strict=True):
        block, people = _group_block(group, zone, horizon, seed)
        block.person = block.person + offset
        offset += people
        blocks.append(block)
    whole = _gather(blocks)
    sizes = [len(block.start) for block in blocks]
    fixed = [isinstance(group.demand, DropIn) for group in demand.groups]

    def spread(values: Sequence[int], dtype: type[np.generic]) -> NDArray[np.generic]:
        return np.repeat(np.array(values, dtype=dtype), sizes)

    return sorted_spells(
        whole.person,
        whole.start,
        whole.end,
        spread(fixed, np.int8),
        whole.leaving,
        spread(demand.profile_indexes, np.int16),
        spread(demand.group_indexes, np.int16),
        people=offset,
    )


def sorted_spells(
    person: NDArray[np.generic],
    start: NDArray[np.generic],
    end: NDArray[np.generic],
    from_connection: NDArray[np.generic],
    leaving: NDArray[np.generic],
    profile: NDArray[np.generic],
    group: NDArray[np.generic],
    *,
    people: int,
) -> Spells:
    """Spells sorted by (start, person), whatever the order of the arrays given."""
    order = np.lexsort((person, start))
    return Spells(
        person=person[order].astype(np.int32),
        start=start[order].astype(np.int32),
        end=np.minimum(end[order].astype(np.int64), FURTHEST).astype(np.int32),
        from_connection=from_connection[order].astype(np.int8),
        leaving=leaving[order].astype(np.int8),
        profile=profile[order].astype(np.int16),
        group=group[order].astype(np.int16),
        people=people,
    )
