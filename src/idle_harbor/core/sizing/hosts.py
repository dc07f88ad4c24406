"""Sizing a pool as a picture: every host size, what binds on it, and the hosts for the peak."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from math import ceil

import numpy as np

from idle_harbor.core.calendar.clock import (
    MONTH_DAYS,
    Horizon,
    horizon_for,
    warm_days_for,
    week_start,
)
from idle_harbor.core.demand.crowd import FEWEST_SEEDS, MOST_SPELLS, affordable
from idle_harbor.core.demand.spells import PoolDemand, demand_of, pool_spells
from idle_harbor.core.errors import Fault, TooMuchError, UnknownNameError
from idle_harbor.core.figures.ideal import only_lingering
from idle_harbor.core.figures.intervals import Percentile, percentile
from idle_harbor.core.kept import kept
from idle_harbor.core.plan import Group, Logon, Place, Plan, Pool, PoolKind, Profile, Size
from idle_harbor.core.plan.workload import image_of, place_of, profile_on, size_at, tuned_pool
from idle_harbor.core.sizing.ample import Ample, ample_of
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
from idle_harbor.core.stopping import in_threads

#: Weeks that the peak is taken over unless more are asked for.
SEEDS = 16
_DAYS = 7


def hosts_for(peak: int, limit: int, *, spare: int = 0, zones: int = 0) -> int:
    """Hosts that hold a peak with so many to spare, or after the loss of one of ``zones`` zones.

    ceil(peak / limit) + spare, and at least ceil(peak / limit) × Z / (Z − 1) rounded up: of hosts
    dealt out over Z zones the largest has ceil(hosts / Z), and the others hold the peak. Fewer
    than two zones have none to lose.
    """
    least = ceil(peak / limit)
    after_loss = ceil(least * zones / (zones - 1) - 1e-9) if zones > 1 else least
    return max(least + spare, after_loss)


@dataclass(frozen=True, slots=True)
class Wish:
    """What a planner asks of a sizing: the peak's percentile, spare hosts, the loss of a zone,
    the share of sessions that are active at the peak (None: as drawn), one group alone."""

    percentile: float = 0.95
    spare: int = 0
    lose_zone: bool = False
    active_share: float | None = None
    group: str | None = None
    seeds: int = SEEDS


@dataclass(frozen=True, slots=True)
class Crest:
    """The peak of a pool's sessions over seeds, how active it is, and what is run there."""

    peak: Percentile
    active_share: float
    session_hours: float
    weights: tuple[float, ...]
    people: int
    seeds: int


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


def sizing_demand(plan: Plan, pool: Pool, group: str | None) -> PoolDemand:
    """The demand that a pool is sized for: all of it, or one group's; raises UnknownNameError."""
    demand = demand_of(plan, pool.id)
    if group is None:
        return demand
    comers = tuple(comer for comer in demand.comers if comer.group.id == group)
    if not comers:
        names = [comer.group.id for comer in demand.comers]
        raise UnknownNameError(f"group in pool '{pool.id}'", group, names)
    return replace(demand, comers=comers, overlaps=())


def _timeouts(pool: Pool) -> Pool:
    """The pool with only its timeouts: dragging a limit asks for no new draw."""
    return replace(only_lingering(pool), session_limit=1)


@kept(16_000_000, lambda ample: 64 + 8 * len(ample.hours_by_profile))
def _ample(
    demand: PoolDemand, horizon: Horizon, seed: int, pool: Pool, logons: tuple[Profile, ...]
) -> Ample:
    return ample_of(pool_spells(demand, horizon, seed), pool, logons, horizon)


def _logons(profiles: Sequence[Profile]) -> tuple[Profile, ...]:
    """Profiles with only their logon, which is all that sessions with ample hosts depend on."""
    return tuple(Profile(p.id, logon=Logon(p.logon.seconds, 0.0)) for p in profiles)


def crest_of(plan: Plan, pool: Pool, demand: PoolDemand, horizon: Horizon, wish: Wish) -> Crest:
    """The peak over seeds, with ample hosts; fewer seeds where the pool is very large."""
    seeds = affordable(demand.expected_spells(horizon), wish.seeds)
    logons, timeouts = _logons(plan.profiles), _timeouts(pool)

    def one(seed: int) -> Ample:
        return _ample(demand, horizon, seed, timeouts, logons)

    found = in_threads(one, range(1, seeds + 1))
    weights = np.array([ample.hours_by_profile for ample in found]).mean(axis=0)
    return Crest(
        peak=percentile([float(ample.peak) for ample in found], wish.percentile),
        active_share=float(np.mean([ample.active_share for ample in found])),
        session_hours=float(np.mean([ample.session_hours for ample in found])),
        weights=tuple(weights.tolist()),
        people=demand.named(horizon.counted_dates),
        seeds=seeds,
    )


def crest_of_pool(plan: Plan, pool: Pool, wish: Wish) -> Crest:
    """The peak of all who come to a pool in the plan's week."""
    return crest_of(plan, pool, demand_of(plan, pool.id), sizing_horizon(plan, pool), wish)


def check_sizing(plan: Plan, pool: Pool, wish: Wish) -> None:
    """Raise TooMuchError where not even two weeks of a pool fit into the bound of a call, and
    UnknownNameError for a group that is not in the pool."""
    demand = sizing_demand(plan, pool, wish.group)
    spells = demand.expected_spells(sizing_horizon(plan, pool))
    if spells * FEWEST_SEEDS > MOST_SPELLS:
        raise TooMuchError(
            Fault(
                "/groups",
                f"{spells:,.0f} spells a week in pool '{pool.id}' are more than can be drawn "
                f"{FEWEST_SEEDS} times in one call ({MOST_SPELLS:,})",
                "split the people over several pools",
            )
        )


#: Spells that one request over all pools of a plan draws at most, in parts and with progress.
MOST_IN_PARTS = 100_000_000


def seeds_for_all(plan: Plan, wanted: int) -> int:
    """As many of the wanted weeks as can be drawn of all pools together, at least two."""
    return affordable(_spells_of_all(plan), wanted)


def _spells_of_all(plan: Plan) -> float:
    return sum(
        demand_of(plan, pool.id).expected_spells(sizing_horizon(plan, pool)) for pool in plan.pools
    )


def check_all_sizings(plan: Plan) -> None:
    """Raise TooMuchError where the fewest weeks of all pools are more than one request draws."""
    for pool in plan.pools:
        check_sizing(plan, pool, Wish())
    spells = _spells_of_all(plan) * FEWEST_SEEDS
    if spells > MOST_IN_PARTS:
        raise TooMuchError(
            Fault(
                "/pools",
                f"{spells:,.0f} spells in {FEWEST_SEEDS} weeks of all {len(plan.pools)} pools are "
                f"more than the {MOST_IN_PARTS:,} that are drawn at once",
                "look at pools one at a time, or keep them in plans of their own",
            )
        )


def sizing_horizon(plan: Plan, pool: Pool) -> Horizon:
    """The plan's week in the pool's zone."""
    return horizon_for(pool.time_zone, week_start(plan.week_of), _DAYS, warm_days_for(pool))


def named_in(plan: Plan, pool: Pool) -> int:
    """Named people who may open a pool in the plan's week."""
    return demand_of(plan, pool.id).named(sizing_horizon(plan, pool).counted_dates)


def _weighted(plan: Plan, crest: Crest, tuned: Sequence[Profile]) -> list[tuple[Profile, float]]:
    """Profiles with their hours; where nobody comes, each of the plan's counts the same."""
    if sum(crest.weights) > 0.0:
        return list(zip(tuned, crest.weights, strict=True))
    return [(profile, 1.0) for profile in tuned]


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
    return size.whole_price / sessions, size.id


def _missing(size: Size, density: Density, place: Place | None) -> str:
    if place is not None and place.offer_of(size.id) is None:
        return f"'{place.id}' does not have this size"
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
    price = size.whole_price
    return SizeView(
        size=size,
        density=density,
        untuned=density_of(frame.untuned_mix, size, frame.untuned_bearing).sessions,
        slack=slack,
        curves=curves,
        hosts=hosts,
        limit=limit,
        per_session_hour=None if density.sessions == 0 else price / limit,
        per_month=price * needed * MONTH_DAYS * 24,
        break_even=tuple(
            (term.years, float(term.hourly / price)) for term in size.committed if price > 0
        ),
        zones=zones,
        missing=_missing(size, density, frame.place),
    )


#: Sessions on the picture's axis at most.
_LONGEST = 200


def _axis(frame: _Frame, sizes: Sequence[Size]) -> int:
    """How far the picture's axis goes: beyond the limit, and beyond what the best size bears."""
    if frame.pool.kind != "shared":
        return 4
    best = max(
        (density_of(frame.mix, s, frame.bearing).sessions for s in sizes), default=1
    )  # fmt: skip
    return min(max(ceil(1.3 * max(best, frame.pool.session_limit)), 8), _LONGEST)


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
    left = pool.hosts.most - ceil(pool.hosts.most / len(zones)) if len(zones) > 1 else 0
    return Sizing(
        pool=pool,
        crest=crest,
        mix=frame.mix,
        bearing=frame.bearing,
        zones=len(zones),
        sizes=tuple(_size_view(frame, size, longest) for size in plan.sizes),
        holds=holds,
        lacking=max(int(crest.peak.value) - holds, 0),
        after_loss=left * pool.session_limit if len(zones) > 1 else None,
    )
