"""When so many hosts are to be ready: targets of a schedule as instants."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date

from idle_harbor.core.calendar.clock import (
    DAY,
    BandEdge,
    Horizon,
    band_edges,
    dates_of,
    local_to_instant,
)
from idle_harbor.core.plan.schedules import ReadyBy, Schedule


@dataclass(frozen=True, slots=True)
class Target:
    """So many hosts are ready from one instant to another: what a date's kind of day asks for on a
    clock."""

    at: int
    until: int
    asks: ReadyBy
    date: date
    day_type: str
    time_zone: str


def targets_of(schedule: Schedule, horizon: Horizon, zones: Mapping[str, str]) -> list[Target]:
    """Every target of the horizon's dates and of the date after them, in order of their instants.

    ``zones`` are those of the sites by whose clock some of them go. Without an end of its own a
    target ends with the band that holds its instant; an end that is no later on the clock is one of
    the following day.
    """
    if not any(day_type.ready_by for day_type in schedule.day_types):
        return []
    longer = replace(horizon, days=horizon.days + 1)
    edges = band_edges(schedule, longer)
    found: list[Target] = []
    for day in dates_of(schedule, longer):
        kind = schedule.day_type_of(day)
        for asks in kind.ready_by:
            zone = horizon.time_zone if asks.clock_of is None else zones[asks.clock_of]
            at = local_to_instant(zone, day, asks.at)
            until = _until(asks, at, zone, day, edges)
            if until <= horizon.start:
                continue
            found.append(Target(at, until, asks, day, kind.id, zone))
    return sorted(found, key=lambda target: (target.at, target.until))


def _until(asks: ReadyBy, at: int, zone: str, day: date, edges: list[BandEdge]) -> int:
    if asks.until is None:
        return next((edge.instant for edge in edges if edge.instant > at), at + 1)
    return local_to_instant(zone, day, asks.at + ((asks.until - asks.at - 1) % DAY + 1))
