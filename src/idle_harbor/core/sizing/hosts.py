"""Sizing a pool as a picture: every host size, what binds on it, and the hosts for the peak."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from math import ceil

import numpy as np

from idle_harbor.core.money.rates import always_on, break_even, session_hour
from idle_harbor.core.plan import Place, Plan, Pool, Profile, Size
from idle_harbor.core.plan.lookup import find_pool
from idle_harbor.core.plan.workload import image_of, place_of, profile_on, size_at, tuned_pool
from idle_harbor.core.sizing.density import (
    RESOURCE_NAMES,
    RESOURCES,
    Bearing,
    Density,
    Mix,
    Resource,
    bearing_of,
    density_of,
    mix_of,
    used_share,
)
from idle_harbor.core.sizing.peak import (
    Crest,
    Wish,
    check_sizing,
    crest_of,
    sizing_demand,
    sizing_horizon,
)
from idle_harbor.core.sizing.zone_loss import hosts_for, hosts_left


@dataclass(frozen=True, slots=True)
class SizeView:
    """One host size for one pool.

    ``curves`` has, for each resource that binds at all, the share of what a host may bear that
    1, 2, … sessions want; ``hosts`` the hosts for the peak at a limit of 1, 2, … sessions, up to
    the limit at least, however far the curves go.
    Prices are for one host-hour; ``break_even`` is the share of the hours from which a committed
    price pays, by years. ``missing`` says what speaks against the size, "" where nothing does.
    """

    size: Size
    density: Density
    untuned: int
    slack: dict[Resource, float]
    curves: dict[Resource, tuple[float, ...]]
    hosts: tuple[int, ...]
    limit: int
    per_session_hour: Decimal | None
    per_month: Decimal
    break_even: tuple[tuple[int, float], ...]
    zones: tuple[str, ...]
    missing: str


@dataclass(frozen=True, slots=True)
class Sizing:
    """The picture of a pool: what comes, what an average session draws, every size beside it.

    ``holds`` is how many sessions the pool's hosts can hold, and ``lacking`` how many at the peak
    they cannot; ``after_loss`` is what they hold when a zone is gone, None without zones.
    """

    pool: Pool
    crest: Crest
    mix: Mix
    bearing: Bearing
    zones: int
    sizes: tuple[SizeView, ...]
    holds: int
    lacking: int
    after_loss: int | None

    @property
    def cheapest(self) -> Decimal | None:
        """The least price of a session's hour on any size that fits."""
        prices = [v.per_session_hour for v in self.sizes if not v.missing]
        return min((price for price in prices if price is not None), default=None)


def _weighted(plan: Plan, crest: Crest, tuned: Sequence[Profile]) -> list[tuple[Profile, float]]:
    """Profiles with their hours; where nobody comes, each of the plan's counts the same."""
    if sum(crest.weights) > 0.0:
        return list(zip(tuned, crest.weights, strict=True))
    return [(profile, 1.0) for profile in tuned]


def _missing(size: Size, density: Density, place: Place | None) -> str:
    if place is not None and place.offer_of(size.id) is None:
        return f"'{place.called}' does not have this size"
    if density.sessions == 0:
        lasting = "" if size.burst is None else " on its baseline"
        return f"not one session fits{lasting}: {RESOURCE_NAMES[density.binding]} binds"
    return ""


@dataclass(frozen=True, slots=True)
class _Frame:
    """What every size of one picture is seen against."""

    pool: Pool
    place: Place | None
    crest: Crest
    mix: Mix
    bearing: Bearing
    untuned_mix: Mix
    untuned_bearing: Bearing
    wish: Wish


def _zones_lost(frame: _Frame, size: str) -> tuple[tuple[str, ...], int]:
    """The zones that have a size, and how many of them the wish deals with losing one of."""
    offer = None if frame.place is None else frame.place.offer_of(size)
    zones = () if offer is None else frame.pool.zones or offer.zones
    return zones, len(zones) if frame.wish.lose_zone else 0


def _size_view(frame: _Frame, size: Size, longest: int) -> SizeView:
    size = size_at(size, frame.place)
    density = density_of(frame.mix, size, frame.bearing)
    many = frame.pool.kind == "shared"
    own = size.id == frame.pool.size
    best = max(density.sessions, 1) if many else 1
    limit = frame.pool.session_limit if own else best
    zones, lost = _zones_lost(frame, size.id)
    counts = np.arange(1.0, longest + 1.0)
    curves: dict[Resource, tuple[float, ...]] = {}
    slack: dict[Resource, float] = {}
    for resource in RESOURCES:
        curve = used_share(frame.mix, size, frame.bearing, resource, counts)
        if curve is None:
            continue
        curves[resource] = tuple(curve.tolist())
        at_limit = used_share(frame.mix, size, frame.bearing, resource, np.array([float(limit)]))
        assert at_limit is not None
        slack[resource] = 1.0 - float(at_limit[0])
    peak = int(frame.crest.peak.value)
    hosts = tuple(
        hosts_for(peak, n, spare=frame.wish.spare, zones=lost)
        for n in range(1, max(longest, limit) + 1)
    )
    needed = hosts_for(peak, limit, spare=frame.wish.spare, zones=lost)
    return SizeView(
        size=size,
        density=density,
        untuned=density_of(frame.untuned_mix, size, frame.untuned_bearing).sessions,
        slack=slack,
        curves=curves,
        hosts=hosts,
        limit=limit,
        per_session_hour=None if density.sessions == 0 else session_hour(size, limit),
        per_month=size.whole_price * always_on(needed),
        break_even=break_even(size),
        zones=zones,
        missing=_missing(size, density, frame.place),
    )


#: Sessions on the picture's axis at most.
_LONGEST = 200


def _axis(frame: _Frame, sizes: Sequence[Size]) -> int:
    """How far the picture's axis goes: beyond the limit, and beyond what the best size bears."""
    if frame.pool.kind != "shared":
        return 4
    best = max((density_of(frame.mix, s, frame.bearing).sessions for s in sizes), default=1)
    return min(max(ceil(1.3 * max(best, frame.pool.session_limit)), 8), _LONGEST)


def size_pool(plan: Plan, pool_id: str, wish: Wish | None = None) -> Sizing:
    """What each host size bears of a pool's people, and the hosts for their peak.

    ``plan`` is a checked plan, ``wish`` what is asked of the peak (None: as usual). Raises
    UnknownNameError for a pool that the plan lacks or a group that is not in it, TooMuchError
    beyond the bound of a call.
    """
    pool = find_pool(plan, pool_id)
    wish = wish or Wish()
    check_sizing(plan, pool, wish)
    return sizing_of(plan, pool, wish)


def sizing_of(plan: Plan, pool: Pool, wish: Wish) -> Sizing:
    """The sizing of a pool of a checked plan; raises UnknownNameError for a group not in it."""
    demand = sizing_demand(plan, pool, wish.group)
    crest = crest_of(plan, pool, demand, sizing_horizon(plan, pool), wish)
    image = image_of(plan, pool)
    active = crest.active_share if wish.active_share is None else wish.active_share
    tuned = [profile_on(profile, pool, image) for profile in plan.profiles]
    plain = [profile_on(profile, pool, None) for profile in plan.profiles]
    frame = _Frame(
        pool=pool,
        place=place_of(plan, pool),
        crest=crest,
        mix=mix_of(_weighted(plan, crest, tuned)),
        bearing=bearing_of(tuned_pool(pool, image), active),
        untuned_mix=mix_of(_weighted(plan, crest, plain)),
        untuned_bearing=bearing_of(pool, active),
        wish=wish,
    )
    longest = _axis(frame, plan.sizes)
    zones, _ = _zones_lost(frame, pool.size)
    holds = pool.hosts.most * pool.session_limit
    left = hosts_left(pool.hosts.most, len(zones)) if len(zones) > 1 else None
    return Sizing(
        pool=pool,
        crest=crest,
        mix=frame.mix,
        bearing=frame.bearing,
        zones=len(zones),
        sizes=tuple(_size_view(frame, size, longest) for size in plan.sizes),
        holds=holds,
        lacking=max(int(crest.peak.value) - holds, 0),
        after_loss=None if left is None else left * pool.session_limit,
    )
