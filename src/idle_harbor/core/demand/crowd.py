"""Who is at work when: presence of every group over a horizon, before any pool is looked at.

Presence counts the people who want a desktop (a drop-in visit counts from its arrival), whatever
pools and hosts there are.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from math import ceil
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.base.caches import bytes_in, cached
from idle_harbor.core.base.stopping import in_threads
from idle_harbor.core.calendar.clock import Horizon, horizon_for
from idle_harbor.core.calendar.walls import local_hours
from idle_harbor.core.demand.kernel.presence import sweep
from idle_harbor.core.demand.spells import PoolDemand, Spells, group_demand, pool_spells
from idle_harbor.core.errors import Fault, TooMuchError
from idle_harbor.core.plan import Plan

#: Width of a bin in seconds.
STEP = 300
_WARM_DAYS = 1
#: An interactive call draws in seconds up to about here.
MOST_SPELLS = 5_000_000
#: A range needs two.
FEWEST_SEEDS = 2
#: Five-minute bins of all groups together: 16 bytes each while they are drawn.
MOST_BINS = 12_000_000
#: Bins of all groups together that one picture draws; a year is drawn by the hour.
MOST_DRAWN = 1_500_000
#: Bins of all seeds together of which the band is told: 8 bytes each.
MOST_BANDED = 4_000_000
#: The share of the weeks between the band's edges.
BAND = 0.9
#: Presences kept: a year of 5,000 people is about 20 MB.
_PRESENCE_BYTES = 192_000_000

Floats: TypeAlias = NDArray[np.float64]
Ints: TypeAlias = NDArray[np.int32]


def crowd_horizon(zone: str, first: date, days: int) -> Horizon:
    """Local days of a zone with a day before them, so that visits under way are there."""
    return horizon_for(zone, first, days, _WARM_DAYS)


@dataclass(frozen=True, slots=True)
class Presence:
    """Presence over the counted horizon, by bins of ``STEP`` seconds.

    ``mean`` is time-weighted, ``highest`` the most at one moment, ``arrivals`` the spells that
    begin. ``begins`` and ``ends`` (sorted, seconds from the horizon's start) allow for any moment.
    """

    mean: Floats
    highest: Ints
    arrivals: Ints
    begins: Ints
    ends: Ints

    @property
    def nbytes(self) -> int:
        """Bytes that the presence holds on to."""
        return bytes_in(self.mean, self.highest, self.arrivals, self.begins, self.ends)

    def at(self, second: int) -> int:
        """How many are present at a second from the horizon's start."""
        began = np.searchsorted(self.begins, second, side="right")
        return int(began - np.searchsorted(self.ends, second, side="right"))

    def first_with(self, most: int, begin: int) -> int:
        """The first second of the bin that begins at ``begin`` at which so many are present."""
        low, high = np.searchsorted(self.begins, [begin, begin + STEP], side="left")
        for second in np.unique(np.concatenate(([begin], self.begins[low:high]))).tolist():
            if self.at(second) == most:
                return int(second)
        return begin


def presence_of(begins: Ints, ends: Ints, horizon: Horizon) -> Presence:
    """Presence of sorted beginnings and ends."""
    length = horizon.end - horizon.start
    bins = -(-length // STEP)
    seconds = np.zeros(bins)
    highest = np.zeros(bins, dtype=np.int32)
    sweep(begins, ends, STEP, length, seconds, highest)
    first = (horizon.counted - horizon.start) // STEP
    arrivals = np.bincount(begins // STEP, minlength=bins)[first:bins]
    return Presence(
        seconds[first:] / STEP, highest[first:], arrivals.astype(np.int32), begins, ends
    )


def _ends(spells: Spells) -> Ints:
    ends = np.where(spells.from_connection == 1, spells.start + spells.end, spells.end)
    return np.sort(ends).astype(np.int32)


@cached(_PRESENCE_BYTES, lambda presence: presence.nbytes)
def drawn_presence(demand: PoolDemand, horizon: Horizon, seed: int) -> Presence:
    """Presence of the spells that a demand draws with a seed."""
    spells = pool_spells(demand, horizon, seed)
    return presence_of(spells.start, _ends(spells), horizon)


@dataclass(frozen=True, slots=True)
class Peak:
    """The most people at one moment: how many, when (instant), and how many of each group."""

    people: int
    instant: int
    makers: dict[str, int]


@dataclass(frozen=True, slots=True)
class Crowd:
    """Presence of each group and of all together, over one drawn horizon."""

    horizon: Horizon
    groups: dict[str, Presence]
    whole: Presence

    def peak(self, first: int = 0, last: int | None = None) -> Peak:
        """The peak over bins ``first`` to ``last``: its first moment."""
        highest = self.whole.highest[first:last]
        if len(highest) == 0 or highest.max() == 0:
            return Peak(0, self.horizon.counted + first * STEP, {})
        chosen = first + int(np.argmax(highest))
        begin = self.horizon.counted - self.horizon.start + chosen * STEP
        second = self.whole.first_with(int(self.whole.highest[chosen]), begin)
        makers = {name: presence.at(second) for name, presence in self.groups.items()}
        return Peak(
            int(self.whole.highest[chosen]),
            self.horizon.start + second,
            {name: count for name, count in makers.items() if count},
        )


def crowd_of(plan: Plan, horizon: Horizon, seed: int) -> Crowd:
    """Every group of a plan over a horizon; a person of several groups counts in each."""
    groups = {
        group.id: drawn_presence(group_demand(plan, group), horizon, seed) for group in plan.groups
    }
    empty = np.empty(0, dtype=np.int32)
    begins = np.sort(np.concatenate([empty, *(p.begins for p in groups.values())]))
    ends = np.sort(np.concatenate([empty, *(p.ends for p in groups.values())]))
    return Crowd(horizon, groups, presence_of(begins, ends, horizon))


def hourly(crowd: Crowd, values: Floats | Ints) -> NDArray[np.float64]:
    """The highest of binned values in every local hour, shape (days, 24); NaN where none is."""
    days, hours = local_hours(crowd.horizon, STEP)
    first = (crowd.horizon.counted - crowd.horizon.start) // STEP
    table = np.full((crowd.horizon.days + 1, 24), np.nan)
    places = (days[first:] - crowd.horizon.warm_days, hours[first:])
    np.fmax.at(table, places, values)
    return table[: crowd.horizon.days]


#: Days of a year that are drawn at once: any stretch of it is as it is in the whole.
STRETCH = 28


@dataclass(frozen=True, slots=True)
class DayHours:
    """A date: the most people at once in each local hour (None where the clock leaves it out), and
    in the whole day."""

    day: date
    hours: tuple[int | None, ...]
    peak: int


def stretches_of(first: date, days: int) -> list[tuple[date, int]]:
    """Many days in stretches: the first day of each, and how many it has."""
    return [
        (first + timedelta(days=begin), min(STRETCH, days - begin))
        for begin in range(0, days, STRETCH)
    ]


def hours_of(crowd: Crowd) -> list[DayHours]:
    """Every counted date of a crowd by the hour."""
    table = hourly(crowd, crowd.whole.highest)
    return [
        DayHours(
            day,
            tuple(None if np.isnan(value) else int(value) for value in row),
            int(np.nanmax(row, initial=0)),
        )
        for (day, _, _), row in zip(day_slices(crowd.horizon), table, strict=True)
    ]


def day_slices(horizon: Horizon) -> list[tuple[date, int, int]]:
    """Every counted date with its bins: first and one past the last."""
    edges = [(edge - horizon.counted) // STEP for edge in horizon.counted_edges]
    return list(zip(horizon.counted_dates, edges[:-1], edges[1:], strict=True))


def check_drawn(plan: Plan, horizon: Horizon) -> None:
    """Raise TooMuchError where the bins of all groups are more than one picture draws."""
    _check_bins(plan, horizon, MOST_DRAWN, "look at fewer days, or at the year")


def _check_bins(plan: Plan, horizon: Horizon, most: int, remedy: str) -> None:
    groups = len(plan.groups)
    if (horizon.end - horizon.start) // STEP * max(groups, 1) > most:
        told = f"five minutes at a time, {groups:,} groups over {horizon.days} days are too many"
        raise TooMuchError(Fault("/groups", told, remedy))


def check_crowd(plan: Plan, horizon: Horizon) -> float:
    """The spells that a plan's groups bring on average; raises TooMuchError beyond the bound.

    Each group has bins of its own for all the days, whoever comes: they are bounded as well.
    """
    _check_bins(plan, horizon, MOST_BINS, "look at fewer days, or join groups that come alike")
    spells = sum(group_demand(plan, g).expected_spells(horizon) for g in plan.groups)
    if spells > MOST_SPELLS:
        raise TooMuchError(
            Fault(
                "/groups",
                f"{spells:,.0f} spells over {horizon.days} days are more than the "
                f"{MOST_SPELLS:,} that one call draws",
                "look at fewer days, or at fewer people",
            )
        )
    return spells


def affordable(spells: float, wanted: int) -> int:
    """As many of the wanted seeds as one call can draw, given the spells of each; at least two."""
    return max(FEWEST_SEEDS, min(wanted, int(MOST_SPELLS / max(spells, 1.0))))


def affordable_seeds(plan: Plan, horizon: Horizon, wanted: int) -> int:
    """As many of the wanted seeds as an interactive call can draw, at least two.

    Raises TooMuchError where even one is beyond the bound.
    """
    return affordable(check_crowd(plan, horizon), wanted)


@dataclass(frozen=True, slots=True)
class Weeks:
    """Several seeds of the same days: the peak of each, and between what the days run.

    ``low`` and ``high`` bound nine of ten of them in every bin, half of the others on each side;
    None where there are more bins than can be held of so many.
    """

    peaks: list[int]
    low: Floats | None
    high: Floats | None


def weeks_over(plan: Plan, horizon: Horizon, seeds: Sequence[int]) -> Weeks:
    """The horizon drawn with each seed, on two threads.

    Raises NotWantedError once nobody waits for it.
    """
    bins = (horizon.end - horizon.counted) // STEP
    banded = bins * len(seeds) <= MOST_BANDED

    def one(seed: int) -> tuple[int, Floats | None]:
        crowd = crowd_of(plan, horizon, seed)
        return crowd.peak().people, crowd.whole.mean if banded else None

    drawn = in_threads(one, seeds)
    peaks = [people for people, _ in drawn]
    if not banded:
        return Weeks(peaks, None, None)
    ordered = np.sort(np.array([mean for _, mean in drawn]), axis=0)
    count = len(ordered)
    low = max(ceil((1.0 - BAND) / 2.0 * count), 1)
    return Weeks(peaks, ordered[low - 1], ordered[count - low])
