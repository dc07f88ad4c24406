"""What only the whole plan can tell: names that stand twice, and names that are not there."""

from __future__ import annotations

from collections.abc import Iterator

from idle_harbor.core.calendar.clock import zone_exists
from idle_harbor.core.errors import Fault
from idle_harbor.core.plan import Plan
from idle_harbor.core.rules.people import people_faults
from idle_harbor.core.rules.pools import pool_faults
from idle_harbor.core.rules.schedules import schedule_faults
from idle_harbor.core.rules.wording import missing, repeated


def faults_of(plan: Plan) -> list[Fault]:
    """Everything that is wrong with a plan whose fields are each within bounds."""
    return [
        *_duplicates(plan),
        *_references(plan),
        *_zones(plan),
        *people_faults(plan),
        *schedule_faults(plan),
        *pool_faults(plan),
    ]


def _duplicates(plan: Plan) -> Iterator[Fault]:
    lists = (
        "sites", "profiles", "groups", "sizes", "disks", "pools", "schedules", "images", "places",
    )  # fmt: skip
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
