"""The peak of a pool's sessions over seeds, and how much of it may be drawn at once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from idle_harbor.core.base.caches import cached
from idle_harbor.core.base.stopping import in_threads
from idle_harbor.core.calendar.clock import Horizon, horizon_for, warm_days_for, week_start
from idle_harbor.core.demand.crowd import FEWEST_SEEDS, MOST_SPELLS, affordable
from idle_harbor.core.demand.spells import Known, PoolDemand, demand_of, pool_spells
from idle_harbor.core.errors import Fault, TooMuchError, UnknownNameError
from idle_harbor.core.figures.ideal import only_lingering
from idle_harbor.core.figures.intervals import Percentile, percentile
from idle_harbor.core.plan import Logon, Plan, Pool, Profile
from idle_harbor.core.sizing.ample import Ample, ample_of

#: Weeks that the peak is taken over unless more are asked for.
SEEDS = 16
_DAYS = 7


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


@cached(16_000_000, lambda ample: 64 + 8 * len(ample.hours_by_profile))
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
    _check_spells(demand.expected_spells(sizing_horizon(plan, pool)), pool)


def _check_spells(spells: float, pool: Pool) -> None:
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
    return affordable(spells_of_all(plan), wanted)


def spells_by_pool(plan: Plan) -> list[float]:
    """How many spells one week of each pool is expected to have."""
    known: Known = {}
    return [
        demand_of(plan, pool.id).expected_spells(sizing_horizon(plan, pool), known)
        for pool in plan.pools
    ]


def spells_of_all(plan: Plan) -> float:
    """How many spells one week of all pools is expected to have."""
    return sum(spells_by_pool(plan))


def check_all_sizings(plan: Plan) -> float:
    """How many spells one week of all pools is expected to have; raises TooMuchError where the
    fewest weeks of one are more than a call draws, or those of all than one request."""
    found = spells_by_pool(plan)
    for pool, of_pool in zip(plan.pools, found, strict=True):
        _check_spells(of_pool, pool)
    spells = sum(found) * FEWEST_SEEDS
    if spells > MOST_IN_PARTS:
        raise TooMuchError(
            Fault(
                "/pools",
                f"{spells:,.0f} spells in {FEWEST_SEEDS} weeks of all {len(plan.pools)} pools are "
                f"more than the {MOST_IN_PARTS:,} that are drawn at once",
                "look at pools one at a time, or keep them in plans of their own",
            )
        )
    return sum(found)


def sizing_horizon(plan: Plan, pool: Pool) -> Horizon:
    """The plan's week in the pool's zone."""
    return horizon_for(pool.time_zone, week_start(plan.week_of), _DAYS, warm_days_for(pool))


def named_in(plan: Plan, pool: Pool) -> int:
    """Named people who may open a pool in the plan's week."""
    return demand_of(plan, pool.id).named(sizing_horizon(plan, pool).counted_dates)
