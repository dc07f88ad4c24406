"""Sessions as they would be with ample hosts: how many at most, and how many of them active.

Logons run at full speed and nobody waits, so what is found depends on people and timeouts alone.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from idle_harbor.core.calendar.clock import HOUR, Horizon
from idle_harbor.core.demand.crowd import STEP, presence_of
from idle_harbor.core.demand.spells import Spells
from idle_harbor.core.figures.ideal import follow
from idle_harbor.core.plan import Pool, Profile


@dataclass(frozen=True, slots=True)
class Ample:
    """One drawn horizon with ample hosts: the most sessions in any state, how many of them were
    active then, session-hours over the counted part, and hours at work by profile."""

    peak: int
    active_at_peak: int
    session_hours: float
    hours_by_profile: tuple[float, ...]

    @property
    def active_share(self) -> float:
        """The share of the sessions at the peak that were active."""
        return self.active_at_peak / self.peak if self.peak else 1.0


def ample_of(spells: Spells, pool: Pool, profiles: tuple[Profile, ...], horizon: Horizon) -> Ample:
    """Sessions of given spells under a pool's timeouts with ample hosts."""
    sessions = follow(spells, pool, profiles)
    first = sessions.session_end >= 0
    begins, ends = np.sort(spells.start[first]), np.sort(sessions.session_end[first])
    presence = presence_of(begins, ends, horizon)
    counted, length = horizon.counted - horizon.start, horizon.end - horizon.start
    chosen = int(np.argmax(presence.highest))
    peak = int(presence.highest[chosen])
    moment = presence.first_with(peak, counted + chosen * STEP)
    active = int(np.sum(sessions.begins <= moment)) - int(np.sum(sessions.ends <= moment))
    work = np.minimum(sessions.ends, length) - np.maximum(spells.start, counted)
    hours = np.bincount(spells.profile, weights=np.maximum(work, 0) / HOUR, minlength=len(profiles))
    return Ample(peak, active, float(presence.mean.sum()) * STEP / HOUR, tuple(hours.tolist()))
