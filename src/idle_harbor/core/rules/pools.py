"""What cannot be about hosts and pools: kinds that contradict themselves, names that are not there,
sizes outside their own bounds."""

from __future__ import annotations

from collections.abc import Iterator

from idle_harbor.core.errors import Fault
from idle_harbor.core.plan import Plan, Pool, Size
from idle_harbor.core.rules.wording import missing, repeated

_HAIR = 1e-9
_MOST_HOSTS = 10_000


def pool_faults(plan: Plan) -> Iterator[Fault]:
    """Everything that is wrong about the plan's hosts, sizes, places, prices and pools."""
    for k, size in enumerate(plan.sizes):
        yield from _size(f"/sizes/{k}", size)
    yield from _places(plan)
    yield from _licences(plan)
    for k, pool in enumerate(plan.pools):
        yield from _kind(f"/pools/{k}", pool)
        yield from _place_of(plan, f"/pools/{k}", pool)


def _size(base: str, size: Size) -> Iterator[Fault]:
    burst, free = size.burst, size.free
    if burst is not None and burst.first > burst.most:
        yield Fault(
            f"{base}/burst/first",
            f"a host starts with {burst.first:g} credits and keeps at most {burst.most:g}",
            "lower the first credits, or let it keep more",
        )
    terms = [str(each.years) for each in size.committed]
    yield from repeated(f"{base}/committed", terms, "years", "term in years")
    if free is None:
        return
    for name, low, high in (
        ("vcpu", free.vcpu_low, free.vcpu_high),
        ("gib_per_vcpu", free.gib_per_vcpu_low, free.gib_per_vcpu_high),
    ):
        if low > high:
            yield Fault(
                f"{base}/free/{name}_low",
                f"from {low:g} to {high:g} there is nothing to choose",
                "put the lower bound first",
            )
    steps = (size.vcpu - free.vcpu_low) / free.vcpu_step
    within = free.vcpu_low - _HAIR <= size.vcpu <= free.vcpu_high + _HAIR
    if not within or abs(steps - round(steps)) > 1e-6:
        yield Fault(
            f"{base}/vcpu",
            f"{size.vcpu:g} vCPU are not among those of '{size.called}'",
            f"choose from {free.vcpu_low:g} to {free.vcpu_high:g} in steps of {free.vcpu_step:g}",
        )
    ratio = size.memory_gib / size.vcpu
    if not free.gib_per_vcpu_low - _HAIR <= ratio <= free.gib_per_vcpu_high + _HAIR:
        low, high = size.vcpu * free.gib_per_vcpu_low, size.vcpu * free.gib_per_vcpu_high
        yield Fault(
            f"{base}/memory_gib",
            f"{size.memory_gib:g} GiB do not go with {size.vcpu:g} vCPU of '{size.called}'",
            f"choose from {low:g} to {high:g} GiB",
        )


def _places(plan: Plan) -> Iterator[Fault]:
    sizes, sites = [s.id for s in plan.sizes], [s.id for s in plan.sites]
    for k, place in enumerate(plan.places):
        base = f"/places/{k}"
        yield from repeated(f"{base}/zones", place.zones, "", "zone")
        yield from repeated(f"{base}/offers", [o.size for o in place.offers], "size", "size")
        yield from repeated(f"{base}/lines", [each.site for each in place.lines], "site", "site")
        for n, offer in enumerate(place.offers):
            yield from missing(f"{base}/offers/{n}/size", "host size", offer.size, sizes)
            for z, zone in enumerate(offer.zones):
                where = f"{base}/offers/{n}/zones/{z}"
                yield from missing(where, f"zone of '{place.called}'", zone, place.zones)
        for n, line in enumerate(place.lines):
            yield from missing(f"{base}/lines/{n}/site", "site", line.site, sites)


def _licences(plan: Plan) -> Iterator[Fault]:
    pools = [pool.id for pool in plan.pools]
    licences = plan.prices.licences
    yield from repeated("/prices/licences", [licence.id for licence in licences])
    for k, licence in enumerate(licences):
        for n, pool in enumerate(licence.pools):
            yield from missing(f"/prices/licences/{k}/pools/{n}", "pool", pool, pools)


def _kind(base: str, pool: Pool) -> Iterator[Fault]:
    if pool.kind != "shared" and pool.session_limit != 1:
        yield Fault(
            f"{base}/session_limit",
            f"a host of {pool.kind} pool '{pool.called}' may hold {pool.session_limit} sessions",
            "set the session limit to 1: such a host is one person's",
        )
    if pool.kind == "dedicated":
        kept = "what people leave on their own host would be lost"
        if pool.hosts.surge:
            yield Fault(
                f"{base}/hosts/surge",
                f"{kept} with {pool.hosts.surge} surge hosts",
                "make all hosts standing ones, or lend them",
            )
        if pool.hosts.throwaway:
            yield Fault(
                f"{base}/hosts/throwaway",
                f"{kept} on throwaway hosts",
                "keep their disks, or lend the hosts",
            )
        if pool.reset_seconds:
            yield Fault(
                f"{base}/reset_seconds",
                f"{kept} with a reset after each session",
                "set the reset to 0, or lend the hosts",
            )
    if pool.hosts.most > _MOST_HOSTS:
        yield Fault(
            f"{base}/hosts",
            f"{pool.hosts.standing:,} standing and {pool.hosts.surge:,} surge hosts are more than "
            f"{_MOST_HOSTS:,}",
            "split the people over several pools",
        )
    first, last = pool.first_date, pool.last_date
    if first is not None and last is not None and first > last:
        yield Fault(
            f"{base}/last_date",
            f"the last date {last} is before the first, {first}",
            "put them in order",
        )
    apps = [each.app for each in pool.apps_at_logon]
    yield from repeated(f"{base}/apps_at_logon", apps, "app", "app")


def _place_of(plan: Plan, base: str, pool: Pool) -> Iterator[Fault]:
    if pool.place is None:
        if pool.zones:
            yield Fault(
                f"{base}/zones",
                "zones are those of a place, and no place is named",
                "name the place, or take the zones away",
            )
        return
    yield from missing(f"{base}/place", "place", pool.place, [p.id for p in plan.places])
    place = next((p for p in plan.places if p.id == pool.place), None)
    if place is None:
        return
    yield from repeated(f"{base}/zones", pool.zones, "", "zone")
    for z, zone in enumerate(pool.zones):
        yield from missing(f"{base}/zones/{z}", f"zone of '{place.called}'", zone, place.zones)
