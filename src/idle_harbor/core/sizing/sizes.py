"""Which host sizes bear a group's sessions, and what a session costs on each."""

from __future__ import annotations

from decimal import Decimal

from idle_harbor.core.money.rates import session_hour
from idle_harbor.core.plan import Group, Place, Plan, Pool, PoolKind, Size
from idle_harbor.core.plan.workload import image_of, profile_on, size_at, tuned_pool
from idle_harbor.core.sizing.density import bearing_of, density_of, mix_of


def sizes_for(
    plan: Plan, pool: Pool, group: Group, place: Place | None, kind: PoolKind
) -> list[tuple[Size, int]]:
    """Sizes that a place has (None: all) and that bear a session of a group, priced there, with
    the sessions that a host of that kind of pool holds: one but on shared hosts."""
    image = image_of(plan, pool)
    profile = next(p for p in plan.profiles if p.id == group.profile)
    mix = mix_of([(profile_on(profile, pool, image), 1.0)])
    bearing = bearing_of(tuned_pool(pool, image))
    found: list[tuple[Size, int]] = []
    for size in plan.sizes:
        if place is not None and place.offer_of(size.id) is None:
            continue
        bears = density_of(mix, size, bearing).sessions
        if bears:
            found.append((size_at(size, place), bears if kind == "shared" else 1))
    return found


def price_of_session(sized: tuple[Size, int]) -> tuple[Decimal, str]:
    """Money for a session's hour on a full host, equal ones by name: what the cheapest has least
    of."""
    size, sessions = sized
    return session_hour(size, sessions), size.id
