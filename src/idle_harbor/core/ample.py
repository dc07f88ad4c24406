"""Sessions as they would be with ample hosts: how many at most, and how many of them active.

Logons run at full speed and nobody waits, so what is found depends on people and timeouts alone.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from idle_harbor.core.calendar import HOUR, Horizon
from idle_harbor.core.crowd import STEP, presence_of
from idle_harbor.core.demand import Spells
from idle_harbor.core.ideal import lives_after, logon_seconds_of
from idle_harbor.core.kernel.codes import FAR
from idle_harbor.core.kernel.presence import join_sessions
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
    until = np.zeros(max(spells.people, 1), dtype=np.int64)
    latest = np.full(max(spells.people, 1), -1, dtype=np.int64)
    stops = np.where(
        spells.from_connection == 1, logon_seconds_of(profiles)[spells.profile], -1
    ).astype(np.int64)
    sessions = np.empty(len(spells), dtype=np.int32)
    join_sessions(
        spells.person, spells.start, spells.end, spells.leaving, stops, lives_after(pool), until,
        latest, sessions,
    )  # fmt: skip
    first = sessions >= 0
    begins, ends = np.sort(spells.start[first]), np.sort(sessions[first])
    presence = presence_of(begins, ends, horizon)
    counted, length = horizon.counted - horizon.start, horizon.end - horizon.start
    chosen = int(np.argmax(presence.highest))
    peak = int(presence.highest[chosen])
    moment = presence.first_with(peak, counted + chosen * STEP)
    work_ends = np.sort(np.minimum(stops, FAR))
    began = np.searchsorted(spells.start, moment, side="right")
    active = int(began - np.searchsorted(work_ends, moment, side="right"))
    work = np.minimum(stops, length) - np.maximum(spells.start, counted)
    hours = np.bincount(spells.profile, weights=np.maximum(work, 0) / HOUR, minlength=len(profiles))
    return Ample(
        peak, active, float(presence.mean.sum()) * STEP / HOUR, tuple(hours.tolist())
    )  # fmt: skip
