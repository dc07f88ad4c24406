"""What hosts and sessions draw in a pool, once its place and its image have had their say."""

from __future__ import annotations

from dataclasses import replace

from idle_harbor.core.plan import Cpu, Image, Logon, Place, Plan, Pool, Profile, Size


def image_of(plan: Plan, pool: Pool) -> Image | None:
    """The image of a pool, None where it has none."""
    return next((image for image in plan.images if image.id == pool.image), None)


def place_of(plan: Plan, pool: Pool) -> Place | None:
    """The place of a pool, None where it has none."""
    return next((place for place in plan.places if place.id == pool.place), None)


def size_of(plan: Plan, pool: Pool) -> Size:
    """The host size of a pool, at the price of its place."""
    size = next(size for size in plan.sizes if size.id == pool.size)
    return size_at(size, place_of(plan, pool))


def size_at(size: Size, place: Place | None) -> Size:
    """A size at the price of a place; what the place lacks keeps the sheet's price."""
    offer = None if place is None else place.offer_of(size.id)
    if offer is None or offer.hourly is None:
        return size
    return replace(size, hourly=offer.hourly, free=None)


def zones_of(plan: Plan, pool: Pool) -> tuple[str, ...]:
    """The zones over which a pool's hosts are dealt out: its own, or all that have its size."""
    if pool.zones:
        return pool.zones
    place = place_of(plan, pool)
    offer = None if place is None else place.offer_of(pool.size)
    return () if offer is None else offer.zones


def tuned_pool(pool: Pool, image: Image | None) -> Pool:
    """The pool with what a host draws without sessions as its image makes it."""
    if image is None or (image.tuning.cpu == 1.0 and image.tuning.memory == 1.0):
        return pool
    load = replace(
        pool.load,
        base_vcpu=pool.load.base_vcpu * image.tuning.cpu,
        base_gib=pool.load.base_gib * image.tuning.memory,
    )
    return replace(pool, load=load)


def profile_on(profile: Profile, pool: Pool, image: Image | None) -> Profile:
    """A profile as it draws in a pool: showing the screens costs CPU, the image's tuning takes
    its share off all CPU, and apps added then lengthen every logon."""
    tuning = 1.0 if image is None else image.tuning.cpu
    shown = profile.display.vcpu_per_mbit * profile.display.network_mbit
    added = sum(each.seconds for each in pool.apps_at_logon)
    if tuning == 1.0 and shown == 0.0 and added == 0.0:
        return profile
    cpu, logon = profile.cpu, profile.logon
    return replace(
        profile,
        cpu=Cpu((cpu.mean + shown) * tuning, cpu.sd * tuning, cpu.idle * tuning),
        logon=Logon(logon.seconds + added, logon.vcpu * tuning),
    )


def profiles_on(plan: Plan, pool: Pool) -> tuple[Profile, ...]:
    """The plan's profiles as they draw in a pool, in the plan's order."""
    image = image_of(plan, pool)
    return tuple(profile_on(profile, pool, image) for profile in plan.profiles)


def behind_slow_lines(plan: Plan, pool: Pool) -> tuple[bool, ...]:
    """For each group of the plan whether its site's round trip to the pool passes the promise.

    Empty where nobody's does.
    """
    place = place_of(plan, pool)
    if place is None:
        return ()
    slow = {line.site for line in place.lines if line.round_trip_ms > plan.promise.round_trip_ms}
    found = tuple(group.site in slow for group in plan.groups)
    return found if any(found) else ()
