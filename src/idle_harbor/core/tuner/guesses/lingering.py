"""First guesses of timeouts: the shortest that lose few sessions.

With ample hosts a session depends on people and timeouts alone. So the share of lost returns and
the hours that sessions last can be counted in drawn weeks, for each pair of timeouts, without a
simulation.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from math import sqrt
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.base.stopping import go_on
from idle_harbor.core.demand.crowd import STEP, day_slices
from idle_harbor.core.demand.kernel.leaving import SIGN_OFF
from idle_harbor.core.demand.spells import Spells
from idle_harbor.core.figures.ideal import follow
from idle_harbor.core.plan import Pool, Profile
from idle_harbor.core.tuner.designs.design import QUARTER, Design
from idle_harbor.core.tuner.designs.knobs import Bounds, knobs_of
from idle_harbor.core.tuner.guesses.theory import QUARTERS
from idle_harbor.core.tuner.scoring.judge import RUNGS, SURE
from idle_harbor.core.tuner.scoring.scores import Slot, Tried
from idle_harbor.core.weeks.case import drawn_spells

_BINS = QUARTER // STEP
#: The share of the promised lost returns that a first guess may use.
_CAREFUL = 0.8
#: The least share of all leavings in a stretch that gets a band of its own.
_WORTH_A_BAND = 0.05
Quarters: TypeAlias = NDArray[np.int_]
Quiet: TypeAlias = tuple[tuple[int, int], ...]
_Drawn: TypeAlias = tuple[Spells, tuple[Profile, ...], int, NDArray[np.bool_], NDArray[np.int64]]


def timed_by_theory(
    tried: Tried, design: Design, bounds: Bounds, slots: Sequence[Slot], lost: float
) -> Design:
    """The design with the timeouts under which sessions last shortest and at most a share of
    ``lost`` of the returns is lost. The design itself where there are none, or timeouts are not
    free.
    """
    values = {
        knob.where[-1]: knob.values
        for knob in knobs_of(design, bounds)
        if knob.tuned.belongs == "timeouts" and knob.where[0] == "pool"
    }
    pool = design.pool
    if not values:
        return design
    drawn: list[_Drawn] = []
    for slot in slots:
        case = tried.case(design, slot.week)
        spells = drawn_spells(case.demand, case.horizon, slot.seed)
        length = case.horizon.end - case.horizon.start
        drawn.append((spells, case.setting.profiles, length, *_returns(spells)))
    most = _surely_below(lost, sum(int(again.sum()) for *_, again, _ in drawn), len(drawn))
    choices = values.get("disconnected_timeout", (pool.disconnected_timeout,))
    best: tuple[float, Pool] | None = None
    for idle in values.get("idle_timeout", (pool.idle_timeout,)):
        # Longer timeouts never lose more returns, so bisection finds the shortest.
        low, high = 0, len(choices)
        found: dict[int, tuple[float, Pool]] = {}
        while low < high:
            go_on()
            middle = (low + high) // 2
            timed = replace(pool, idle_timeout=idle, disconnected_timeout=choices[middle])
            share, lasting = _lost_and_lasting(timed, drawn)
            if share <= most:
                found[middle], high = (lasting, timed), middle
            else:
                low = middle + 1
        if high in found and (best is None or found[high][0] < best[0]):
            best = found[high]
    return design if best is None else replace(design, pool=best[1])


def _surely_below(lost: float, returns: int, weeks: int) -> float:
    """The share of lost returns to aim at, so that the true share and the share in the weeks of a
    search stay below ``lost``. It is lower where ``returns`` in ``weeks`` weeks are few."""
    unsure = sqrt(lost / max(returns, 1)) + sqrt(lost * weeks / max(returns * RUNGS[-1], 1))
    return min(_CAREFUL * lost, max(lost - SURE * unsure, 0.0))


def quiet_hours(tried: Tried, design: Design, slots: Sequence[Slot], lost: float) -> Quiet:
    """Quiet hours: stretches of the day (first and last quarter hour) in which sessions that are
    left may end at once, since few people come back to them on that working day. At most a share of
    ``lost`` of the returns is lost."""
    found = [_left_and_back(tried, design, slot) for slot in slots]
    left, back = (np.concatenate(each) for each in zip(*found, strict=True))
    quiet = _quietest(left, back, lost)
    edges = np.flatnonzero(np.diff(np.concatenate(([False], quiet, [False])).astype(int)))
    leavers = np.bincount(left, minlength=QUARTERS)
    return tuple(
        (int(a), int(b))
        for a, b in zip(edges[::2], edges[1::2], strict=True)
        if leavers[a:b].sum() > _WORTH_A_BAND * leavers.sum()
    )


def _left_and_back(tried: Tried, design: Design, slot: Slot) -> tuple[Quarters, Quarters]:
    """For each session left without signing off, the quarter hour of leaving, and that of the
    return on the same working day; -1 without a return."""
    case = tried.case(design, slot.week)
    horizon = case.horizon
    spells = drawn_spells(case.demand, horizon, slot.seed)
    quarter = np.full((horizon.end - horizon.start) // STEP + 1, -1)
    first = (horizon.counted - horizon.start) // STEP
    for _, a, b in day_slices(horizon):
        quarter[first + a : first + b] = np.minimum(np.arange(b - a) // _BINS, QUARTERS - 1)
    returns, order = _returns(spells)
    start, end = spells.start[order], spells.end[order]
    ended = np.where(spells.from_connection[order] == 1, start + end, end)[:-1]

    def at(instants: NDArray[np.int32]) -> Quarters:
        found: Quarters = quarter[np.minimum(instants // STEP, len(quarter) - 1)]
        return found

    left, back = at(ended), np.where(returns, at(start[1:]), -1)
    counted = (spells.leaving[order][:-1] != SIGN_OFF) & (left >= 0)
    return left[counted], back[counted]


def _quietest(left: Quarters, back: Quarters, lost: float) -> NDArray[np.bool_]:
    """The largest set of quarter hours, those with the fewest returns first, that together lose at
    most a share of ``lost``: whoever is away during one of them loses the session."""
    first, last = left[back >= 0, np.newaxis], back[back >= 0, np.newaxis]
    # An absence runs past midnight where the return is earlier in the day than the leaving.
    away = (np.arange(QUARTERS) - first) % QUARTERS <= (last - first) % QUARTERS
    quiet, over = np.zeros(QUARTERS, dtype=bool), np.zeros(len(away), dtype=bool)
    for k in np.argsort(away.sum(axis=0), kind="stable"):
        also = over | away[:, k]
        if also.sum() > _CAREFUL * lost * len(away):
            break
        over, quiet[k] = also, True
    return quiet


def _returns(spells: Spells) -> tuple[NDArray[np.bool_], NDArray[np.int64]]:
    """The order of spells by person and time, and for each but the last whether the person comes
    back on the same working day."""
    order = np.lexsort((spells.start, spells.person))
    person, day = spells.person[order], spells.day[order]
    left = spells.leaving[order][:-1] != SIGN_OFF
    return (person[1:] == person[:-1]) & (day[1:] == day[:-1]) & left, order


def _lost_and_lasting(pool: Pool, drawn: Sequence[_Drawn]) -> tuple[float, float]:
    """The share of lost returns, and the seconds that all sessions last."""
    back = over = 0
    lasting = 0.0
    for spells, profiles, length, again, order in drawn:
        sessions = follow(spells, pool, profiles)
        begun = sessions.session_end >= 0
        ends = np.minimum(sessions.session_end[begun], length)
        lasting += float(np.maximum(ends - spells.start[begun], 0).sum())
        back += int(again.sum())
        over += int((again & begun[order][1:]).sum())
    return over / max(back, 1), lasting
