"""Checks of what a plan leaves out: prices, images, disks and places."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from idle_harbor.core.checks.finding import Family, Finding
from idle_harbor.core.plan import Plan, Pool
from idle_harbor.core.plan.workload import size_of


def complete_findings(plan: Plan) -> Iterator[Finding]:
    """Parts of the plan without which a figure is less true than it looks."""
    yield from _unpriced(plan)
    yield from _lacking(
        plan,
        "no-place",
        "place",
        lambda pool: pool.place is None,
        "in no place, so no round trip, zone, quota or price of a place counts",
        "plan a place, and choose it",
    )
    yield from _lacking(
        plan,
        "no-image",
        "image",
        lambda pool: pool.image is None,
        "without an image, so nobody checks that it fits the disk and the way it is shown",
        "plan an image, and choose it",
    )
    yield from _lacking(
        plan,
        "no-disk",
        "disk",
        lambda pool: pool.disk is None and not pool.hosts.throwaway,
        "without a disk, so what their disks cost is in no month",
        "plan a disk, and choose it",
    )


def _lacking(
    plan: Plan, check: str, field: str, lacks: Callable[[Pool], bool], matters: str, mend: str
) -> Iterator[Finding]:
    """One finding for all pools that lack a part."""
    found = [(place, pool) for place, pool in enumerate(plan.pools) if lacks(pool)]
    if not found:
        return
    many = len(found)
    names = ", ".join(f"'{pool.called}'" for _, pool in found[:3]) + (" and others" * (many > 3))
    hosts = sum(pool.hosts.most for _, pool in found)
    yield Finding(
        check,
        "doubt",
        f"/pools/{found[0][0]}/{field}",
        f"{names} {'has' if many == 1 else 'have'} no {field}",
        f"{hosts:,} hosts are {matters}",
        mend,
    )


def _unpriced(plan: Plan) -> Iterator[Finding]:
    """Sizes and disks that pools use and that cost nothing."""
    for s, size in enumerate(plan.sizes):
        users = [pool for pool in plan.pools if pool.size == size.id]
        if users and all(size_of(plan, pool).whole_price == 0 for pool in users):
            hosts = sum(pool.hosts.most for pool in users)
            yield Finding(
                "no-price",
                "doubt",
                f"/sizes/{s}/hourly",
                f"an hour of '{size.called}' costs nothing",
                f"the compute of {hosts:,} hosts is in no month, and no schedule can save anything",
                "give the size its price",
            )
    for d, disk in enumerate(plan.disks):
        used = any(pool.disk == disk.id for pool in plan.pools)
        if used and disk.monthly_on == 0:
            yield Finding(
                "no-price",
                "doubt",
                f"/disks/{d}/monthly_on",
                f"a month of the disk '{disk.called}' costs nothing",
                "what disks cost is in no month",
                "give the disk its price",
            )


FAMILY = Family("complete", "What the plan leaves out", complete_findings)
