"""One pool of a plan, resolved: what its week needs, and the pools that it shares limits with."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

from idle_harbor.core.base.kept import kept
from idle_harbor.core.calendar.clock import Horizon, horizon_for, warm_days_for, week_start
from idle_harbor.core.calendar.day_types import resolved
from idle_harbor.core.demand.crowd import MOST_SPELLS
from idle_harbor.core.demand.spells import PoolDemand, Spells, demand_of, homes_of, pool_spells
from idle_harbor.core.engine.run import Run, run, run_estate
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
_KEPT_SPELLS = 192_000_000
#: What follows from a demand alone is kept through edits of the schedule: some hundred numbers.
_KEPT_NUMBERS = 1_000_000


@dataclass(frozen=True, slots=True)
class Neighbour:
    """A pool with which another one shares limits."""

    setting: Setting
    demand: PoolDemand
    horizon: Horizon


@dataclass(frozen=True, slots=True)
class Sharing:
    """The limits that bear on a pool, and the other pools of its estate in the plan's order.

    ``place`` is the pool's own place among them.
    """

    neighbours: tuple[Neighbour, ...]
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

    def horizon_of(each: Pool) -> Horizon:
        return horizon_for(each.time_zone, begin, days, warm_days)

    horizon, demand = horizon_of(pool), demand_of(plan, pool_id)
    sharing = None
    if limits:
        places = {each.id: place for place, each in enumerate(estate)}
        sharing = Sharing(
            tuple(_neighbour(plan, each, horizon_of(each)) for each in estate if each is not pool),
            places[pool_id],
            tuple(Limit(x.kind, x.most, tuple(places[each] for each in x.pools)) for x in limits),
        )
    setting = _setting_of(plan, pool, demand, horizon, drills)
    disk = next((d for d in plan.disks if d.id == pool.disk), None)
    priced = Priced(pool, setting.size, disk, plan.prices)
    return Case(setting, priced, demand, horizon, sharing)


def _neighbour(plan: Plan, pool: Pool, horizon: Horizon) -> Neighbour:
    demand = demand_of(plan, pool.id)
    return Neighbour(_setting_of(plan, pool, demand, horizon), demand, horizon)


@kept(_KEPT_NUMBERS, lambda _: 32)
def _expected_spells(demand: PoolDemand, horizon: Horizon) -> float:
    return demand.expected_spells(horizon)


def check_amount(case: Case, seeds: int) -> None:
    """Raise TooMuchError where the spells of all seeds pass the bound of a call.

    The spells of pools with which the case's pool shares limits count too.
    """
    demands = [(case.demand, case.horizon)]
    if case.sharing is not None:
        demands += [(each.demand, each.horizon) for each in case.sharing.neighbours]
    spells = sum(_expected_spells(*each) for each in demands) * seeds
    if spells > MOST_SPELLS:
        raise TooMuchError(
            Fault(
                "/groups",
                f"{spells:,.0f} spells over {seeds} seeds are more than the {MOST_SPELLS:,} "
                "that one call simulates",
                "ask for fewer seeds, or split the people over several pools",
            )
        )


@kept(_KEPT_SPELLS, lambda spells: spells.nbytes)
def drawn_spells(demand: PoolDemand, horizon: Horizon, seed: int) -> Spells:
    """Who comes when with a seed; kept for those who ask again."""
    return pool_spells(demand, horizon, seed)


def sums_suffice(setting: Setting) -> bool:
    """Whether sums alone give a pool's run: load rules look back over five-minute bins."""
    return not setting.schedule.load_rules


def run_of(
    case: Case, spells: Spells, seed: int, *, record: bool = False, sums: bool = False
) -> Run:
    """Simulate the pool of a case with given spells, and with it the pools that it shares limits
    with; see :class:`.setting.Member` for ``record`` and ``sums``."""
    setting, horizon, sharing = case.setting, case.horizon, case.sharing
    if sharing is None:
        return run(setting, horizon, spells, seed, record=record, sums=sums)
    members = [
        Member(
            each.setting,
            each.horizon,
            drawn_spells(each.demand, each.horizon, seed),
            sums=sums_suffice(each.setting),
        )
        for each in sharing.neighbours
    ]
    members.insert(sharing.place, Member(setting, horizon, spells, record, sums))
    return run_estate(Estate(tuple(members), sharing.limits), seed)[sharing.place]
