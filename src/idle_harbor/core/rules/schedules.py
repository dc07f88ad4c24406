"""What cannot be about schedules: days in no day type or in two, dates named twice, bands out of
order, bands that ask for more than a pool has."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date

from idle_harbor.core.errors import Fault
from idle_harbor.core.plan import WEEKDAYS, Plan, Pool, Schedule
from idle_harbor.core.plan.declare import clock_text
from idle_harbor.core.plan.schedules import (
    BAND_STEP,
    Band,
    DayType,
    ReadyBy,
    Stretch,
    as_in_pool,
    exceptions_of,
    own_values,
)
from idle_harbor.core.rules.wording import missing, repeated


def schedule_faults(plan: Plan) -> Iterator[Fault]:
    """Everything that is wrong about the plan's schedules."""
    yield from _schedules(plan)
    yield from _floors(plan)
    yield from _targets(plan)
    yield from _exceptions(plan)


def _schedules(plan: Plan) -> Iterator[Fault]:
    for s, schedule in enumerate(plan.schedules):
        yield from _weekdays(f"/schedules/{s}/day_types", schedule)
        yield from _dates(f"/schedules/{s}/day_types", schedule)
        yield from _chosen(s, schedule, plan)
        for d, day_type in enumerate(schedule.day_types):
            base = f"/schedules/{s}/day_types/{d}/bands"
            bands = day_type.bands
            if bands[0].start != schedule.day_begins:
                yield Fault(
                    f"{base}/0/from",
                    f"the first band starts at {clock_text(bands[0].start)}",
                    f"start the day's first band at {clock_text(schedule.day_begins)}",
                )
            for b, (band, end) in enumerate(zip(bands, day_type.ends, strict=True)):
                yield from _steps(f"{base}/{b}/drain_steps", band, end)
                if band.start % BAND_STEP:
                    yield Fault(
                        f"{base}/{b}/from",
                        f"{clock_text(band.start)} is not on a five-minute step",
                        f"use {clock_text(band.start // BAND_STEP * BAND_STEP)}",
                    )
                if b and band.start <= bands[b - 1].start:
                    yield Fault(
                        f"{base}/{b}/from",
                        f"the band from {clock_text(band.start)} does not come after the one from "
                        f"{clock_text(bands[b - 1].start)}",
                        "put the bands in the order of the day, each with its own start",
                    )


def _steps(pointer: str, band: Band, end: int) -> Iterator[Fault]:
    """Drain steps within their band, one after the other."""
    yield from repeated(pointer, [clock_text(s.by) for s in band.drain_steps], "by", "time")
    for k, step in enumerate(band.drain_steps):
        if not band.start <= step.by < end:
            yield Fault(
                f"{pointer}/{k}/by",
                f"{clock_text(step.by)} is not within the band from {clock_text(band.start)}",
                "give a time of the band",
            )


def _weekdays(pointer: str, schedule: Schedule) -> Iterator[Fault]:
    ids = [day_type.id for day_type in schedule.day_types]
    yield from repeated(pointer, ids)
    for weekday, name in enumerate(WEEKDAYS):
        holders = [d.id for d in schedule.day_types if weekday in d.weekdays]
        if len(holders) != 1:
            where = " and ".join(f"'{holder}'" for holder in holders) or "no day type"
            yield Fault(pointer, f"{name} is in {where}", f"put {name} in exactly one day type")


def _dates(pointer: str, schedule: Schedule) -> Iterator[Fault]:
    taken: dict[date, str] = {}
    for d, day_type in enumerate(schedule.day_types):
        for k, day in enumerate(day_type.dates):
            if day in taken:
                yield Fault(
                    f"{pointer}/{d}/dates/{k}",
                    f"{day} is in '{taken[day]}' already",
                    "name each date once",
                )
            taken.setdefault(day, day_type.id)


def _chosen(s: int, schedule: Schedule, plan: Plan) -> Iterator[Fault]:
    """Ranges, events, holidays and month ends: each date is claimed once in the same way."""
    base = f"/schedules/{s}/day_types"
    if schedule.site is not None:
        sites = [site.id for site in plan.sites]
        yield from missing(f"/schedules/{s}/site", "site", schedule.site, sites)
    events = [event.id for event in plan.events]
    claimed: list[tuple[Stretch, str]] = []
    owner: dict[str, str] = {}
    for d, kind in enumerate(schedule.day_types):
        for k, stretch in enumerate(kind.ranges):
            where = f"{base}/{d}/ranges/{k}"
            if stretch.last < stretch.first:
                yield Fault(
                    f"{where}/to",
                    f"{stretch.last} is before {stretch.first}",
                    "give the later date last",
                )
            for other, who in claimed:
                if stretch.first <= other.last and other.first <= stretch.last:
                    yield Fault(
                        where,
                        f"dates from {max(stretch.first, other.first)} on are in '{who}' already",
                        "let no two ranges overlap",
                    )
            claimed.append((stretch, kind.id))
        for k, event in enumerate(kind.events):
            yield from missing(f"{base}/{d}/events/{k}", "event", event, events)
        by_site = {"holidays": kind.holidays, "month_end": kind.month_end > 0}
        claims = {
            **{f"event '{event}'": f"events/{k}" for k, event in enumerate(kind.events)},
            **{
                field.replace("_", " "): field
                for field, claimed_so in by_site.items()
                if claimed_so
            },
        }
        for what, field in claims.items():
            if what in owner:
                yield Fault(
                    f"{base}/{d}/{field}",
                    f"'{owner[what]}' rules {what} already",
                    "let one kind of day do so",
                )
            owner.setdefault(what, kind.id)
            if field in by_site and schedule.site is None:
                yield Fault(
                    f"{base}/{d}/{field}",
                    f"{what} of no site",
                    "name the site that the schedule goes by",
                )


def _told(pool: Pool) -> str:
    if pool.hosts.surge == 0:
        return f"{pool.hosts.standing} hosts"
    return f"{pool.hosts.most} hosts ({pool.hosts.standing} standing, {pool.hosts.surge} surge)"


@dataclass(frozen=True, slots=True)
class _Pointer:
    """Where a pool's values of a band or a target stand: in its exception, or in the thing."""

    base: str
    thing: Band | ReadyBy
    pool: Pool

    def to(self, field: str) -> str:
        """The place of one of them."""
        for k, each in enumerate(exceptions_of(self.thing)):
            if each.pool == self.pool.id and field in own_values(each):
                return f"{self.base}/exceptions/{k}/{field}"
        return f"{self.base}/{field}"


def _exceptions(plan: Plan) -> Iterator[Fault]:
    """Exceptions of pools that are there, one for each."""
    pools = [pool.id for pool in plan.pools]
    for s, schedule in enumerate(plan.schedules):
        for d, day_type in enumerate(schedule.day_types):
            for place, thing in day_type.things():
                pointer = f"/schedules/{s}/day_types/{d}/{place}/exceptions"
                whose = [each.pool for each in exceptions_of(thing)]
                yield from repeated(pointer, whose, field="pool", word="pool")
                for k, pool in enumerate(whose):
                    yield from missing(f"{pointer}/{k}/pool", "pool", pool, pools)


def _floors(plan: Plan) -> Iterator[Fault]:
    indexes = {schedule.id: k for k, schedule in enumerate(plan.schedules)}
    for pool in plan.pools:
        at = indexes.get(pool.schedule)
        if at is None:
            continue
        for d, day_type in enumerate(plan.schedules[at].day_types):
            for b, shared in enumerate(day_type.bands):
                band = as_in_pool(shared, pool.id)
                base = _Pointer(f"/schedules/{at}/day_types/{d}/bands/{b}", shared, pool)
                if band.floor > pool.hosts.most:
                    yield Fault(
                        base.to("floor"),
                        f"floor {band.floor} is more than the {_told(pool)} that pool "
                        f"'{pool.called}' can have",
                        "lower the floor or add standing hosts",
                    )
                least = band.least(pool.hosts.standing)
                if band.lid is not None and least > band.lid:
                    yield Fault(
                        base.to("lid"),
                        f"a lid of {band.lid} hosts is below the {least} that are the floor in "
                        f"pool '{pool.called}'",
                        "raise the lid or lower the floor",
                    )
                if band.session_limit is not None and band.session_limit > pool.session_limit:
                    yield Fault(
                        base.to("session_limit"),
                        f"{band.session_limit} sessions a host are more than the "
                        f"{pool.session_limit} that a host of pool '{pool.called}' may hold",
                        "lower the band's limit, or raise the pool's if the load allows it",
                    )
                slots = pool.hosts.most * pool.session_limit
                if band.headroom > slots:
                    yield Fault(
                        base.to("headroom"),
                        f"headroom {band.headroom} is more than the {slots} session slots that "
                        f"pool '{pool.called}' can have",
                        "lower the headroom or add standing hosts",
                    )


def _targets(plan: Plan) -> Iterator[Fault]:
    sites = [site.id for site in plan.sites]
    for s, schedule in enumerate(plan.schedules):
        pools = [pool for pool in plan.pools if pool.schedule == schedule.id]
        for d, day_type in enumerate(schedule.day_types):
            base = f"/schedules/{s}/day_types/{d}/ready_by"
            times = [clock_text(each.at) for each in day_type.ready_by]
            yield from repeated(base, times, field="at", word="time")
            for k, target in enumerate(day_type.ready_by):
                if target.clock_of is not None:
                    yield from missing(f"{base}/{k}/clock_of", "site", target.clock_of, sites)
                for pool in pools:
                    place = _Pointer(f"{base}/{k}", target, pool).to("hosts")
                    yield from _beyond(place, as_in_pool(target, pool.id), day_type, pool)


def _beyond(pointer: str, target: ReadyBy, day_type: DayType, pool: Pool) -> Iterator[Fault]:
    """A target that the hosts, or the lid of the band that holds its time, do not allow."""
    least, at = target.least(pool.hosts.standing), clock_text(target.at)
    if least > pool.hosts.most:
        yield Fault(
            pointer,
            f"{least} hosts ready by {at} are more than the {_told(pool)} that pool "
            f"'{pool.called}' "
            "can have",
            "ask for fewer or add standing hosts",
        )
    if target.clock_of is not None:
        return
    before = (b for b in day_type.bands if b.start <= target.at)
    band = max(before, key=lambda b: b.start, default=day_type.bands[0])
    band = as_in_pool(band, pool.id)
    if band.lid is not None and least > band.lid:
        yield Fault(
            pointer,
            f"{least} hosts ready by {at} are more than the lid of {band.lid} in the band from "
            f"{clock_text(band.start)}",
            "ask for fewer or raise the lid",
        )
