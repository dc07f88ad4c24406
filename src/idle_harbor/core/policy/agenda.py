"""What a schedule does by the clock, moment by moment: for people who want to know beforehand."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import date, timedelta

from idle_harbor.core.calendar.clock import (
    Horizon,
    band_edges,
    horizon_for,
    local_to_instant,
    week_start,
)
from idle_harbor.core.calendar.day_types import resolved
from idle_harbor.core.calendar.targets import targets_of
from idle_harbor.core.plan import Plan, Pool, Schedule
from idle_harbor.core.plan.lookup import schedule_of
from idle_harbor.core.plan.schedules import Band
from idle_harbor.core.policy.lead import CREATED, STARTED, lead_table


@dataclass(frozen=True, slots=True)
class Moment:
    """Something that a schedule does from one instant to another, and what kind of thing it is."""

    kind: str
    start: int
    end: int
    what: str


_LETS_GO = {
    "when empty": "empty hosts are let go",
    "drain": "the least used hosts drain",
    "drain with notice": "the least used hosts drain with notice",
}


def agenda_of(
    schedule: Schedule, pool: Pool, horizon: Horizon, zones: Mapping[str, str]
) -> list[Moment]:
    """Floors, starts, targets, releases and drain steps of a horizon's dates, in order of their
    instants.

    ``zones`` are those of the sites by whose clock some targets go; the schedule is resolved.
    """
    found = [
        *_floors(schedule, pool, horizon),
        *_targets(schedule, pool, horizon, zones),
        *_bands(schedule, pool, horizon),
    ]
    return sorted(found, key=lambda moment: (moment.start, moment.end, moment.kind))


def agenda_for(plan: Plan, pool: Pool, first: date | None, days: int) -> list[Moment]:
    """The moments of a checked plan's pool over so many dates, from the Monday of its week on where
    no first one is given."""
    shared = schedule_of(plan, pool)
    begin = first or week_start(plan.week_of)
    horizon = horizon_for(pool.time_zone, begin, days, 0, shared.day_begins)
    # Targets may be of the date after the last one.
    until = horizon.dates[-1] + timedelta(days=1)
    schedule = resolved(shared, plan, (*horizon.dates, until))
    return agenda_of(schedule, pool, horizon, {site.id: site.time_zone for site in plan.sites})


def _hosts(many: int) -> str:
    return f"{many} host{'s' * (many != 1)}"


def _in_force(schedule: Schedule, horizon: Horizon) -> list[tuple[int, int, Band]]:
    """The bands of a horizon as instants: from, until, and the band."""
    edges = band_edges(schedule, horizon)
    ends = [edge.instant for edge in edges[1:]] + [horizon.end]
    return [
        (edge.instant, end, schedule.day_types[edge.day_type].bands[edge.band])
        for edge, end in zip(edges, ends, strict=True)
    ]


def _floors(schedule: Schedule, pool: Pool, horizon: Horizon) -> Iterator[Moment]:
    """How many hosts are on at least, and the hosts that start where that becomes more."""
    going: Moment | None = None
    before: int | None = None  # what was asked for before the first date is not known
    for start, end, band in _in_force(schedule, horizon):
        least = min(band.least(pool.hosts.standing), pool.hosts.most)
        if before is not None and least > before:
            more = f"up to {_hosts(least - before)} start"
            yield Moment("start", start, start + round(pool.start.mean_seconds), more)
        before = least
        asks = f"the next one starts when they are {band.fill_ceiling:.0%} full"
        if band.headroom:
            asks += f" or fewer than {band.headroom} slots are free"
        if band.headroom_share:
            asks += f" or slots for less than {band.headroom_share:.0%} of the sessions"
        here = Moment("floor", start, end, f"at least {_hosts(least)} on; {asks}")
        if going is not None and going.what == here.what:
            going = replace(going, end=end)
        else:
            if going is not None:
                yield going
            going = here
    if going is not None:
        yield going


def _targets(
    schedule: Schedule, pool: Pool, horizon: Horizon, zones: Mapping[str, str]
) -> Iterator[Moment]:
    """Hosts that are ready by an instant, and their starts before it."""
    leads = lead_table(pool, schedule.tick_seconds)
    bands = _in_force(schedule, horizon)
    for target in targets_of(schedule, horizon, zones):
        if target.at >= horizon.end:
            continue
        hosts = target.asks.least(pool.hosts.standing)
        yield Moment("ready-by", target.at, target.until, f"{hosts} hosts are ready")
        before = (band for start, end, band in bands if start < target.at <= end)
        least = next((band.least(pool.hosts.standing) for band in before), 0)
        missing = min(hosts, pool.hosts.most) - least
        if missing > 0:
            created = pool.hosts.throwaway or not pool.hosts.standing
            kind = CREATED if created else STARTED
            # The policy looks once a tick.
            begin = target.at - int(leads[kind][missing]) - schedule.tick_seconds
            yield Moment("start", begin, target.at, f"up to {_hosts(missing)} start")


def _bands(schedule: Schedule, pool: Pool, horizon: Horizon) -> Iterator[Moment]:
    edges = band_edges(schedule, horizon)
    ends = [edge.instant for edge in edges[1:]] + [horizon.end]
    going: Moment | None = None
    for edge, end in zip(edges, ends, strict=True):
        band = schedule.day_types[edge.day_type].bands[edge.band]
        here = _release(band, pool, edge.instant, end)
        if going is not None and here is not None and here.what == going.what:
            # The next band goes on as this one did.
            going = replace(going, end=end)
        else:
            if going is not None:
                yield going
            going = here
        for step in band.drain_steps:
            at = local_to_instant(horizon.time_zone, edge.day, step.by)
            if edge.instant <= at < end:
                what = f"{100 * step.share:.10g} % of the hosts take nobody new"
                yield Moment("drain-step", at, end, what)
    if going is not None:
        yield going


def _release(band: Band, pool: Pool, start: int, end: int) -> Moment | None:
    lets_go = _LETS_GO.get(band.release)
    if lets_go is None:
        return None
    return Moment("release", start, end, f"{lets_go}, down to {band.least(pool.hosts.standing)}")
