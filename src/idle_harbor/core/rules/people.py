"""What can be wrong with a plan's people: patterns, holidays, events, overlaps, access."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from idle_harbor.core.calendar.occasions import regions_of
from idle_harbor.core.errors import Fault, some_of
from idle_harbor.core.plan import Dates, Headcount, Histogram, Leaving, Pattern, Plan, Rotation
from idle_harbor.core.plan.declare import clock_text
from idle_harbor.core.plan.derived import pattern_names
from idle_harbor.core.plan.overlaps import shared_by_group
from idle_harbor.core.rules.wording import missing, repeated

_SUM_SLACK = 1e-6
_DAY = 86_400
_DAY_NAMES = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")


def people_faults(plan: Plan) -> Iterator[Fault]:
    """Everything wrong with who comes, when and to what."""
    yield from _holidays(plan)
    for g, group in enumerate(plan.groups):
        if isinstance(group.demand, Headcount):
            yield from _headcount(f"/groups/{g}/demand", group.demand)
    yield from _events(plan)
    yield from _overlaps(plan)
    yield from _access(plan)
    yield from _assigned(plan)


def _holidays(plan: Plan) -> Iterator[Fault]:
    for k, site in enumerate(plan.sites):
        base = f"/sites/{k}/holidays"
        resting = site.holidays
        yield from repeated(f"{base}/own", [str(own.day) for own in resting.own], "day", "date")
        if resting.country is None:
            if resting.region is not None:
                yield Fault(
                    f"{base}/region",
                    "a region is given without a country",
                    "give the country too, or take the region away",
                )
            continue
        regions = regions_of(resting.country)
        if regions is None:
            yield Fault(
                f"{base}/country",
                f"no public holidays are known for the country '{resting.country}'",
                "use a code of two letters such as IE, or list days of your own",
            )
        elif resting.region is not None and resting.region not in regions:
            listed = some_of(regions, resting.region)
            yield Fault(
                f"{base}/region",
                f"'{resting.country}' has no region '{resting.region}'",
                f"use one of its regions ({listed}) or none",
            )


def _leaving(pointer: str, leaving: Leaving) -> Iterator[Fault]:
    total = leaving.sign_off + leaving.disconnect + leaving.walk_away
    if abs(total - 1.0) > _SUM_SLACK:
        yield Fault(
            pointer,
            f"the ways of leaving add up to {total:g}",
            "make sign off, disconnect and walk away add up to 1",
        )


def _headcount(base: str, demand: Headcount) -> Iterator[Fault]:
    patterns = demand.patterns
    yield from repeated(f"{base}/patterns", [pattern.id for pattern in patterns])
    if demand.rotation is None:
        yield from _shares(f"{base}/patterns", patterns)
    else:
        yield from _turns(f"{base}/rotation", demand.rotation, patterns)
    for p, pattern in enumerate(patterns):
        here = f"{base}/patterns/{p}"
        yield from _leaving(f"{here}/leaving", pattern.leaving)
        for name, part in (("start", pattern.start), ("length", pattern.length)):
            spread = part.spread
            if isinstance(spread, Histogram):
                yield from _observed(f"{here}/{name}", name, spread)
        yield from _breaks(here, pattern)


def _observed(pointer: str, name: str, spread: Histogram) -> Iterator[Fault]:
    if sum(spread.weights) <= 0.0:
        yield Fault(
            f"{pointer}/weights",
            f"every weight of the observed {name} is 0",
            "give at least one step a weight",
        )
    width = spread.step * len(spread.weights)
    if width > _DAY:
        yield Fault(
            f"{pointer}/weights",
            f"{len(spread.weights)} steps of {spread.step // 60} min are longer than a day",
            "use fewer or shorter steps",
        )


def _shares(pointer: str, patterns: Sequence[Pattern]) -> Iterator[Fault]:
    """On every weekday the shares of the patterns valid on it add up to 1.

    Patterns with share 0 wait for an event that names them: a day of these alone is a day off.
    """
    wrong: dict[float, list[int]] = {}
    for weekday in range(7):
        valid = [p.share for p in patterns if p.attendance[weekday] is not None]
        if any(valid) and abs(sum(valid) - 1.0) > _SUM_SLACK:
            wrong.setdefault(round(sum(valid), 6), []).append(weekday)
    for total, weekdays in wrong.items():
        days = ", ".join(_DAY_NAMES[weekday] for weekday in weekdays)
        yield Fault(
            pointer,
            f"the shares of the patterns that are valid on {days} add up to {total:g}",
            "make them add up to 1; a pattern that rests on a day is listed there with 0",
        )


def _turns(pointer: str, turn: Rotation, patterns: Sequence[Pattern]) -> Iterator[Fault]:
    names = [pattern.id for pattern in patterns]
    if not any(name is not None for name in turn.order):
        yield Fault(
            f"{pointer}/order",
            "the rotation has no shift in it",
            "name at least one of the group's patterns",
        )
    for k, name in enumerate(turn.order):
        if name is not None:
            yield from missing(f"{pointer}/order/{k}", "pattern", name, names)


def _breaks(base: str, pattern: Pattern) -> Iterator[Fault]:
    """Breaks follow each other: each begins, on average, after the one before is over."""
    over = None
    for b, pause in enumerate(pattern.breaks):
        pointer = f"{base}/breaks/{b}"
        yield from _leaving(f"{pointer}/leaving", pause.leaving)
        begins = pattern.break_start(pause)
        if over is not None and begins < over:
            yield Fault(
                f"{pointer}/at" if pause.clock is not None else f"{pointer}/after_minutes",
                f"the break at {clock_text(round(begins) % _DAY)} begins before the one above it "
                f"is over at {clock_text(round(over) % _DAY)}",
                "list breaks in the order of the day, one after the other",
            )
        over = begins + 60 * pause.mean_minutes


def _events(plan: Plan) -> Iterator[Fault]:
    yield from repeated("/events", [event.id for event in plan.events])
    groups = {group.id: group for group in plan.groups}
    for k, event in enumerate(plan.events):
        base = f"/events/{k}"
        first, last = event.when.first, event.when.last
        if last < first:  # type: ignore[operator]
            what = "day" if isinstance(event.when, Dates) else "workday"
            yield Fault(
                f"{base}/when/to",
                f"the last {what} {last} is before the first, {first}",
                "let the event end on or after its first day",
            )
        for g, name in enumerate(event.groups):
            yield from missing(f"{base}/groups/{g}", "group", name, groups)
        if event.pattern is None:
            continue
        concerned = [groups[name] for name in event.groups or groups if name in groups]
        having = [g.id for g in concerned if event.pattern in pattern_names(g)]
        lacking = [g.id for g in concerned if g.id not in having] if event.groups else []
        if lacking or not having:
            who = f"group '{lacking[0]}' has" if lacking else "no group has"
            yield Fault(
                f"{base}/pattern",
                f"{who} no pattern '{event.pattern}'"
                if lacking
                else f"{who} a pattern '{event.pattern}'",
                "name a pattern of the event's groups, or add it to them",
            )


def _overlaps(plan: Plan) -> Iterator[Fault]:
    people = {g.id: g.demand.people for g in plan.groups if isinstance(g.demand, Headcount)}
    drop_ins = {g.id for g in plan.groups} - people.keys()
    shared = shared_by_group(plan.overlaps)
    last = {name: k for k, overlap in enumerate(plan.overlaps) for name in overlap.groups}
    sets = [" + ".join(sorted(overlap.groups)) for overlap in plan.overlaps]
    yield from repeated("/overlaps", sets, "groups", "set of groups")
    for k, overlap in enumerate(plan.overlaps):
        base = f"/overlaps/{k}"
        yield from repeated(f"{base}/groups", list(overlap.groups), "", "group")
        for g, name in enumerate(overlap.groups):
            if name in drop_ins:
                yield Fault(
                    f"{base}/groups/{g}",
                    f"'{name}' is a drop-in group: it has no named people to share",
                    "name groups with a headcount",
                )
                continue
            yield from missing(f"{base}/groups/{g}", "group", name, people)
            if last[name] == k and name in people and shared[name] > people[name]:
                yield Fault(
                    f"{base}/people",
                    f"{shared[name]} people are shared with other groups, but group '{name}' has "
                    f"{people[name]}",
                    "lower the overlap, or raise the headcount",
                )


def _access(plan: Plan) -> Iterator[Fault]:
    seen: set[tuple[str, str, str]] = set()
    groups, pools = [g.id for g in plan.groups], [p.id for p in plan.pools]
    for k, each in enumerate(plan.access):
        base = f"/access/{k}"
        yield from missing(f"{base}/group", "group", each.group, groups)
        yield from missing(f"{base}/pool", "pool", each.pool, pools)
        if each.profile is not None:
            profiles = [profile.id for profile in plan.profiles]
            yield from missing(f"{base}/profile", "workload profile", each.profile, profiles)
        key = (each.group, each.pool, each.use_as)
        if key in seen:
            what = "its apps" if each.use_as == "apps" else "a desktop"
            yield Fault(
                base,
                f"group '{each.group}' has access to {what} of pool '{each.pool}' twice",
                "keep one of the two",
            )
        seen.add(key)
        if each.use_as == "apps" and not each.apps:
            yield Fault(f"{base}/apps", "no app is named", "name the apps, or give the desktop")
        if each.use_as == "desktop" and each.apps:
            yield Fault(
                f"{base}/apps",
                "a whole desktop has every app of its image",
                "take the apps away, or give apps in place of the desktop",
            )


def _assigned(plan: Plan) -> Iterator[Fault]:
    """In a dedicated pool a host is one person's, and a person has one host."""
    people = {g.id: g.demand.people for g in plan.groups if isinstance(g.demand, Headcount)}
    for p, pool in enumerate(plan.pools):
        base = f"/pools/{p}"
        if pool.kind != "dedicated":
            if pool.assigned:
                yield Fault(
                    f"{base}/assigned",
                    f"hosts of a {pool.kind} pool are nobody's",
                    "make the pool dedicated, or empty the list",
                )
            continue
        hosts = [str(each.host) for each in pool.assigned]
        persons = [f"{each.group} {each.person}" for each in pool.assigned]
        yield from repeated(f"{base}/assigned", hosts, "host", "host")
        yield from repeated(f"{base}/assigned", persons, "person", "person")
        for k, each in enumerate(pool.assigned):
            here = f"{base}/assigned/{k}"
            yield from missing(f"{here}/group", "group with a headcount", each.group, people)
            if each.person > people.get(each.group, each.person):
                yield Fault(
                    f"{here}/person",
                    f"group '{each.group}' has {people[each.group]} people, no {each.person}",
                    "name one of them",
                )
            if each.host > pool.hosts.standing:
                yield Fault(
                    f"{here}/host",
                    f"pool '{pool.called}' has {pool.hosts.standing} hosts, no {each.host}",
                    "name one of them, or add hosts",
                )
