"""Groups and patterns become spells: who wants a desktop from when to when, and how they leave."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta
from math import prod
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.base.caches import bytes_in
from idle_harbor.core.calendar.clock import DAY, Horizon
from idle_harbor.core.calendar.occasions import events_of
from idle_harbor.core.demand.dropins import drop_in_rows, rates_on
from idle_harbor.core.demand.headcount import (
    Comer,
    Member,
    Rows,
    days_for,
    empty_rows,
    headcount_rows,
    people_on,
    sheet_of,
)
from idle_harbor.core.demand.kernel.spells import join_spells
from idle_harbor.core.plan import (
    Access,
    Assigned,
    DropIn,
    Group,
    Headcount,
    Overlap,
    Plan,
    lasts,
)

#: Ends beyond this many seconds are all the same: after every horizon (34 years).
FURTHEST = 2**30

Ints: TypeAlias = NDArray[np.int32]
#: Spells of groups by date, as if everybody opened one desktop.
Known: TypeAlias = dict[tuple[str, date], float]


@dataclass(frozen=True, slots=True)
class Spells:
    """Spells of one pool over one horizon, sorted by (start, person).

    All arrays have one entry per spell. ``start`` and ``end`` are seconds from the horizon's
    start; where ``from_connection`` is 1, ``end`` is instead a length in seconds that begins at
    connection. ``person`` counts from 0 over all groups; ``group`` and ``profile`` index the
    plan's lists; ``leaving`` is SIGN_OFF, DISCONNECT or WALK_AWAY. ``day`` tells the
    working days of a person apart (a night shift is one): the date on which it began, or a number.
    """

    person: Ints
    start: Ints
    end: Ints
    from_connection: NDArray[np.int8]
    leaving: NDArray[np.int8]
    profile: NDArray[np.int16]
    group: NDArray[np.int16]
    day: NDArray[np.int16]
    people: int
    _ends: NDArray[np.int64] | None = field(default=None, init=False, repr=False, compare=False)

    def __len__(self) -> int:
        return len(self.start)

    @property
    def ends(self) -> NDArray[np.int64]:
        """The ends that are known beforehand, each as end × 2³² + person, in order."""
        if self._ends is None:
            known = self.from_connection == 0
            ends = (self.end[known].astype(np.int64) << 32) | self.person[known]
            ends.sort()
            object.__setattr__(self, "_ends", ends)
        assert self._ends is not None
        return self._ends

    @property
    def nbytes(self) -> int:
        """Bytes that the spells hold on to, once their ends have been put in order."""
        return 8 * len(self) + bytes_in(
            self.person,
            self.start,
            self.end,
            self.from_connection,
            self.leaving,
            self.profile,
            self.group,
            self.day,
        )


@dataclass(frozen=True, slots=True)
class PoolDemand:
    """The groups that come to a pool, with all of the plan that shapes their spells.

    ``overlaps`` are the people whom several of them share; with ``two_sessions`` a person's
    apps are a session beside the desktop, else the two are one. Spells that begin before the
    pool's first date or after its last one do not come.
    """

    comers: tuple[Comer, ...]
    overlaps: tuple[Overlap, ...]
    two_sessions: bool
    first_date: date | None = None
    last_date: date | None = None
    _hash: int = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        parts = (self.comers, self.overlaps, self.two_sessions, self.first_date, self.last_date)
        object.__setattr__(self, "_hash", hash(parts))

    def __hash__(self) -> int:
        """Once for each: all that follows from a demand alone is kept by it."""
        return self._hash

    def comes_on(self, day: date) -> bool:
        """Whether there is anything to come to on a local date."""
        return lasts(self.first_date, self.last_date, day)

    def named(self, days: Sequence[date]) -> int:
        """Named people over some dates, each counted once; drop-ins have none.

        A group counts as large as it is on the largest of them, growth included.
        """
        sizes = {
            comer.group.id: max((people_on(comer.group, day) for day in days), default=0)
            for comer in self.comers
            if isinstance(comer.group.demand, Headcount)
        }
        twice = 0
        for shared in shared_people(self, sizes):
            held = [shared.people(group) for group in shared.begins]
            twice += sum(held) - max(held)
        return sum(sizes.values()) - twice

    def expected_spells(self, horizon: Horizon, known: Known | None = None) -> float:
        """How many spells a horizon brings on average, before any is drawn; whoever asks of many
        pools of one plan passes what is ``known`` of its groups by date."""
        known = {} if known is None else known
        return sum(
            _expected(comer, day, self.two_sessions, known)
            for comer in self.comers
            for day in horizon.dates
            if self.comes_on(day)
        )


@dataclass(frozen=True, slots=True)
class Shared:
    """So many people whom several groups of a pool share: the same ones of each, in order.

    ``begins`` has for each group the number of the first of them, ``sizes`` how large it is now.
    """

    count: int
    begins: dict[str, int]
    sizes: dict[str, int]

    def people(self, group: str) -> int:
        """How many of them the group has now: one that shrinks loses its last people first."""
        return min(max(self.sizes[group] - self.begins[group], 0), self.count)


def shared_people(demand: PoolDemand, sizes: dict[str, int]) -> list[Shared]:
    """Who is who in a pool: of each group in an overlap its last people not yet shared."""
    left = {
        comer.group.id: comer.group.demand.people
        for comer in demand.comers
        if isinstance(comer.group.demand, Headcount)
    }
    found = []
    for overlap in demand.overlaps:
        groups = [group for group in left if group in overlap.groups]
        count = min([overlap.people, *(left[group] for group in groups)])
        for group in groups:
            left[group] -= count
        if len(groups) > 1:
            found.append(Shared(count, {group: left[group] for group in groups}, sizes))
    return found


def comer_of(plan: Plan, group: Group, uses: Sequence[Access]) -> Comer:
    """A group with what of its plan shapes its spells."""
    profiles = [profile.id for profile in plan.profiles]
    ran = {use.use_as: profiles.index(use.profile or group.profile) for use in uses}
    own = profiles.index(group.profile)
    return Comer(
        group=group,
        site=next(site for site in plan.sites if site.id == group.site),
        events=events_of(plan, group),
        uses=tuple(uses),
        profile_index=ran.get("desktop", ran.get("apps", own)),
        apps_profile_index=ran.get("apps", own),
        group_index=next(k for k, each in enumerate(plan.groups) if each.id == group.id),
    )


def demand_of(plan: Plan, pool_id: str) -> PoolDemand:
    """The demand on one pool."""
    uses: dict[str, list[Access]] = {}
    for each in plan.access:
        if each.pool == pool_id:
            uses.setdefault(each.group, []).append(each)
    pool = next(pool for pool in plan.pools if pool.id == pool_id)
    return PoolDemand(
        comers=tuple(comer_of(plan, g, uses[g.id]) for g in plan.groups if g.id in uses),
        overlaps=tuple(o for o in plan.overlaps if len(uses.keys() & set(o.groups)) > 1),
        two_sessions=pool.desktop_and_apps == "two sessions",
        first_date=pool.first_date,
        last_date=pool.last_date,
    )


def group_demand(plan: Plan, group: Group) -> PoolDemand:
    """The demand of one group whatever it may use, as if it opened one desktop each time."""
    return PoolDemand((comer_of(plan, group, [Access(group.id, "")]),), (), False)


def _expected(comer: Comer, day: date, two_sessions: bool, known: Known) -> float:
    if isinstance(comer.group.demand, DropIn):
        cuts, per_second = rates_on(comer, day)
        return float(np.sum(np.diff(cuts) * per_second))
    key = comer.group.id, day
    if (spells := known.get(key)) is None:
        spells = known[key] = _expected_of_group(comer, day)
    opened = [use.use for use in comer.uses]
    return spells * (sum(opened) if two_sessions else 1.0 - prod(1.0 - share for share in opened))


def _expected_of_group(comer: Comer, day: date) -> float:
    """Spells of a group on a date, as if everybody opened one desktop."""
    demand = comer.group.demand
    assert isinstance(demand, Headcount)
    sheet = sheet_of(comer, day)
    if sheet is None:
        return 0.0
    spells = [1.0 + sum(b.taken.probability for b in p.pauses) for p in demand.patterns]
    return sheet.people * float(np.sum(sheet.coming * np.array(spells)))


def _members(demand: PoolDemand, horizon: Horizon) -> list[Member]:
    """Comers with a headcount, numbered one after the other; shared people keep one number."""
    members: list[Member] = []
    offset = 0
    for index, comer in enumerate(demand.comers):
        if isinstance(comer.group.demand, DropIn):
            continue
        found = [sheet_of(comer, day) for day in days_for(comer, horizon)]
        sheets = tuple(sheet for sheet in found if sheet is not None)
        stride = max([comer.group.demand.people, *(sheet.people for sheet in sheets)])
        copies = max([1, *(sheet.copies for sheet in sheets)])
        ids = np.arange(offset, offset + stride, dtype=np.int32)
        members.append(Member(comer, index, sheets, offset, stride, copies, ids))
        offset += stride * copies
    by_group = {member.comer.group.id: member for member in members}
    for shared in shared_people(demand, {}):
        places = [
            (by_group[g].ids, slice(at, at + shared.count)) for g, at in shared.begins.items()
        ]
        first, where = places[0]
        for ids, place in places[1:]:
            ids[place] = first[where]
    return members


def homes_of(
    demand: PoolDemand, horizon: Horizon, assigned: Sequence[Assigned]
) -> tuple[tuple[int, int], ...]:
    """The (person, host) pairs, both from 0, that a dedicated pool's list means."""
    if not assigned:
        return ()
    ids = {member.comer.group.id: member.ids for member in _members(demand, horizon)}
    return tuple(
        (int(ids[each.group][each.person - 1]), each.host - 1)
        for each in assigned
        if each.group in ids and each.person <= len(ids[each.group])
    )


def _gathered(parts: Sequence[Rows]) -> Rows:
    if len(parts) == 1:
        return parts[0]
    if not parts:
        return empty_rows(0)
    return Rows(
        np.concatenate([part.person for part in parts]),
        np.concatenate([part.start for part in parts]),
        np.concatenate([part.end for part in parts]),
        np.concatenate([part.leaving for part in parts]),
        np.concatenate([part.member for part in parts]),
        np.concatenate([part.day for part in parts]),
    )


def pool_spells(demand: PoolDemand, horizon: Horizon, seed: int) -> Spells:
    """Spells of every group that comes to a pool, overlapping ones of a person joined.

    People of different groups are different people but for the plan's overlaps.
    """
    members = _members(demand, horizon)
    people = sum(member.stride * member.copies for member in members)
    apps = people if demand.two_sessions else None
    parts = headcount_rows(members, horizon, seed, apps)
    offset = 2 * people if demand.two_sessions else people
    for index, comer in enumerate(demand.comers):
        if isinstance(comer.group.demand, DropIn):
            parts.append(drop_in_rows(comer, index, offset, horizon, seed))
            offset += len(parts[-1].start)
    return _joined(_lasting(_gathered(parts), demand, horizon), demand.comers, offset, apps)


def _lasting(rows: Rows, demand: PoolDemand, horizon: Horizon) -> Rows:
    """Only the spells that begin while the pool exists."""
    if demand.first_date is None and demand.last_date is None:
        return rows
    first, last = demand.first_date or date.min, demand.last_date or date.max
    begin = max(first, horizon.first_day)
    end = min(last, horizon.dates[-1]) + timedelta(days=1)
    low = horizon.beginning_of(begin) - horizon.start
    high = horizon.beginning_of(end) - horizon.start
    kept = np.flatnonzero((rows.start >= low) & (rows.start < high))
    return Rows(
        rows.person[kept],
        rows.start[kept],
        rows.end[kept],
        rows.leaving[kept],
        rows.member[kept],
        rows.day[kept],
    )


def _order(start: Ints, person: Ints) -> Ints:
    """Indexes that sort by (start, person), ties in the order given."""
    keys = (start.astype(np.int64) << 32) | person
    order = np.argsort(keys)
    ordered = keys[order]
    if np.any(ordered[1:] == ordered[:-1]):
        # numpy's quick sort is not stable, and how it breaks ties depends on the processor.
        order = np.argsort(keys, kind="stable")
    return order.astype(np.int32)


def _joined(rows: Rows, comers: Sequence[Comer], people: int, apps: int | None) -> Spells:
    order = _order(rows.start, rows.person)
    result = empty_rows(len(order))
    visits = np.array([isinstance(c.group.demand, DropIn) for c in comers], dtype=np.int8)
    count = join_spells(
        order,
        rows.person,
        rows.start,
        rows.end,
        rows.leaving,
        rows.member,
        rows.day,
        visits,
        np.full(max(people, 1), -1, dtype=np.int32),
        result.person,
        result.start,
        result.end,
        result.leaving,
        result.member,
        result.day,
    )
    done = result.cut(count)
    profiles = np.array([c.profile_index for c in comers], dtype=np.int16)[done.member]
    if apps is not None:
        # The apps of a person are numbered beyond all desktops, and before passers-by.
        second = (done.person >= apps) & (done.person < 2 * apps)
        ran = np.array([c.apps_profile_index for c in comers], dtype=np.int16)
        profiles = np.where(second, ran[done.member], profiles)
    groups = np.array([c.group_index for c in comers], dtype=np.int16)
    return Spells(
        person=done.person,
        start=done.start,
        end=np.minimum(done.end, FURTHEST, dtype=np.int32),
        from_connection=visits[done.member],
        leaving=done.leaving,
        profile=profiles,
        group=groups[done.member],
        day=done.day,
        people=people,
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
    day: NDArray[np.generic] | None = None,
) -> Spells:
    """Spells sorted by (start, person), whatever the order of the arrays given.

    Without a ``day`` their working days are those of 24 hours from the horizon's start.
    """
    order = np.lexsort((person, start))
    days = start.astype(np.int64) // DAY if day is None else day
    return Spells(
        person=person[order].astype(np.int32),
        start=start[order].astype(np.int32),
        end=np.minimum(end[order].astype(np.int64), FURTHEST).astype(np.int32),
        from_connection=from_connection[order].astype(np.int8),
        leaving=leaving[order].astype(np.int8),
        profile=profile[order].astype(np.int16),
        group=group[order].astype(np.int16),
        day=days[order].astype(np.int16),
        people=people,
    )
