"""What only the whole plan can tell: names that stand twice, and names that are not there."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import TypeAlias

from idle_harbor.core.calendar.clock import zone_exists
from idle_harbor.core.errors import Fault
from idle_harbor.core.plan import Plan
from idle_harbor.core.rules.load_rules import load_rule_faults
from idle_harbor.core.rules.people import people_faults
from idle_harbor.core.rules.pools import pool_faults
from idle_harbor.core.rules.schedules import schedule_faults
from idle_harbor.core.rules.wording import missing, repeated

Family: TypeAlias = Callable[[Plan], Iterator[Fault]]


def faults_of(plan: Plan) -> list[Fault]:
    """Everything that is wrong with a plan whose fields are each within bounds."""
    return [fault for family in FAMILIES for fault in family(plan)]


def _duplicates(plan: Plan) -> Iterator[Fault]:
    lists = (
        "sites",
        "profiles",
        "groups",
        "sizes",
        "disks",
        "pools",
        "schedules",
        "images",
        "places",
    )
    for name in lists:
        yield from repeated(f"/{name}", [item.id for item in getattr(plan, name)])


def _references(plan: Plan) -> Iterator[Fault]:
    sites, profiles = [s.id for s in plan.sites], [p.id for p in plan.profiles]
    for k, group in enumerate(plan.groups):
        yield from missing(f"/groups/{k}/site", "site", group.site, sites)
        yield from missing(f"/groups/{k}/profile", "workload profile", group.profile, profiles)
    for k, pool in enumerate(plan.pools):
        yield from missing(f"/pools/{k}/size", "host size", pool.size, [s.id for s in plan.sizes])
        schedules = [s.id for s in plan.schedules]
        yield from missing(f"/pools/{k}/schedule", "schedule", pool.schedule, schedules)
        if pool.disk is not None:
            yield from missing(f"/pools/{k}/disk", "disk", pool.disk, [d.id for d in plan.disks])
        if pool.image is not None:
            images = [image.id for image in plan.images]
            yield from missing(f"/pools/{k}/image", "image", pool.image, images)


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


#: The rules, in the order in which they are told. Each family finds what it finds by the fields of
#: the plan that it reads, and by nothing else.
FAMILIES: tuple[Family, ...] = (
    _duplicates,
    _references,
    _zones,
    people_faults,
    schedule_faults,
    load_rule_faults,
    pool_faults,
)
