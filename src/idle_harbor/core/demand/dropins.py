"""Drop-in groups: arrivals by the hour of the week as a Poisson process."""

from __future__ import annotations

from datetime import date
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.calendar.clock import DAY, EPOCH, HOUR, Horizon, transitions
from idle_harbor.core.calendar.occasions import effect_on
from idle_harbor.core.calendar.walls import local_to_instants
from idle_harbor.core.demand import draws
from idle_harbor.core.demand.headcount import Comer, Rows, days_for, grown
from idle_harbor.core.demand.kernel.leaving import SIGN_OFF
from idle_harbor.core.plan import DropIn

Longs: TypeAlias = NDArray[np.int64]


_MINUTE = 60


def hourly_pieces(zone: str, day: date, shift: int = 0) -> tuple[Longs, Longs]:
    """A local date cut where its wall-clock hour changes, the hours moved by ``shift`` seconds.

    Returns the instants of the cuts (pieces + 1 of them) and the hour of the date that each piece
    has the rate of. A doubled hour appears in two pieces, a skipped one in none; every zone in
    force today shifts by whole quarters of an hour, so quarters of UTC are fine enough where the
    hours are not moved by other minutes.
    """
    step = HOUR // 4 if shift % (HOUR // 4) == 0 else _MINUTE
    edges = local_to_instants(zone, day, np.array([shift, DAY + shift]))
    begin, end = int(edges[0]), int(edges[1])
    instants = np.arange(begin, end, step, dtype=np.int64)
    changes, offsets = transitions(zone, day)
    offset = np.array(offsets)[np.searchsorted(np.array(changes), instants, side="right")]
    hours = (instants + offset - (day - EPOCH).days * DAY - shift) // HOUR
    return np.append(instants, end), np.clip(hours, 0, 23)


def rates_on(comer: Comer, day: date) -> tuple[Longs, draws.Floats]:
    """Arrivals per second over a local date: instants of the cuts, and the rate between them."""
    demand = comer.group.demand
    assert isinstance(demand, DropIn)
    effect = effect_on(comer.group, comer.site, comer.events, day)
    cuts, hours = hourly_pieces(comer.site.time_zone, day, effect.shift)
    hourly = np.array(demand.arrivals_per_hour[day.weekday()]) / HOUR
    factor = effect.factor * grown(comer.group, day) * _opened(comer)
    return cuts, hourly[hours] * factor


def _opened(comer: Comer) -> float:
    """The share of visits that open this pool."""
    return max((use.use for use in comer.uses), default=0.0)


def _visits(comer: Comer, day: date, seed: int) -> tuple[Longs, Longs]:
    """Arrivals of one local date by time-rescaling of a unit-rate process, and their lengths.

    Çinlar (1975), ch. 4: the arrivals of a process with integrated rate Λ are Λ⁻¹ of the
    arrivals of the unit-rate process.
    """
    demand = comer.group.demand
    assert isinstance(demand, DropIn)
    cuts, per_second = rates_on(comer, day)
    integrated = np.concatenate(([0.0], np.cumsum(per_second * np.diff(cuts))))
    total = float(integrated[-1])
    if total <= 0.0:
        return np.empty(0, np.int64), np.empty(0, np.int64)
    unit = np.empty(0)
    count = int(total + 6.0 * np.sqrt(total) + 16.0)
    while not len(unit) or unit[-1] < total:
        # A longer draw of the same key begins with the shorter one.
        u = draws.uniforms(count, seed, comer.group.id, day, "arrivals")
        unit = np.cumsum(-np.log1p(-u))
        count *= 2
    unit = unit[unit < total]
    arrivals = np.floor(np.interp(unit, integrated, cuts.astype(np.float64))).astype(np.int64)
    u = draws.uniforms(len(arrivals), seed, comer.group.id, day, "length")
    mean = 60.0 * demand.session.mean_minutes
    if demand.session.kind == "exponential":
        lengths = -mean * np.log1p(-u)
    elif demand.session.kind == "lognormal":
        lengths = draws.lognormals(u, mean, demand.session.cv)
    else:
        lengths = np.full(len(u), mean)
    return arrivals, draws.whole_seconds(lengths).astype(np.int64)


def drop_in_rows(comer: Comer, index: int, offset: int, horizon: Horizon, seed: int) -> Rows:
    """Visits within the horizon; every one is a person of its own, numbered from ``offset``."""
    days = [_visits(comer, day, seed) for day in days_for(comer, horizon)]
    start = np.concatenate([found for found, _ in days])
    length = np.concatenate([found for _, found in days])
    inside = (start >= horizon.start) & (start < horizon.end)
    count = int(inside.sum())
    return Rows(
        np.arange(offset, offset + count, dtype=np.int32),
        (start[inside] - horizon.start).astype(np.int32),
        length[inside].astype(np.int32),
        np.full(count, SIGN_OFF, dtype=np.int8),
        np.full(count, index, dtype=np.int16),
        # Nobody comes twice.
        np.zeros(count, dtype=np.int16),
    )
