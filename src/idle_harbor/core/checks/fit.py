"""Checks of whether kind, system, display, image, disk and cache go together."""

from __future__ import annotations

from collections.abc import Iterator

from idle_harbor.core.checks.finding import Family, Finding, Mend
from idle_harbor.core.plan import Image, Plan, Pool
from idle_harbor.core.plan.workload import image_of, size_of
from idle_harbor.core.sizing.peak import named_in


def fit_findings(plan: Plan) -> Iterator[Finding]:
    """Everything in a pool that does not go with the rest of it."""
    for p, pool in enumerate(plan.pools):
        base = f"/pools/{p}"
        image = image_of(plan, pool)
        people = named_in(plan, pool)
        yield from _devices(plan, pool, base)
        yield from _throwaway(plan, pool, base, image)
        if image is not None:
            yield from _system(pool, base, image, people)
            yield from _display(pool, base, image, people)
            yield from _disk(plan, pool, base, image)


def _system(pool: Pool, base: str, image: Image, people: int) -> Iterator[Finding]:
    if pool.kind == "shared" and image.system == "one session":
        yield Finding(
            "system-one-session",
            "harm",
            f"{base}/kind",
            f"the system of image '{image.called}' holds one session, and '{pool.called}' is "
            "shared",
            f"of {people:,} people one on each host gets in",
            "lend the hosts, or take an image whose system holds many sessions",
        )


def _display(pool: Pool, base: str, image: Image, people: int) -> Iterator[Finding]:
    if pool.display is not None and image.display and pool.display not in image.display:
        knows = ", ".join(image.display)
        yield Finding(
            "display-not-in-image",
            "harm",
            f"{base}/display",
            f"image '{image.called}' cannot show with '{pool.display}'; it knows {knows}",
            f"{people:,} people see nothing",
            f"use {image.display[0]}, or take another image",
            Mend(f"{base}/display", image.display[0]),
        )


def _devices(plan: Plan, pool: Pool, base: str) -> Iterator[Finding]:
    if pool.display is None:
        return
    coming = {e.group for e in plan.access if e.pool == pool.id}
    for site in plan.sites:
        groups = [g for g in plan.groups if g.site == site.id and g.id in coming]
        if not groups or not site.display or pool.display in site.display:
            continue
        names = ", ".join(f"'{group.called}'" for group in groups)
        yield Finding(
            "display-not-at-site",
            "harm",
            f"{base}/display",
            f"devices at '{site.called}' do not know '{pool.display}'; they know "
            f"{', '.join(site.display)}",
            f"everyone of {names} cannot connect from there",
            "use a protocol that the site's devices know, or give them other devices",
        )


def _throwaway(plan: Plan, pool: Pool, base: str, image: Image | None) -> Iterator[Finding]:
    """A throwaway host keeps its image in the cache of its size."""
    if not pool.hosts.throwaway:
        return
    size = size_of(plan, pool)
    gib = 0.0 if image is None else image.gib
    if gib > size.cache_gib or size.cache_gib == 0.0:
        what = "no cache" if size.cache_gib == 0.0 else f"a cache of {size.cache_gib:g} GiB"
        of_image = "" if image is None else f", the image '{image.called}' has {gib:g} GiB"
        yield Finding(
            "image-over-cache",
            "harm",
            f"{base}/hosts/throwaway",
            f"a throwaway host of '{size.called}' has {what}{of_image}",
            f"none of the {pool.hosts.most:,} hosts can be created",
            "keep the disks, take a size with a larger cache, or make the image smaller",
            Mend(f"{base}/hosts/throwaway", False),
        )


def _disk(plan: Plan, pool: Pool, base: str, image: Image) -> Iterator[Finding]:
    disk = next((disk for disk in plan.disks if disk.id == pool.disk), None)
    if disk is not None and not pool.hosts.throwaway and image.gib > disk.gib:
        fitting = [each.id for each in plan.disks if each.gib >= image.gib]
        yield Finding(
            "image-over-disk",
            "harm",
            f"{base}/disk",
            f"the image '{image.called}' has {image.gib:g} GiB, the disk '{disk.called}' "
            f"{disk.gib:g}",
            f"none of the {pool.hosts.most:,} hosts can be created",
            f"take {fitting[0]}" if fitting else "take a larger disk, or make the image smaller",
            Mend(f"{base}/disk", fitting[0]) if fitting else None,
        )


FAMILY = Family("fit", "Whether kind, image, disk and display go together", fit_findings)
