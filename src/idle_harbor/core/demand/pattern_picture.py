"""A pattern as a picture of one day: who is at work when, and what is drawn around it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.calendar.clock import horizon_for
from idle_harbor.core.demand.crowd import STEP, presence_of
from idle_harbor.core.demand.draws import SHOWN_SEED
from idle_harbor.core.demand.headcount import Comer
from idle_harbor.core.demand.spells import PoolDemand, Spells, pool_spells
from idle_harbor.core.plan import Access, Group, Headcount, Pattern, Site

#: As many people are drawn as make the curve smooth to about half a per cent.
_DRAWN = 4000
_DAY = date(2024, 1, 1)
_SITE = Site("any", "UTC")


@dataclass(frozen=True, slots=True)
class PatternPicture:
    """One working day of a pattern, from 00:00 of the day for two days, by bins of ``STEP``.

    ``present`` and ``starting`` are shares of the people who come; ``breaks_taken`` is the share
    that takes each break; ``working_minutes`` is the mean time at work, breaks apart.
    """

    present: NDArray[np.float64]
    starting: NDArray[np.float64]
    breaks_taken: tuple[float, ...]
    working_minutes: float


def _spells(pattern: Pattern) -> Spells:
    """The spells of one day on which everyone of a large group comes."""
    attendance = tuple(1.0 if weekday == _DAY.weekday() else None for weekday in range(7))
    alone = replace(pattern, share=1.0, attendance=attendance)
    group = Group(f"picture of {pattern.id}", "any", "any", Headcount(_DRAWN, (alone,)))
    comer = Comer(group, _SITE, (), (Access(group.id, "any"),), 0, 0, 0)
    horizon = horizon_for("UTC", _DAY, 3, 0)
    return pool_spells(PoolDemand((comer,), (), False), horizon, SHOWN_SEED)


def _taken(pattern: Pattern) -> tuple[float, ...]:
    """The share of people that takes each break: how many spells it adds to those before it."""
    counts = [
        len(_spells(replace(pattern, breaks=pattern.breaks[:count])))
        for count in range(len(pattern.breaks) + 1)
    ]
    return tuple(float(gain) / _DRAWN for gain in np.diff(counts))


def pattern_picture(pattern: Pattern) -> PatternPicture:
    """Draw a pattern's day; no group, event or weekday changes it."""
    spells = _spells(pattern)
    horizon = horizon_for("UTC", _DAY, 2, 0)
    ends = np.sort(spells.end)
    presence = presence_of(spells.start, ends, horizon)
    _, first = np.unique(spells.person, return_index=True)
    starting = np.bincount(spells.start[first] // STEP, minlength=len(presence.mean))
    seconds = float(np.sum(spells.end.astype(np.int64) - spells.start))
    return PatternPicture(
        presence.mean / _DRAWN,
        starting[: len(presence.mean)] / _DRAWN,
        _taken(pattern),
        seconds / 60.0 / _DRAWN,
    )
