"""Quantities of a run that are billed beside powered hosts: existing hosts, egress, people,
sessions."""

from __future__ import annotations

from dataclasses import dataclass

from idle_harbor.core.base.units import MICRO
from idle_harbor.core.calendar.clock import HOUR
from idle_harbor.core.engine.kernel import codes
from idle_harbor.core.engine.run import Run

_BITS_IN_GIB = 8 * 2**30


@dataclass(frozen=True, slots=True)
class Footprint:
    """Billed quantities over the counted horizon.

    Host-hours for which standing and surge hosts existed, GiB of egress, host-hours at the baseline
    of a burstable size, sessions at the peak, and the different people seen in a month (0 unless a
    licence counts them).
    """

    standing_hours: float
    surge_hours: float
    egress_gib: float
    baseline_hours: float
    people_seen: float
    peak_sessions: float


def footprint_of(run: Run, people_seen: float) -> Footprint:
    """Return the footprint of a run.

    ``people_seen`` is the number of different people in a month. Egress is 0 unless the run
    measured the network.
    """
    peaks = run.counted_peaks()[:, codes.L_ALL]
    return Footprint(
        standing_hours=run.total(codes.L_STANDING) / HOUR,
        surge_hours=run.total(codes.L_SURGE) / HOUR,
        egress_gib=run.total(codes.L_NETWORK) * MICRO / _BITS_IN_GIB,
        baseline_hours=run.total(codes.L_SPENT) / HOUR,
        people_seen=people_seen,
        peak_sessions=float(peaks.max(initial=0.0)),
    )
