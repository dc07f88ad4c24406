"""What a picture of a week is drawn from: series, days, lanes, actions, people who waited."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.calendar.clock import DAY, band_edges, local_to_instant
from idle_harbor.core.calendar.targets import Target, targets_of
from idle_harbor.core.engine.kernel import codes
from idle_harbor.core.engine.run import BIN_SECONDS
from idle_harbor.core.figures.targets import Met, targets_met
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.edits.bands import reach_of
from idle_harbor.core.plan.schedules import BAND_STEP
from idle_harbor.core.weeks.case import Case, case_of, check_amount
from idle_harbor.core.weeks.week import Week, week

#: Seconds of the day at which the last band or target may begin.
LAST_STEP = DAY - BAND_STEP
#: Changes of hosts that one answer draws at most.
MOST_CHANGES = 50_000
#: Lists on screen end here; the total is told beside them.
MOST_WAITERS = 200
#: So many five minutes without anybody waiting belong to the flood around them.
_CALM_BINS = 6


@dataclass(frozen=True, slots=True)
class Day:
    """A local day: instants of its edges, and what its small picture shows."""

    date: date
    start: int
    end: int
    day_type: str
    peak_sessions: float
    peak_waiting: float
    idle_share: float

    @property
    def clock_change(self) -> int:
        """Seconds by which the day is longer than 24 hours."""
        return self.end - self.start - DAY


def _limits(case: Case) -> NDArray[np.int64] | int:
    """Sessions that a host takes in each five minutes of the counted week."""
    limit, horizon = case.setting.pool.session_limit, case.horizon
    day_types = case.setting.schedule.day_types
    if all(band.takes(limit) == limit for each in day_types for band in each.bands):
        return limit
    limits = np.zeros((horizon.end - horizon.counted) // BIN_SECONDS, np.int64)
    for span in bands_of(case):
        first = (span.start - horizon.counted) // BIN_SECONDS
        limits[first:] = day_types[span.day_type].bands[span.band].takes(limit)
    return limits


def series_of(case: Case, result: Week) -> dict[str, NDArray[np.float64]]:
    """Time-weighted means per five-minute bin of the counted week.

    Sessions for the states and the flood; session slots for quay (ready slots and sessions on
    draining hosts, where a band takes fewer than a host holds at least the sessions that are
    there), billed (every powered host) and ideal.
    """
    run, limit = result.run, case.setting.pool.session_limit
    bins = run.counted_bins() / BIN_SECONDS
    first = run.counted_from // BIN_SECONDS
    slots = bins[:, codes.L_READY] * _limits(case)
    held = bins[:, codes.L_ALL] - bins[:, codes.L_ON_DRAINING]
    powered = bins[:, codes.POWERED_LEVELS].sum(axis=1)
    return {
        "active": bins[:, codes.L_ACTIVE],
        "idle": bins[:, codes.L_IDLE],
        "disconnected": bins[:, codes.L_DISCONNECTED],
        "waiting": bins[:, codes.L_WAITING],
        "waiting_peak": run.counted_peaks()[:, codes.L_WAITING],
        "quay": np.maximum(slots, held) + bins[:, codes.L_ON_DRAINING],
        "billed": powered * limit,
        "ideal": result.ideal.host_seconds[first:] / BIN_SECONDS * limit,
        "strained": bins[:, codes.L_STRAINED],
    }


def picture_of(plan: Plan, pool_id: str, seed: int = 1) -> dict[str, NDArray[np.float64]]:
    """What a pool's week looks like, a value for each five minutes; see :func:`series_of`.

    Raises UnknownNameError for a pool that the plan lacks, TooMuchError beyond the bound of a call.
    """
    case = case_of(plan, pool_id)
    check_amount(case, 1)
    return series_of(case, week(case, seed))


@dataclass(frozen=True, slots=True)
class Flood:
    """A stretch with people waiting: instants of its edges, the most at once and when that was."""

    start: int
    end: int
    peak: float
    at: int


def floods_of(result: Week, days: Sequence[Day]) -> list[Flood]:
    """Stretches of five minutes in which somebody waited; calm of up to half an hour between two
    does not part them, midnight does."""
    run = result.run
    peaks = run.counted_peaks()[:, codes.L_WAITING]
    origin = run.horizon.start + run.counted_from
    found: list[Flood] = []
    for day in days:
        first, last = ((edge - origin) // BIN_SECONDS for edge in (day.start, day.end))
        wet = first + np.flatnonzero(peaks[first:last] > 0)
        if not len(wet):
            continue
        parts = np.split(wet, 1 + np.flatnonzero(np.diff(wet) - 1 > _CALM_BINS))
        for part in parts:
            highest = part[np.argmax(peaks[part])]
            found.append(
                Flood(
                    start=origin + int(part[0]) * BIN_SECONDS,
                    end=origin + (int(part[-1]) + 1) * BIN_SECONDS,
                    peak=float(peaks[highest]),
                    at=origin + int(highest) * BIN_SECONDS,
                )
            )
    return found


def days_of(case: Case, result: Week) -> list[Day]:
    """The counted days, each with its peaks and the share of host time nobody used."""
    run, horizon = result.run, case.horizon
    dates = horizon.counted_dates
    edges = horizon.counted_edges
    begin, *begins, end = ((edge - horizon.start) // BIN_SECONDS for edge in edges)
    rows, parts = slice(begin, end), [0, *(row - begin for row in begins)]
    powered = np.add.reduceat(run.bins[rows][:, codes.POWERED_LEVELS].sum(axis=1), parts)
    occupied = np.add.reduceat(run.bins[rows, codes.L_OCCUPIED], parts)
    peaks = np.maximum.reduceat(run.peaks[rows][:, (codes.L_ALL, codes.L_WAITING)], parts)
    unused = (powered - occupied) / np.where(powered > 0.0, powered, 1.0)
    return [
        Day(
            date=day,
            start=edges[k],
            end=edges[k + 1],
            day_type=case.setting.schedule.day_type_of(day).id,
            peak_sessions=float(peaks[k, 0]),
            peak_waiting=float(peaks[k, 1]),
            idle_share=float(unused[k]),
        )
        for k, day in enumerate(dates)
    ]


@dataclass(frozen=True, slots=True)
class BandSpan:
    """A band in force over the counted week, in instants: from when to when, and between which it
    may begin. ``day_type`` and ``band`` are its places in the schedule."""

    start: int
    end: int
    day_type: int
    band: int
    earliest: int
    latest: int


def bands_of(case: Case) -> list[BandSpan]:
    """The bands of the counted days, in order."""
    horizon, schedule = case.horizon, case.setting.schedule
    edges = [e for e in band_edges(schedule, horizon) if e.instant >= horizon.counted]
    ends = [edge.instant for edge in edges[1:]] + [horizon.end]
    found: list[BandSpan] = []
    for edge, end in zip(edges, ends, strict=True):
        bands = schedule.day_types[edge.day_type].bands
        low, high = (
            local_to_instant(horizon.time_zone, edge.day, clock)
            for clock in reach_of(bands, edge.band)
        )
        found.append(BandSpan(edge.instant, end, edge.day_type, edge.band, low, high))
    return found


def targets_in(case: Case) -> list[Target]:
    """What is to be ready by when over the horizon and the date after it."""
    setting = case.setting
    return targets_of(setting.schedule, case.horizon, dict(setting.clocks))


def met_in(case: Case, result: Week, targets: Sequence[Target]) -> list[Met]:
    """What came of a case's targets in a recorded week."""
    hosts = case.setting.pool.hosts
    return targets_met(result.run, targets, hosts.standing, hosts.most)


def window_of(result: Week, start: int, end: int) -> tuple[int, int]:
    """A window cut to the horizon, to what was recorded, and to so many changes (``MOST_CHANGES``).

    Whoever wants the rest asks again from the end that comes back.
    """
    run = result.run
    origin = run.horizon.start
    start = min(max(start, origin), run.horizon.end)
    end = min(max(end, start), run.horizon.end, origin + run.recorded)
    times = run.lanes["time"]
    first = int(np.searchsorted(times, start - origin, side="right"))
    if first + MOST_CHANGES < len(times):
        # All changes of one second belong together; there are no more of them than hosts.
        reached = int(times[first + MOST_CHANGES])
        end = min(end, max(origin + reached, start + 1))
    return start, end


def lanes_between(result: Week, start: int, end: int) -> dict[int, NDArray[np.void]]:
    """Changes of each host from ``start`` to ``end`` (instants), the state at ``start`` first.

    Only the last of several changes in one second is kept.
    """
    origin = result.run.horizon.start
    lanes = result.run.lanes
    stop = int(np.searchsorted(lanes["time"], end - origin, side="left"))
    seen = lanes[:stop]
    order = np.lexsort((np.arange(len(seen)), seen["host"]))
    seen = seen[order]
    last = np.ones(len(seen), dtype=bool)
    last[:-1] = (seen["host"][1:] != seen["host"][:-1]) | (seen["time"][1:] != seen["time"][:-1])
    seen = seen[last]
    current = np.ones(len(seen), dtype=bool)
    current[:-1] = (seen["host"][1:] != seen["host"][:-1]) | (seen["time"][1:] > start - origin)
    seen = seen[current]
    hosts, firsts = np.unique(seen["host"], return_index=True)
    parts = np.split(seen, firsts[1:]) if len(hosts) else []
    return {int(host): part for host, part in zip(hosts, parts, strict=True)}


def actions_between(result: Week, start: int, end: int) -> NDArray[np.void]:
    """The policy's actions from ``start`` to ``end`` (instants), in order."""
    origin = result.run.horizon.start
    times = result.run.actions["time"]
    low, high = np.searchsorted(times, [start - origin, end - origin])
    return result.run.actions[low:high]


def waiters_between(result: Week, start: int, end: int) -> tuple[int, NDArray[np.int64]]:
    """How many people who asked in a window did not have a desktop at once, and the spells of
    the first of them: refused before waiting, longest waits before shorter ones."""
    run = result.run
    asked = run.spells.start + run.horizon.start
    counted = run.spells.start >= run.counted_from
    inside = (asked >= start) & (asked < end) & counted & (run.results["cause"] > 0)
    spells = np.flatnonzero(inside)
    wait = run.results["wait"][spells]
    refused = run.results["outcome"][spells] == codes.OUT_REFUSED
    order = np.lexsort((spells, -wait, ~refused))
    return len(spells), spells[order][:MOST_WAITERS]
