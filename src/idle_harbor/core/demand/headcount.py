"""Named people: a group's patterns, date by date, become spells (drawn by compiled loops)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from math import ceil

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.base.stopping import go_on, in_threads
from idle_harbor.core.calendar.clock import DAY, Horizon
from idle_harbor.core.calendar.occasions import Effect, effect_on
from idle_harbor.core.calendar.walls import wall_pieces
from idle_harbor.core.demand import draws
from idle_harbor.core.demand.kernel import spells as kernel
from idle_harbor.core.demand.together import Common, common_on, furthest_shift
from idle_harbor.core.plan import (
    Access,
    Event,
    Group,
    Headcount,
    Histogram,
    Leaving,
    Pattern,
    Site,
    Spread,
)
from idle_harbor.core.plan.patterns import LATE_WORK

_YEAR_DAYS = 365.25
#: Below this many people-days a second thread costs more than it saves.
_WORTH_A_THREAD = 60_000
_EVERYONE = np.empty(0, dtype=np.uint8)


@dataclass(frozen=True, slots=True)
class Comer:
    """A group as it comes to a pool: its site, its events, and what it opens there.

    The indexes are places in the plan's lists: what its desktop runs (or its apps, where they
    are all it opens), what its apps run where they are a session of their own, and the group.
    """

    group: Group
    site: Site
    events: tuple[Event, ...]
    uses: tuple[Access, ...]
    profile_index: int
    apps_profile_index: int
    group_index: int


def grown(group: Group, day: date) -> float:
    """The factor by which a group has grown by a date."""
    if group.growth is None:
        return 1.0
    years = (day - group.growth.since).days / _YEAR_DAYS
    return float((1.0 + group.growth.per_year) ** years)


def people_on(group: Group, day: date) -> int:
    """Headcount of a group on a date, growth included, to the nearest whole person."""
    assert isinstance(group.demand, Headcount)
    return round(group.demand.people * grown(group, day))


def days_for(comer: Comer, horizon: Horizon) -> list[date]:
    """Local dates whose spells may touch the horizon: long patterns and far zones reach over."""
    before = 1
    if isinstance(comer.group.demand, Headcount):
        common = furthest_shift(comer.site)
        for pattern in comer.group.demand.patterns:
            latest = _furthest(pattern.start.spread, 3.0) + _furthest(pattern.length.spread, 6.0)
            latest += 2 * LATE_WORK * (pattern.habits.works_late > 0.0)
            before = max(before, ceil((latest + common) / DAY))
    shifts = max((ceil(abs(e.shift_minutes) * 60 / DAY) for e in comer.events), default=0)
    first = horizon.first_day - timedelta(days=before + shifts)
    count = len(horizon.dates) + before + 1 + 2 * shifts
    return [first + timedelta(days=k) for k in range(count)]


def _furthest(spread: Spread, deviations: float) -> float:
    if isinstance(spread, Histogram):
        return spread.first + spread.step * len(spread.weights)
    return spread.mean + deviations * spread.sd


@dataclass(frozen=True, slots=True)
class _Tables:
    """A group's patterns as the compiled loop reads them, attendance left open."""

    patterns: NDArray[np.float64]
    breaks: NDArray[np.float64]
    histograms: NDArray[np.float64]
    draws: tuple[int, ...]


def _edges_of(leaving: Leaving) -> tuple[float, float]:
    """Uniforms from these on mean disconnecting, and walking away; never reached is 2."""
    walks = leaving.sign_off + leaving.disconnect if leaving.walk_away > 0.0 else 2.0
    stays = leaving.disconnect > 0.0 or leaving.walk_away > 0.0
    return (leaving.sign_off if stays else 2.0), walks


def _spread_row(spread: Spread, histograms: list[float]) -> list[float]:
    if isinstance(spread, Histogram):
        total = sum(spread.weights)
        at = len(histograms)
        histograms.extend((np.cumsum(spread.weights) / total).tolist())
        histograms[-1] = 1.0
        return [spread.first, spread.step, at, len(spread.weights)]
    return [spread.mean, spread.sd, -1.0, 0.0]


def _tables(patterns: Sequence[Pattern]) -> _Tables:
    rows: list[list[float]] = []
    breaks: list[list[float]] = []
    histograms: list[float] = []
    for pattern in patterns:
        rows.append(
            [
                0.0,
                *_spread_row(pattern.start.spread, histograms),
                *_spread_row(pattern.length.spread, histograms),
                *_edges_of(pattern.leaving),
                len(breaks),
                len(pattern.pauses),
            ]
        )
        for each in pattern.pauses:
            pause = each.taken
            breaks.append(
                [
                    pause.probability,
                    -1.0 if pause.clock is None else pattern.break_start(pause),
                    float(pause.after or 0),
                    60.0 * pause.sd_minutes,
                    60.0 * pause.mean_minutes,
                    60.0 * pause.length_sd_minutes,
                    *_edges_of(pause.leaving),
                    each.draws,
                    each.works_on,
                ]
            )
    return _Tables(
        np.array(rows, dtype=np.float64).reshape(-1, kernel.PATTERN_COLUMNS),
        np.array(breaks, dtype=np.float64).reshape(-1, kernel.BREAK_COLUMNS),
        np.array(histograms or [1.0], dtype=np.float64),
        tuple(sorted({each.draws for pattern in patterns for each in pattern.pauses})),
    )


@dataclass(frozen=True, slots=True)
class Sheet:
    """Who of a group may come on a date: people by number, chances by pattern.

    ``chances`` has each pattern's attendance for the date before events, None where it is not
    valid; ``shares`` are cumulated over the valid ones; ``crews`` replaces them in a rotation.
    """

    day: date
    people: int
    effect: Effect
    chances: tuple[float, ...]
    edges: tuple[float, ...]
    crews: tuple[int, ...]
    crew_shift: int

    @property
    def copies(self) -> int:
        """How many times over people may come: more than once where events pass attendance 1."""
        return ceil(max(self.chances, default=0.0) * self.effect.factor - 1e-12)

    def of_crew(self, crew: int) -> NDArray[np.float64]:
        """The expected share of the people who come of one crew of a rotation, by pattern."""
        turns = len(self.crews)
        found = np.zeros(len(self.chances))
        if turns == 1:
            # Everybody has the pattern of an event.
            return self.coming
        chosen = self.crews[(crew + self.crew_shift) % turns]
        if chosen >= 0:
            found[chosen] = self.chances[chosen] * self.effect.factor / turns
        return found

    @property
    def coming(self) -> NDArray[np.float64]:
        """The expected share of the people who come, by pattern."""
        shares = np.diff(self.edges, prepend=0.0)
        if self.crews:
            counts = np.bincount([c for c in self.crews if c >= 0], minlength=len(self.chances))
            shares = counts / len(self.crews)
        found: NDArray[np.float64] = shares * np.array(self.chances) * self.effect.factor
        return found


def sheet_of(comer: Comer, day: date) -> Sheet | None:
    """The sheet of a date, or None where nobody can come."""
    group = comer.group
    demand = group.demand
    assert isinstance(demand, Headcount)
    people = people_on(group, day)
    effect = effect_on(group, comer.site, comer.events, day)
    if people <= 0 or not demand.patterns or effect.factor <= 0.0:
        return None
    names = [pattern.id for pattern in demand.patterns]
    on_day = [pattern.attendance[day.weekday()] for pattern in demand.patterns]
    crews: tuple[int, ...] = ()
    crew_shift = 0
    if effect.pattern in names:
        crews = (names.index(effect.pattern),)
    elif demand.rotation is not None:
        turn = demand.rotation
        crews = tuple(-1 if name is None else names.index(name) for name in turn.order)
        crew_shift = ((day - turn.since).days // turn.every_days) % len(crews)
    shares = [
        pattern.share if chance is not None else 0.0
        for pattern, chance in zip(demand.patterns, on_day, strict=True)
    ]
    chances = tuple(chance or 0.0 for chance in on_day)
    weights = [1.0 if k in crews else 0.0 for k in range(len(names))] if crews else shares
    if not any(chance * weight for chance, weight in zip(chances, weights, strict=True)):
        return None
    edges = np.cumsum(shares)
    if edges[-1] > 0.0:
        edges /= edges[-1]
    return Sheet(day, people, effect, chances, tuple(edges.tolist()), crews, crew_shift)


@dataclass(slots=True)
class Rows:
    """Spells before they are ordered: times from the horizon's start, ``member`` by comer, ``day``
    the working day that they belong to, counted from the horizon's first date."""

    person: NDArray[np.int32]
    start: NDArray[np.int32]
    end: NDArray[np.int32]
    leaving: NDArray[np.int8]
    member: NDArray[np.int16]
    day: NDArray[np.int16]

    def cut(self, count: int) -> Rows:
        """The first ``count`` rows."""
        return Rows(
            self.person[:count],
            self.start[:count],
            self.end[:count],
            self.leaving[:count],
            self.member[:count],
            self.day[:count],
        )


def empty_rows(count: int) -> Rows:
    """Room for so many rows."""
    return Rows(
        np.empty(count, np.int32),
        np.empty(count, np.int32),
        np.empty(count, np.int32),
        np.empty(count, np.int8),
        np.empty(count, np.int16),
        np.empty(count, np.int16),
    )


@dataclass(frozen=True, slots=True)
class Member:
    """A comer with its sheets and its place among the people of a pool.

    ``ids`` numbers its base people; ``stride`` is the most people any date has, ``offset`` where
    its own numbers begin: the k-th person's c-th copy is ``offset + c * stride + k``.
    """

    comer: Comer
    index: int
    sheets: tuple[Sheet, ...]
    offset: int
    stride: int
    copies: int
    ids: NDArray[np.int32]

    def numbers(self, copy: int) -> NDArray[np.int32]:
        """Person numbers of a copy of the group."""
        if copy == 0:
            return self.ids
        begin = self.offset + copy * self.stride
        return np.arange(begin, begin + self.stride, dtype=np.int32)


def _attends(sheet: Sheet, common: Common, copy: int) -> NDArray[np.float64]:
    """The chance that a person of a copy comes, by pattern.

    A good day brings all of those who could come, and nobody twice: only events bring more.
    """
    wanted = np.array(sheet.chances) * sheet.effect.factor * common.factor
    return np.clip(wanted - copy, 0.0, 1.0)


class _Drawer:
    """Fills rows with the spells of jobs (member, sheet), with scratch space of its own."""

    def __init__(
        self,
        horizon: Horizon,
        seed: int,
        jobs: Sequence[tuple[Member, Sheet]],
        apps_from: int | None,
    ) -> None:
        self.horizon, self.seed, self.jobs, self.apps_from = horizon, seed, jobs, apps_from
        members = {member.index: member for member, _ in jobs}
        self.tables = {index: _patterns_of(member) for index, member in members.items()}
        most = max((member.stride for member, _ in jobs), default=0)
        lines = 1 + max((max(t.draws, default=-1) for t in self.tables.values()), default=-1)
        self.uniforms = np.empty((kernel.U_BREAKS + kernel.BREAK_DRAWS * lines, most))
        room = 0
        for member, sheet in jobs:
            spells = 1 + len(self.tables[member.index].draws)
            room += sheet.people * sheet.copies * spells * (1 if apps_from is None else 2)
        self.rows = empty_rows(room)
        self.cursor = 0

    def run(self) -> Rows:
        for member, sheet in self.jobs:
            go_on()
            before = self.cursor
            common = common_on(member.comer.site, sheet.day, self.seed)
            for copy in range(sheet.copies):
                self._copy(member, sheet, common, copy)
            self.rows.member[before : self.cursor] = member.index
            day = (sheet.day - self.horizon.first_day).days
            self.rows.day[before : self.cursor] = day
        return self.rows.cut(self.cursor)

    def _copy(self, member: Member, sheet: Sheet, common: Common, copy: int) -> None:
        tables = self.tables[member.index]
        group = member.comer.group.id
        attends = _attends(sheet, common, copy)
        wanted = {"start": kernel.U_START, "length": kernel.U_LENGTH, "leaving": kernel.U_LEAVING}
        if not sheet.crews and len(sheet.edges) > 1:
            wanted["pattern"] = kernel.U_PATTERN
        if attends.min() < 1.0:
            wanted["attends"] = kernel.U_ATTENDS
        for number in tables.draws:
            row = kernel.U_BREAKS + kernel.BREAK_DRAWS * number
            wanted[f"break {number} taken"] = row + kernel.U_TAKEN
            wanted[f"break {number} at"] = row + kernel.U_AT
            wanted[f"break {number} length"] = row + kernel.U_AWAY
            wanted[f"break {number} leaving"] = row + kernel.U_WAY
        # People beyond the first copy have keys of their own.
        keys = [
            draws.philox_key(
                self.seed, group, sheet.day, purpose if copy == 0 else f"extra {copy} {purpose}"
            )
            for purpose in wanted
        ]
        draws.fill(self.uniforms, list(wanted.values()), keys, sheet.people)
        patterns = tables.patterns.copy()
        patterns[:, kernel.P_ATTENDS] = attends
        for ids, opens in self._openings(member, sheet, copy):
            self._spells(member, sheet, common.shift, patterns, opens, ids)

    def _spells(
        self,
        member: Member,
        sheet: Sheet,
        shift: float,
        patterns: NDArray[np.float64],
        opens: NDArray[np.uint8],
        ids: NDArray[np.int32],
    ) -> None:
        tables = self.tables[member.index]
        pieces = wall_pieces(member.comer.site.time_zone, sheet.day).copy()
        pieces[:, 1] += self.horizon.start
        pieces[:, 2] -= self.horizon.start
        rows = self.rows
        self.cursor = kernel.day_spells(
            sheet.people,
            self.uniforms,
            np.array(sheet.edges),
            np.array(sheet.crews, np.int64),
            sheet.crew_shift,
            patterns,
            tables.breaks,
            tables.histograms,
            pieces,
            float(sheet.effect.shift) + shift,
            opens,
            ids,
            self.horizon.end - self.horizon.start,
            rows.person,
            rows.start,
            rows.end,
            rows.leaving,
            self.cursor,
        )

    def _openings(
        self, member: Member, sheet: Sheet, copy: int
    ) -> Iterator[tuple[NDArray[np.int32], NDArray[np.uint8]]]:
        """Person numbers with who of them opens the pool, once for each session they may have."""
        numbers = member.numbers(copy)
        opened: dict[str, NDArray[np.uint8]] = {}
        for use in member.comer.uses:
            key = f"opens {use.pool} {use.use_as}"
            if use.use < 1.0:
                u = draws.uniforms(sheet.people, self.seed, use.group, sheet.day, f"{key} {copy}")
                opened[use.use_as] = (u < use.use).astype(np.uint8)
            else:
                opened[use.use_as] = np.ones(sheet.people, dtype=np.uint8)
        if self.apps_from is not None and "apps" in opened:
            # Apps are a session of their own: a second number for the same person.
            yield numbers + np.int32(self.apps_from), opened["apps"]
            if "desktop" in opened:
                yield numbers, opened["desktop"]
            return
        either = np.maximum.reduce(list(opened.values()))
        yield numbers, _EVERYONE if either.all() else either


def _patterns_of(member: Member) -> _Tables:
    assert isinstance(member.comer.group.demand, Headcount)
    return _tables(member.comer.group.demand.patterns)


def headcount_rows(
    members: Sequence[Member], horizon: Horizon, seed: int, apps_from: int | None
) -> list[Rows]:
    """Spells of all members in order of (member, date, person), large ones on two threads.

    Where desktop and apps are two sessions, the apps of person p have the number
    ``apps_from`` + p; None makes them one.
    """
    jobs = [(member, sheet) for member in members for sheet in member.sheets]
    work = np.cumsum([sheet.people * sheet.copies for _, sheet in jobs])
    if not jobs:
        return []
    parts = [jobs]
    if work[-1] > _WORTH_A_THREAD:
        middle = int(np.searchsorted(work, work[-1] / 2)) + 1
        parts = [jobs[:middle], jobs[middle:]]
    drawers = [_Drawer(horizon, seed, part, apps_from) for part in parts if part]
    if len(drawers) == 1:
        return [drawers[0].run()]
    return in_threads(_Drawer.run, drawers)
