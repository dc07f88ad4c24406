"""Expected presence of a pool's people over a day, without drawing anybody.

Breaks and common days of a site are left out: the curves serve to compare dates with each other.
"""

from __future__ import annotations

from datetime import date, timedelta
from functools import lru_cache
from math import prod, sqrt
from statistics import NormalDist
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.calendar.clock import DAY, local_to_instant
from idle_harbor.core.demand.dropins import rates_on
from idle_harbor.core.demand.headcount import Comer, sheet_of
from idle_harbor.core.demand.spells import PoolDemand
from idle_harbor.core.plan import DropIn, Headcount, Histogram, Pattern, Spread

#: Seconds of a bin, and bins of a day.
BIN, BINS = 900, 96
Floats: TypeAlias = NDArray[np.float64]

#: Dates around a date whose people may be present on it.
_AROUND = range(-2, 3)
_Z = np.linspace(-6.0, 6.0, 2_401)
_PHI = np.array([NormalDist().cdf(z) for z in _Z.tolist()])


def expected_day(demand: PoolDemand, time_zone: str, day: date) -> Floats:
    """Return what a date is expected to bring, by quarter hours of its local clock.

    Args:
        demand: the people of the pool.
        time_zone: the pool's time zone.
        day: a local date of that zone.

    Returns:
        Shape (2, 96): people present at the end of each quarter hour, and arrivals in it.
    """
    found: Floats = expected_crews(demand, time_zone, day).sum(axis=0)
    return found


def expected_crews(demand: PoolDemand, time_zone: str, day: date) -> Floats:
    """Return what a date is expected to bring of each crew of a rotation, and of each group without
    one, by itself.

    Args:
        demand: the people of the pool.
        time_zone: the pool's time zone.
        day: a local date of that zone.

    Returns:
        Shape (crews, 2, 96): as :func:`expected_day`.
    """
    midnight = local_to_instant(time_zone, day, 0)
    found = []
    for comer in demand.comers:
        for crew in range(_crews(comer)):
            whole = np.zeros((2, BINS))
            for k in _AROUND:
                other = day + timedelta(days=k)
                if demand.comes_on(other):
                    two = demand.two_sessions
                    whole += _of_comer(comer, other, midnight, crew, two_sessions=two)
            found.append(whole)
    return np.array(found).reshape(-1, 2, BINS)


def _crews(comer: Comer) -> int:
    """The crews of a group: those of its rotation, else the group as a whole."""
    demand = comer.group.demand
    turn = demand.rotation if isinstance(demand, Headcount) else None
    return 1 if turn is None else len(turn.order)


def _of_comer(comer: Comer, day: date, midnight: int, crew: int, *, two_sessions: bool) -> Floats:
    """What people of a crew who come on a date add to the day that begins at an instant."""
    if isinstance(comer.group.demand, DropIn):
        return _of_visits(comer, day, midnight)
    found = np.zeros((2, BINS))
    sheet = sheet_of(comer, day)
    if sheet is None:
        return found
    opened = [use.use for use in comer.uses]
    sessions = sum(opened) if two_sessions else 1.0 - prod(1.0 - share for share in opened)
    begin = local_to_instant(comer.site.time_zone, day, 0) + sheet.effect.shift - midnight
    assert isinstance(comer.group.demand, Headcount)
    of_crew = sheet.of_crew(crew) if _crews(comer) > 1 else sheet.coming
    for pattern, share in zip(comer.group.demand.patterns, of_crew, strict=True):
        if share > 0.0:
            found += sheet.people * share * sessions * _of_pattern(pattern, begin)
    return found


@lru_cache(maxsize=4096)
def _of_pattern(pattern: Pattern, begin: int) -> Floats:
    """One person who comes for sure, ``begin`` seconds after the midnight of the counted day."""
    edges = np.arange(BINS + 1) * BIN - begin
    start, length = pattern.start.spread, pattern.length.spread
    came = _cumulated(start, edges)
    gone = _normal(start.mean + length.mean, sqrt(start.sd**2 + length.sd**2), edges)
    found = np.array([np.maximum(came - gone, 0.0)[1:], np.diff(came)])
    found.flags.writeable = False
    return found


def _cumulated(spread: Spread, edges: NDArray[np.int64]) -> Floats:
    if not isinstance(spread, Histogram):
        return _normal(spread.mean, spread.sd, edges)
    cuts = spread.first + spread.step * np.arange(len(spread.weights) + 1)
    shares = np.concatenate(([0.0], np.cumsum(spread.weights))) / sum(spread.weights)
    found: Floats = np.interp(edges, cuts, shares)
    return found


def _normal(mean: float, sd: float, edges: NDArray[np.int64]) -> Floats:
    found: Floats = np.interp((edges - mean) / max(sd, 1.0), _Z, _PHI)
    return found


def _of_visits(comer: Comer, day: date, midnight: int) -> Floats:
    """Visits of a drop-in group that begin on a date, each as long as the mean."""
    demand = comer.group.demand
    assert isinstance(demand, DropIn)
    cuts, per_second = rates_on(comer, day)
    total = np.concatenate(([0.0], np.cumsum(per_second * np.diff(cuts))))
    edges = np.arange(BINS + 1) * BIN + midnight
    if edges[-1] < cuts[0] or edges[0] > cuts[-1] + DAY:
        return np.zeros((2, BINS))
    came = np.interp(edges, cuts, total)
    gone = np.interp(edges - 60.0 * demand.session.mean_minutes, cuts, total)
    return np.array([(came - gone)[1:], np.diff(came)])
