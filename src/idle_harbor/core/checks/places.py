"""Checks of where the hosts are: what the place has, where data may be, how far people are."""

from __future__ import annotations

from collections.abc import Iterator

from idle_harbor.core.checks.finding import Family, Finding, Mend
from idle_harbor.core.plan import Group, Headcount, Place, Plan, Pool
from idle_harbor.core.plan.lookup import called
from idle_harbor.core.plan.workload import place_of


def place_findings(plan: Plan) -> Iterator[Finding]:
    """Everything found about the places of the plan's pools."""
    for p, pool in enumerate(plan.pools):
        place = place_of(plan, pool)
        if place is None:
            continue
        coming = {e.group for e in plan.access if e.pool == pool.id}
        groups = [group for group in plan.groups if group.id in coming]
        base = f"/pools/{p}"
        yield from _has_size(plan, pool, place, base)
        yield from _data(plan, pool, place, base, groups)
        yield from _far(plan, place, base, groups)


def _people(groups: list[Group]) -> str:
    named = sum(g.demand.people for g in groups if isinstance(g.demand, Headcount))
    return f"{named:,} people" if named else "everyone who drops in"


def _has_size(plan: Plan, pool: Pool, place: Place, base: str) -> Iterator[Finding]:
    offer, size = place.offer_of(pool.size), called(plan.sizes, pool.size)
    if offer is None:
        yield Finding(
            "size-not-at-place",
            "harm",
            f"{base}/size",
            f"'{place.called}' does not have the size '{size}'",
            f"none of the {pool.hosts.most:,} hosts can be created",
            "take a size that the place has, or another place",
        )
        return
    for z, zone in enumerate(pool.zones):
        if zone not in offer.zones:
            part = -(-pool.hosts.most // len(pool.zones))
            yield Finding(
                "size-not-in-zone",
                "harm",
                f"{base}/zones/{z}",
                f"zone '{zone}' of '{place.called}' lacks the size '{size}'",
                f"about {part:,} of {pool.hosts.most:,} hosts cannot be created there",
                f"use {', '.join(offer.zones) or 'no zones'}, or take another size",
            )


def _data(
    plan: Plan, pool: Pool, place: Place, base: str, groups: list[Group]
) -> Iterator[Finding]:
    barred = [g for g in groups if g.data_areas and place.area not in g.data_areas]
    for group in barred:
        allowed = [other.id for other in plan.places if other.area in group.data_areas]
        yield Finding(
            "data-elsewhere",
            "harm",
            f"{base}/place",
            f"data of '{group.called}' may be kept in {', '.join(group.data_areas)}, and "
            f"'{place.called}' is in {place.area}",
            f"{_people([group])} may not work there",
            f"move the pool to {' or '.join(allowed)}"
            if allowed
            else "plan a place in one of these areas",
            Mend(f"{base}/place", allowed[0]) if allowed else None,
        )


def _far(plan: Plan, place: Place, base: str, groups: list[Group]) -> Iterator[Finding]:
    limit = plan.promise.round_trip_ms
    for site in plan.sites:
        here = [group for group in groups if group.site == site.id]
        trip = place.round_trip(site.id)
        if not here:
            continue
        if trip is None:
            yield Finding(
                "line-not-measured",
                "doubt",
                f"{base}/place",
                f"nobody has measured the line between '{site.called}' and '{place.called}'",
                f"whether {_people(here)} are behind a slow line is not known",
                "measure it and give it to the place",
            )
        elif trip > limit:
            yield Finding(
                "slow-line",
                "harm",
                f"{base}/place",
                f"a round trip between '{site.called}' and '{place.called}' takes {trip:g} ms, "
                "the promise "
                f"is {limit:g} ms",
                f"all working time of {_people(here)} is behind a slow line",
                "give them a pool in a nearer place",
            )


FAMILY = Family("places", "Where the hosts are", place_findings)
