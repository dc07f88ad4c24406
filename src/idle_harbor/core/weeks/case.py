"""One pool of a plan, resolved: what its week needs, and the pools that it shares limits with."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import TypeAlias

from idle_harbor.core.base.caches import cached
from idle_harbor.core.calendar.clock import Horizon, horizon_for, warm_days_for, week_start
from idle_harbor.core.calendar.day_types import resolved
from idle_harbor.core.demand.crowd import MOST_SPELLS
from idle_harbor.core.demand.spells import PoolDemand, Spells, demand_of, homes_of, pool_spells
from idle_harbor.core.engine.run import Run, run_estate
from idle_harbor.core.engine.setting import Drill, Estate, Limit, Member, Setting
from idle_harbor.core.errors import Fault, TooMuchError
from idle_harbor.core.money.ledger import Priced
from idle_harbor.core.plan import Plan, Pool
from idle_harbor.core.plan.estate import bounded_starts, limits_around
from idle_harbor.core.plan.lookup import find_pool, schedule_of
from idle_harbor.core.plan.workload import (
    behind_slow_lines,
    image_of,
    profiles_on,
    size_of,
    tuned_pool,
    zones_of,
)

DAYS = 7
_SPELL_BYTES = 192_000_000
_RUN_BYTES = 64_000_000
#: Bound of a cache of figures that depend on the demand alone, so edits of a schedule reuse them.
_NUMBER_BYTES = 1_000_000
Runs: TypeAlias = tuple[Run, ...]


@dataclass(frozen=True, slots=True)
class Sharer:
    """A pool of an estate: its setting, who may come, and when."""

    setting: Setting
    demand: PoolDemand
    horizon: Horizon


@dataclass(frozen=True, slots=True)
class Sharing:
    """The limits that bear on a pool, and all pools of its estate in the plan's order.

    ``place`` is the pool's own place among them.
    """

    pools: tuple[Sharer, ...]
    place: int
    limits: tuple[Limit, ...]


@dataclass(frozen=True, slots=True)
class Case:
    """One pool of a plan, resolved: everything a week of it needs."""

    setting: Setting
    priced: Priced
    demand: PoolDemand
    horizon: Horizon
    sharing: Sharing | None = None

    @property
    def named(self) -> int:
        """Named people who may use the pool over the counted days."""
        return self.demand.named(self.horizon.counted_dates)


def _setting_of(
    plan: Plan, pool: Pool, demand: PoolDemand, horizon: Horizon, drills: Sequence[Drill] = ()
) -> Setting:
    """What a run over a horizon needs of a pool."""
    warm = horizon.counted - horizon.start
    # Targets may be of the date after the last one.
    until = horizon.dates[-1] + timedelta(days=1)
    schedule = resolved(schedule_of(plan, pool), plan, (*horizon.dates, until))
    timed = any(each.clock_of for day_type in schedule.day_types for each in day_type.ready_by)
    return Setting(
        homes=homes_of(demand, horizon, pool.assigned),
        pool=tuned_pool(bounded_starts(plan, pool), image_of(plan, pool)),
        schedule=schedule,
        size=size_of(plan, pool),
        profiles=profiles_on(plan, pool),
        behind=behind_slow_lines(plan, pool),
        zones=max(len(zones_of(plan, pool)), 1),
        measures_network=plan.prices.egress_gib > 0,
        clocks=tuple((site.id, site.time_zone) for site in plan.sites) if timed else (),
        drills=tuple(replace(drill, at=drill.at + warm) for drill in drills),
    )


def case_of(
    plan: Plan,
    pool_id: str,
    *,
    first: date | None = None,
    days: int = DAYS,
    drills: Sequence[Drill] = (),
) -> Case:
    """Resolve a pool of a checked plan over ``days`` local days from ``first`` on.

    Without ``first`` they begin on the Monday of the plan's ``week_of``. In ``drills`` (their
    seconds counted from the first of those days) hosts of the pool fail for a time. Raises
    UnknownNameError for a pool that the plan lacks.
    """
    pool = find_pool(plan, pool_id)
    begin = first or week_start(plan.week_of)
    limits = limits_around(plan, pool_id)
    # In the plan's order. Pools that share begin together, so that they share the warm-up too.
    estate = [each for each in plan.pools if any(each.id in limit.pools for limit in limits)]
    warm_days = max(map(warm_days_for, estate or [pool]))

    def sharer(each: Pool) -> Sharer:
        begins = schedule_of(plan, each).day_begins
        horizon = horizon_for(each.time_zone, begin, days, warm_days, begins)
        demand = demand_of(plan, each.id)
        struck = drills if each is pool else ()
        return Sharer(_setting_of(plan, each, demand, horizon, struck), demand, horizon)

    own, sharing = sharer(pool), None
    if limits:
        places = {each.id: place for place, each in enumerate(estate)}
        sharing = Sharing(
            tuple(own if each is pool else sharer(each) for each in estate),
            places[pool_id],
            tuple(Limit(x.kind, x.most, tuple(places[each] for each in x.pools)) for x in limits),
        )
    disk = next((d for d in plan.disks if d.id == pool.disk), None)
    priced = Priced(pool, own.setting.size, disk, plan.prices)
    return Case(own.setting, priced, own.demand, own.horizon, sharing)


@cached(_NUMBER_BYTES, lambda _: 32)
def _expected_spells(demand: PoolDemand, horizon: Horizon) -> float:
    return demand.expected_spells(horizon)


def check_amount(case: Case, seeds: int) -> None:
    """Raise TooMuchError where the spells of all seeds pass the bound of a call.

    The spells of pools with which the case's pool shares limits count too.
    """
    pools = [case] if case.sharing is None else case.sharing.pools
    spells = sum(_expected_spells(each.demand, each.horizon) for each in pools) * seeds
    if spells > MOST_SPELLS:
        raise TooMuchError(
            Fault(
                "/groups",
                f"{spells:,.0f} spells over {seeds} seeds are more than the {MOST_SPELLS:,} "
                "that one call simulates",
                "ask for fewer seeds, or split the people over several pools",
            )
        )


@cached(_SPELL_BYTES, lambda spells: spells.nbytes)
def drawn_spells(demand: PoolDemand, horizon: Horizon, seed: int) -> Spells:
    """Who comes when with a seed; kept for those who ask again."""
    return pool_spells(demand, horizon, seed)


def _member_of(sharer: Sharer, seed: int, *, sums: bool) -> Member:
    """Return a pool of an estate with its drawn spells; load rules need five-minute bins."""
    spells = drawn_spells(sharer.demand, sharer.horizon, seed)
    sums = sums and not sharer.setting.schedule.load_rules
    return Member(sharer.setting, sharer.horizon, spells, sums=sums)


@cached(_RUN_BYTES, lambda runs: sum(run.nbytes for run in runs))
def _estate_runs(pools: tuple[Sharer, ...], limits: tuple[Limit, ...], seed: int) -> Runs:
    """Return the runs of all pools of an estate; cached, since the next pool is often asked for."""
    members = tuple(_member_of(each, seed, sums=False) for each in pools)
    return run_estate(Estate(members, limits), seed)


def run_of(
    case: Case,
    seed: int,
    *,
    given: Spells | None = None,
    record: bool = False,
    sums: bool = False,
) -> Run:
    """Simulate the pool of a case, and with it the pools that it shares limits with.

    ``given`` spells replace those that the seed draws for the pool. See :class:`.setting.Member`
    for ``record`` and ``sums``; load rules look back over five-minute bins, and get them.
    """
    sharing, rules = case.sharing, case.setting.schedule.load_rules
    if sharing is not None and not record and not sums and given is None:
        return _estate_runs(sharing.pools, sharing.limits, seed)[sharing.place]
    spells = drawn_spells(case.demand, case.horizon, seed) if given is None else given
    own = Member(case.setting, case.horizon, spells, record, sums and not rules)
    if sharing is None:
        return run_estate(Estate((own,)), seed)[0]
    members = [_member_of(each, seed, sums=True) for each in sharing.pools]
    members[sharing.place] = own
    return run_estate(Estate(tuple(members), sharing.limits), seed)[sharing.place]
