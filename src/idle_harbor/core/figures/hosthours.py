"""Where the host-hours of a run went: five parts that add up to the powered hours, and rounding."""

from __future__ import annotations

from dataclasses import dataclass

from idle_harbor.core.calendar.clock import HOUR
from idle_harbor.core.engine.kernel import codes
from idle_harbor.core.engine.run import Run


@dataclass(frozen=True, slots=True)
class HostHours:
    """Host-hours of one run over its counted horizon; all parts are at least 0.

    With L the session limit: ``in_use`` ∫ ceil(active / L) · ``lingering`` ∫ ceil(all / L) less
    that · ``fragmentation`` what scattered sessions occupy beyond it · ``readiness`` hosts that
    stood ready empty or were cleaned · ``transit`` starting and stopping · ``rounding`` billing
    steps.
    """

    in_use: float
    lingering: float
    fragmentation: float
    readiness: float
    transit: float
    rounding: float
    ideal: float

    @property
    def powered(self) -> float:
        """Host-hours powered: the billed hours without rounding."""
        return self.in_use + self.lingering + self.fragmentation + self.readiness + self.transit

    @property
    def billed(self) -> float:
        """Host-hours on the bill, rounding included."""
        return self.powered + self.rounding


def host_hours_of(run: Run, ideal_host_seconds: float) -> HostHours:
    """Split the powered host-hours of a run into their parts.

    ``ideal_host_seconds`` are the host-seconds of the ideal line over the counted horizon.
    """
    in_use = run.total(codes.L_LEAST_ACTIVE)
    all_sessions = run.total(codes.L_LEAST_ALL)
    occupied = run.total(codes.L_OCCUPIED)
    taking = run.total(codes.L_READY) + run.total(codes.L_DRAINING) + run.total(codes.L_RESETTING)
    transit = run.total(codes.L_STARTING) + run.total(codes.L_STOPPING)
    return HostHours(
        in_use=in_use / HOUR,
        lingering=(all_sessions - in_use) / HOUR,
        fragmentation=(occupied - all_sessions) / HOUR,
        readiness=(taking - occupied) / HOUR,
        transit=transit / HOUR,
        rounding=run.rounding_seconds / HOUR,
        ideal=ideal_host_seconds / HOUR,
    )
