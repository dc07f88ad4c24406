"""Which timeouts to begin with: the shortest that lose few sessions, before anything is simulated.

With ample hosts what becomes of a session depends on people and timeouts alone, so that the share
of returns to a session that is over, and the hours that sessions last, can be counted in drawn
weeks for each choice of the two.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from idle_harbor.core.demand.kernel.leaving import SIGN_OFF
from idle_harbor.core.demand.spells import Spells
from idle_harbor.core.figures.ideal import follow
from idle_harbor.core.plan import Pool, Profile
from idle_harbor.core.stopping import go_on
from idle_harbor.core.tuner.design import Design
from idle_harbor.core.tuner.knobs import Bounds, knobs_of
from idle_harbor.core.tuner.scores import Slot, Tried
from idle_harbor.core.weeks import drawn_spells

#: The part of the promised share of lost returns that a first choice may use.
_CAREFUL = 0.8
_Drawn = tuple[Spells, tuple[Profile, ...], int]


def timed_by_theory(
    tried: Tried, design: Design, bounds: Bounds, slots: Sequence[Slot], lost: float
) -> Design:
    """The design with those timeouts, among the ones that it may have, whose sessions last least
    while of the returns a share of ``lost`` finds them over at most; the design itself where none
    are so, or where it may not have others."""
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
        drawn.append((spells, case.setting.profiles, case.horizon.end - case.horizon.start))
    choices = values.get("disconnected_timeout", (pool.disconnected_timeout,))
    best: tuple[float, Pool] | None = None
    for idle in values.get("idle_timeout", (pool.idle_timeout,)):
        # More is never worse for who comes back: halving finds the least.
        low, high = 0, len(choices)
        found: dict[int, tuple[float, Pool]] = {}
        while low < high:
            go_on()
            middle = (low + high) // 2
            timed = replace(pool, idle_timeout=idle, disconnected_timeout=choices[middle])
            share, lasting = _lost_and_lasting(timed, drawn)
            if share <= _CAREFUL * lost:
                found[middle], high = (lasting, timed), middle
            else:
                low = middle + 1
        if high in found and (best is None or found[high][0] < best[0]):
            best = found[high]
    return design if best is None else replace(design, pool=best[1])


def _lost_and_lasting(pool: Pool, drawn: Sequence[_Drawn]) -> tuple[float, float]:
    """The share of returns within a working day to a session that is over, and seconds that all
    sessions last."""
    back = over = 0
    lasting = 0.0
    for spells, profiles, length in drawn:
        sessions = follow(spells, pool, profiles)
        begun = sessions.session_end >= 0
        ends = np.minimum(sessions.session_end[begun], length)
        lasting += float(np.maximum(ends - spells.start[begun], 0).sum())
        order = np.lexsort((spells.start, spells.person))
        person, day = spells.person[order], spells.day[order]
        left = spells.leaving[order][:-1] != SIGN_OFF
        again = (person[1:] == person[:-1]) & (day[1:] == day[:-1]) & left
        back += int(again.sum())
        over += int((again & begun[order][1:]).sum())
    return over / max(back, 1), lasting
