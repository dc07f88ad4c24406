"""What only the whole plan can tell: references, sums, bands in order, hosts that exist."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

from idle_harbor.core.calendar import zone_exists
from idle_harbor.core.errors import Fault
from idle_harbor.core.plan import WEEKDAYS, Headcount, Leaving, Plan, Schedule

#: Bands begin at whole steps of five minutes.
BAND_STEP = 300
_SUM_SLACK = 1e-6


def clock(seconds: int) -> str:
    """Seconds of the day as HH:MM."""
    return f"{seconds // 3600:02d}:{seconds % 3600 // 60:02d}"


def faults_of(plan: Plan) -> list[Fault]:
    """Everything that is wrong with a plan whose fields are each within bounds."""
    return [
        *_duplicates(plan),
        *_references(plan),
        *_zones(plan),
        *_patterns(plan),
        *_schedules(plan),
        *_floors(plan),
    ]


def _duplicates(plan: Plan) -> Iterator[Fault]:
    for name in ("sites", "profiles", "groups", "sizes", "disks", "pools", "schedules"):
        yield from _repeated(f"/{name}", [item.id for item in getattr(plan, name)])
    for g, group in enumerate(plan.groups):
        if isinstance(group.demand, Headcount):
            ids = [pattern.id for pattern in group.demand.patterns]
            yield from _repeated(f"/groups/{g}/demand/patterns", ids)
    seen: set[tuple[str, str]] = set()
    for index, entitlement in enumerate(plan.entitlements):
        pair = (entitlement.group, entitlement.pool)
        if pair in seen:
            yield Fault(
                f"/entitlements/{index}",
                f"group '{pair[0]}' is entitled to pool '{pair[1]}' twice",
                "keep one of the two",
            )
        seen.add(pair)


def _repeated(pointer: str, ids: Sequence[str]) -> Iterator[Fault]:
    seen: set[str] = set()
    for index, name in enumerate(ids):
        if name in seen:
            yield Fault(
                f"{pointer}/{index}/id",
                f"the id '{name}' is used twice",
                "give each its own id",
            )
        seen.add(name)


def _missing(pointer: str, kind: str, name: str, known: Iterable[str]) -> Iterator[Fault]:
    listed = sorted(known)
    if name not in listed:
        has = ", ".join(listed) if listed else "none"
        yield Fault(
            pointer, f"there is no {kind} '{name}'", f"name one that exists ({has}) or add it"
        )


def _references(plan: Plan) -> Iterator[Fault]:
    sites, profiles = [s.id for s in plan.sites], [p.id for p in plan.profiles]
    groups, pools = [g.id for g in plan.groups], [p.id for p in plan.pools]
    for k, group in enumerate(plan.groups):
        yield from _missing(f"/groups/{k}/site", "site", group.site, sites)
        yield from _missing(f"/groups/{k}/profile", "workload profile", group.profile, profiles)
    for k, entitlement in enumerate(plan.entitlements):
        yield from _missing(f"/entitlements/{k}/group", "group", entitlement.group, groups)
        yield from _missing(f"/entitlements/{k}/pool", "pool", entitlement.pool, pools)
    for k, pool in enumerate(plan.pools):
        yield from _missing(f"/pools/{k}/size", "host size", pool.size, [s.id for s in plan.sizes])
        schedules = [s.id for s in plan.schedules]
        yield from _missing(f"/pools/{k}/schedule", "schedule", pool.schedule, schedules)
        if pool.disk is not None:
            yield from _missing(f"/pools/{k}/disk", "disk", pool.disk, [d.id for d in plan.disks])


def _zones(plan: Plan) -> Iterator[Fault]:
    named = [(f"/sites/{k}/time_zone", s.time_zone) for k, s in enumerate(plan.sites)]
    named += [(f"/pools/{k}/time_zone", p.time_zone) for k, p in enumerate(plan.pools)]
    for pointer, zone in named:
        if not zone_exists(zone):
            yield Fault(
                pointer,
                f"'{zone}' is not a time zone that is known here",
                "use an IANA name such as Europe/Dublin",
            )


def _leaving(pointer: str, leaving: Leaving) -> Iterator[Fault]:
    total = leaving.sign_off + leaving.disconnect + leaving.walk_away
    if abs(total - 1.0) > _SUM_SLACK:
        yield Fault(
            pointer,
            f"the ways of leaving add up to {total:g}",
            "make sign off, disconnect and walk away add up to 1",
        )


def _patterns(plan: Plan) -> Iterator[Fault]:
    for g, group in enumerate(plan.groups):
        if not isinstance(group.demand, Headcount):
            continue
        base = f"/groups/{g}/demand/patterns"
        patterns = group.demand.patterns
        total = sum(pattern.share for pattern in patterns)
        if patterns and abs(total - 1.0) > _SUM_SLACK:
            yield Fault(base, f"the patterns' shares add up to {total:g}", "make them add up to 1")
        for p, pattern in enumerate(patterns):
            yield from _leaving(f"{base}/{p}/leaving", pattern.leaving)
            for b, pause in enumerate(pattern.breaks):
                yield from _leaving(f"{base}/{p}/breaks/{b}/leaving", pause.leaving)
                if (
                    b
                    and pause.at
                    < pattern.breaks[b - 1].at + 60 * pattern.breaks[b - 1].mean_minutes
                ):
                    yield Fault(
                        f"{base}/{p}/breaks/{b}/at",
                        f"the break at {clock(pause.at)} begins before the one above it is over",
                        "list breaks in the order of the day, one after the other",
                    )


def _schedules(plan: Plan) -> Iterator[Fault]:
    for s, schedule in enumerate(plan.schedules):
        yield from _weekdays(f"/schedules/{s}/day_types", schedule)
        for d, day_type in enumerate(schedule.day_types):
            base = f"/schedules/{s}/day_types/{d}/bands"
            bands = day_type.bands
            if bands and bands[0].start != 0:
                yield Fault(
                    f"{base}/0/from",
                    f"the first band starts at {clock(bands[0].start)}",
                    "start the day's first band at 00:00",
                )
            for b, band in enumerate(bands):
                if band.start % BAND_STEP:
                    yield Fault(
                        f"{base}/{b}/from",
                        f"{clock(band.start)} is not on a five-minute step",
                        f"use {clock(band.start // BAND_STEP * BAND_STEP)}",
                    )
                if b and band.start <= bands[b - 1].start:
                    yield Fault(
                        f"{base}/{b}/from",
                        f"the band from {clock(band.start)} does not come after the one from "
                        f"{clock(bands[b - 1].start)}",
                        "put the bands in the order of the day, each with its own start",
                    )


def _weekdays(pointer: str, schedule: Schedule) -> Iterator[Fault]:
    ids = [day_type.id for day_type in schedule.day_types]
    yield from _repeated(pointer, ids)
    for weekday, name in enumerate(WEEKDAYS):
        holders = [d.id for d in schedule.day_types if weekday in d.weekdays]
        if len(holders) != 1:
            where = " and ".join(f"'{holder}'" for holder in holders) or "no day type"
            yield Fault(pointer, f"{name} is in {where}", f"put {name} in exactly one day type")


def _floors(plan: Plan) -> Iterator[Fault]:
    indexes = {schedule.id: k for k, schedule in enumerate(plan.schedules)}
    for pool in plan.pools:
        at = indexes.get(pool.schedule)
        if at is None:
            continue
        for d, day_type in enumerate(plan.schedules[at].day_types):
            for b, band in enumerate(day_type.bands):
                base = f"/schedules/{at}/day_types/{d}/bands/{b}"
                if band.floor > pool.standing:
                    yield Fault(
                        f"{base}/floor",
                        f"floor {band.floor} is more than the {pool.standing} hosts that pool "
                        f"'{pool.id}' can have",
                        "lower the floor or add standing hosts",
                    )
                slots = pool.standing * pool.session_limit
                if band.headroom > slots:
                    yield Fault(
                        f"{base}/headroom",
                        f"headroom {band.headroom} is more than the {slots} session slots that "
                        f"pool '{pool.id}' can have",
                        "lower the headroom or add standing hosts",
                    )
