"""First guesses of schedules, from offered load and square-root staffing.

With ample hosts the number of sessions at a moment depends on people and timeouts alone: m(t) =
∫ λ(u) P(S > t − u) du for drop-ins, counted from drawn weeks for everyone. Square-root staffing
(Halfin and Whitt 1981; Green, Kolesar and Whitt 2007, sec. 3) provides m(t) + β √m(t) slots. Here
m is read one start time ahead, since a host that is started now is ready then.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import ceil

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.base.stopping import go_on
from idle_harbor.core.demand.crowd import STEP, day_slices, presence_of
from idle_harbor.core.figures.ideal import follow
from idle_harbor.core.plan import Band, DayType, Pool, Rule
from idle_harbor.core.plan.declare import DAY
from idle_harbor.core.tuner.designs.design import QUARTER, Design, kinds_in_force
from idle_harbor.core.tuner.scoring.scores import Slot, Tried
from idle_harbor.core.weeks.case import drawn_spells

Levels = NDArray[np.float64]

QUARTERS = DAY // QUARTER
_BINS = QUARTER // STEP
_RULES: tuple[Rule, ...] = ("fill", "spread")
#: Bands of a guess at most.
_BANDS, _MANY_BANDS = 7, 9


@dataclass(frozen=True, slots=True)
class Demand:
    """Sessions with ample hosts, by kind of day.

    ``by_kind`` has a row for each drawn day and a column for each quarter hour, with the most
    sessions in it; ``began`` has the number of sessions that begin in it.
    """

    by_kind: dict[str, Levels]
    began: dict[str, Levels]

    def quantile(self, kind: str, share: float) -> Levels:
        """A quantile over the days of a kind, for each quarter hour."""
        found: Levels = np.quantile(self.by_kind[kind], share, axis=0)
        return found

    @property
    def peak(self) -> int:
        """The maximum over all drawn days."""
        return ceil(
            max((float(rows.max(initial=0.0)) for rows in self.by_kind.values()), default=0)
        )


def demand_on(tried: Tried, design: Design, slots: Sequence[Slot]) -> Demand:
    """Count sessions with ample hosts under the timeouts of a design, on some weeks."""
    rows: dict[str, list[Levels]] = {}
    came: dict[str, list[Levels]] = {}
    for slot in slots:
        case = tried.case(design, slot.week)
        setting, horizon = case.setting, case.horizon
        spells = drawn_spells(case.demand, horizon, slot.seed)
        sessions = follow(spells, setting.pool, setting.profiles)
        first = sessions.session_end >= 0
        begins, ends = np.sort(spells.start[first]), np.sort(sessions.session_end[first])
        highest = presence_of(begins, ends, horizon).highest
        for day, begin, end in day_slices(horizon):
            most = np.zeros(QUARTERS)
            found = highest[begin:end]
            for quarter in range(QUARTERS):
                part = found[quarter * _BINS : (quarter + 1) * _BINS]
                most[quarter] = part.max(initial=0)
            kind = setting.schedule.day_type_of(day).id
            rows.setdefault(kind, []).append(most)
            edges = np.append(begin + _BINS * np.arange(QUARTERS), end) * STEP
            edges += horizon.counted - horizon.start
            came.setdefault(kind, []).append(np.diff(np.searchsorted(begins, edges)).astype(float))
    return Demand(*({kind: np.array(each) for kind, each in of.items()} for of in (rows, came)))


def lead_quarters(pool: Pool, tick: int) -> int:
    """Quarter hours from starting a host to its first session: a slow start and a tick."""
    seconds = pool.start.mean_seconds * (1.0 + 2.0 * pool.start.cv) + tick
    return max(ceil(seconds / QUARTER), 1)


def ahead(levels: Levels, quarters: int) -> Levels:
    """For each quarter hour, the maximum from then until so many quarter hours later."""
    longer = np.concatenate((levels, np.repeat(levels[-1:], quarters)))
    found: Levels = np.max([longer[k : k + len(levels)] for k in range(quarters + 1)], axis=0)
    return found


def growth(levels: Levels, quarters: int) -> Levels:
    """For each quarter hour, the growth until so many quarter hours later, at least 0."""
    found: Levels = np.maximum(ahead(levels, quarters) - levels, 0.0)
    return found


def segments(levels: Levels, most: int) -> list[tuple[int, float]]:
    """The step function above a curve with the least area and at most ``most`` steps.

    Returns (first quarter hour, height) of each step, found by dynamic programming over their
    beginnings.
    """
    count = len(levels)
    # Height and area of the step from each beginning (rows) to each end (columns).
    highest = np.zeros((count, count + 1))
    areas = np.full((count, count + 1), np.inf)
    for begin in range(count):
        highest[begin, begin + 1 :] = np.maximum.accumulate(levels[begin:])
        areas[begin, begin + 1 :] = highest[begin, begin + 1 :] * np.arange(1, count - begin + 1)
    best = np.full((most + 1, count + 1), np.inf)
    best[0, 0] = 0.0
    chosen = np.zeros((most + 1, count + 1), dtype=int)
    for used in range(1, most + 1):
        whole = best[used - 1, :count, np.newaxis] + areas
        chosen[used] = np.argmin(whole, axis=0)
        best[used] = np.min(whole, axis=0)
    used = int(np.argmin(best[:, count] + 1e-9 * np.arange(most + 1)))
    found, end = [], count
    while used > 0:
        begin = int(chosen[used, end])
        found.append((begin, float(highest[begin, end])))
        end, used = begin, used - 1
    return found[::-1]


def stepped(kind: DayType, steps: Sequence[tuple[int, Band]]) -> DayType:
    """A kind of day with bands from some quarter hours on; equal neighbours are merged."""
    bands: list[Band] = []
    for quarter, band in steps:
        begun = replace(band, start=kind.begins + quarter * QUARTER)
        if not bands or not begun.says_as(bands[-1]):
            bands.append(begun)
    return replace(kind, bands=tuple(bands), ready_by=())


def guess(
    design: Design,
    demand: Demand,
    floors: dict[str, Levels],
    slots: dict[str, Levels],
    base: Band,
    most: int,
) -> Design:
    """A design with bands of so many hosts at least and so many free slots, on the kinds of day
    that are guessed, with at most ``most`` bands a day."""
    go_on()
    pool = design.pool
    limit, hosts = pool.session_limit, pool.hosts.most

    def of(kind: DayType) -> DayType:
        if kind.id not in demand.by_kind:
            return kind
        curve = np.ceil(floors[kind.id] / limit - 1e-9)
        opened = np.ceil(slots[kind.id] - 1e-9)
        # Floors and headroom share one split; a host counts as its slots.
        cut = segments(curve * limit + opened, most)
        ends = [begin for begin, _ in cut[1:]] + [QUARTERS]
        steps = []
        for (begin, _), end in zip(cut, ends, strict=True):
            floor = min(int(curve[begin:end].max()), hosts)
            open_slots = min(int(opened[begin:end].max()), hosts * limit)
            steps.append((begin, replace(base, floor=floor, headroom=open_slots)))
        return stepped(kind, steps)

    return design.kinds_changed(of)


@dataclass(frozen=True, slots=True, eq=False)
class Family:
    """Guesses that differ in their safety level alone.

    The level raises floors or headroom, all day or while demand grows, with a limited number of
    bands a day.
    """

    design: Design
    demand: Demand
    what: str
    base: Band
    bands: int

    def at(self, level: int) -> Design:
        """The guess at a safety level."""
        share, beta = LEVELS[level]
        pool = self.design.pool
        lead = lead_quarters(pool, self.design.schedule.tick_seconds)
        floors, slots = {}, {}
        if self.what == "every host":
            floors = self._every_host(level, lead)
            slots = {kind: np.zeros(QUARTERS) for kind in floors}
            return guess(self.design, self.demand, floors, slots, self.base, self.bands)
        for kind, rows in self.demand.by_kind.items():
            mean = rows.mean(axis=0)
            root = np.sqrt(mean + 1.0)
            grows = growth(mean, lead)
            nothing = np.zeros(QUARTERS)
            # Sessions vary by chance and between days; the quantiles have the variation of days.
            high = self.demand.quantile(kind, min(0.5 + 0.2 * beta, 1.0)) + max(beta - 1, 0) * root
            hosted, opened = share * ahead(high, lead), share * grows + beta * root
            if self.what in ("floors while more come", "slots while more come"):
                # Growth within a quarter hour counts too: its level is its maximum.
                came = np.maximum(np.diff(mean, prepend=mean[:1]), 0.0)
                more = np.maximum(grows, came) > _MORE * max(float(mean.max()), 1.0)
                hosted, opened = hosted * more, opened * more
            if self.what == "slots alike while people come":
                # The peak's root, since early hours have too few sessions to estimate from.
                opened = share * grows + beta * root.max()
            if self.what.endswith("while people come"):
                rate = self.demand.began[kind].mean(axis=0)
                opened = opened * ahead((rate > _COME * rate.max()).astype(float), lead)
            floors[kind] = nothing if self.what.startswith("slots") else hosted
            slots[kind] = nothing if self.what.startswith("floors") else opened
        return guess(self.design, self.demand, floors, slots, self.base, self.bands)

    def _every_host(self, level: int, lead: int) -> dict[str, Levels]:
        """All hosts are on in the smallest set of quarter hours in which so large a share of the
        people comes."""
        all_began = np.concatenate(list(self.demand.began.values())).sum()
        found, rates = {}, {kind: rows.mean(axis=0) for kind, rows in self.demand.began.items()}
        ranked = sorted(
            (
                (rate[q], len(self.demand.began[kind]), kind, q)
                for kind, rate in rates.items()
                for q in range(QUARTERS)
            ),
            key=lambda each: -each[0],
        )
        covered, on = 0.0, {kind: np.zeros(QUARTERS) for kind in rates}
        for rate, days, kind, quarter in ranked:
            if covered >= _COVERED[level] * all_began or rate == 0.0:
                break
            covered += rate * days
            on[kind][quarter] = 1.0
        for kind, each in on.items():
            found[kind] = self.design.pool.hosts.most * ahead(each, lead)
        return found


#: Shares of the people who find their own host on, by safety level.
_COVERED = (0.7, 0.8, 0.9, 0.93, 0.95, 0.96, 0.97, 0.98, 0.995)
#: How much on the safe side guesses may be, from little to much: the share of what more come, or of
#: the sessions that there are, and roots of the sessions beside.
LEVELS = (
    (0.6, 0.0),
    (1.0, 0.0),
    (1.0, 0.3),
    (1.0, 0.6),
    (1.0, 1.0),
    (1.0, 1.5),
    (1.0, 2.0),
    (1.0, 3.0),
    (1.0, 4.0),
)
_WHAT = ("floors", "slots", "floors while more come", "slots while more come")
#: In a lent pool every arrival needs a host of its own, whether demand grows or not.
_LENT = ("slots while people come", "slots alike while people come")
#: Demand counts as present where so large a share of the busiest quarter hour's sessions begin.
_COME = 0.02
#: Demand counts as growing where sessions grow by so large a share of their peak within a start.
_MORE = 0.02


def families(tried: Tried, design: Design, slots: Sequence[Slot]) -> list[Family]:
    """The families of guesses for the hosts of a design: floors that follow the sessions, or
    headroom for arrivals during a host's start, all day or only while demand grows; each with fill
    and with spread."""
    demand = demand_on(tried, design, slots)
    if design.pool.kind == "dedicated":
        # A floor takes hosts in the order of their numbers, whoever owns them.
        return [Family(design, demand, "every host", Band(0, fill_ceiling=1.0), _MANY_BANDS)]
    shared = design.pool.kind == "shared"
    return [
        Family(design, demand, what, Band(0, fill_ceiling=1.0, rule=rule), _BANDS)
        for rule in (_RULES if shared else _RULES[:1])
        for what in (_WHAT if shared else (*_WHAT, *_LENT))
    ]


# Simple rules ------------------------------------------------------------------------------------


def always_on(design: Design, kinds: frozenset[str], hosts: int) -> Design:
    """The rule that keeps so many hosts always on."""
    pool = design.pool
    many = min(hosts, pool.hosts.most)
    band = Band(0, floor=many, lid=max(many, 1), fill_ceiling=1.0, release="keep all")
    return _simple(design, kinds, [(0, band)])


def day_and_night(
    design: Design,
    kinds: frozenset[str],
    by_day: frozenset[str],
    hours: tuple[int, int],
    hosts: tuple[int, int],
    *,
    knock: bool = False,
) -> Design:
    """The rule with a fixed number of ``hosts`` by day, and another by night and on quiet kinds of
    day, where with ``knock`` any number of hosts start at a knock. ``hours`` are the quarter hours
    at which the day begins and ends."""
    begin, end = hours
    most = design.pool.hosts.most
    by = [
        replace(
            Band(0, fill_ceiling=1.0, release="when empty"),
            floor=min(n, most),
            lid=max(min(n, most), 1),
        )
        for n in hosts
    ]
    if knock:
        by[1] = replace(by[1], lid=None, knock=True)
    steps = [(0, by[1]), (begin, by[0]), (end, by[1])]
    if begin == 0:
        steps = [(0, by[0]), (end, by[1])]
    quiet = _simple(design, kinds - by_day, [(0, by[1])])
    return _simple(quiet, kinds & by_day, [step for step in steps if step[0] < QUARTERS])


def one_headroom(
    design: Design, kinds: frozenset[str], slots: int, *, knock: bool = False
) -> Design:
    """The rule with the same headroom all day, with ``knock`` with starts at a knock too."""
    pool = design.pool
    slots = min(slots, pool.hosts.most * pool.session_limit)
    band = Band(0, fill_ceiling=1.0, headroom=slots, knock=knock)
    return _simple(design, kinds, [(0, band)])


def _simple(design: Design, kinds: frozenset[str], steps: Sequence[tuple[int, Band]]) -> Design:
    return design.kinds_changed(lambda kind: stepped(kind, steps) if kind.id in kinds else kind)


def kinds_of(tried: Tried, design: Design, weeks: int) -> frozenset[str]:
    """The kinds of day that are in force on any date of the first ``weeks`` weeks."""
    found: frozenset[str] = frozenset()
    for number in range(weeks):
        case = tried.case(design, number)
        whole = replace(design, schedule=case.setting.schedule)
        found |= kinds_in_force(whole, case.horizon.dates)
    return found
