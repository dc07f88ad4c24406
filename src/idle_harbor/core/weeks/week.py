"""A pool of a plan through one or several simulated weeks: puts the rooms together."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from decimal import Decimal

import numpy as np

from idle_harbor.core.base.kept import kept
from idle_harbor.core.base.stopping import go_on, in_threads
from idle_harbor.core.calendar.clock import HOUR, Horizon, horizon_for, warm_days_for, week_start
from idle_harbor.core.calendar.day_types import resolved
from idle_harbor.core.demand.attendance import different_people, month_of
from idle_harbor.core.demand.crowd import MOST_SPELLS
from idle_harbor.core.demand.spells import PoolDemand, Spells, demand_of, homes_of, pool_spells
from idle_harbor.core.engine.run import Run, run
from idle_harbor.core.engine.setting import Drill, Setting
from idle_harbor.core.errors import Fault, TooMuchError
from idle_harbor.core.figures.experience import (
    FirstComers,
    Returns,
    Sessions,
    Waits,
    first_comers_of,
    forced_share_of,
    returns_of,
    sessions_of,
    waits_of,
)
from idle_harbor.core.figures.footprint import Footprint, footprint_of
from idle_harbor.core.figures.hosthours import HostHours, host_hours_of
from idle_harbor.core.figures.ideal import IdealLine, ideal_line, only_lingering
from idle_harbor.core.money.ledger import (
    CostLine,
    Priced,
    Usage,
    monthly_ledger,
    needs_people_seen,
    total_of,
)
from idle_harbor.core.plan import Plan, Pool, Profile
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
_KEPT_LINES = 16_000_000


@dataclass(frozen=True, slots=True)
class Case:
    """One pool of a plan, resolved: everything a week of it needs."""

    setting: Setting
    priced: Priced
    demand: PoolDemand
    horizon: Horizon

    @property
    def named(self) -> int:
        """Named people who may use the pool over the counted days."""
        return self.demand.named(self.horizon.counted_dates)


@dataclass(frozen=True)
class Outcome:
    """The figures of one simulated week, and its monthly ledger."""

    seed: int
    waits: Waits
    returns: Returns
    sessions: Sessions
    forced: int
    forced_share: float | None
    first: FirstComers
    hours: HostHours
    footprint: Footprint
    ledger: list[CostLine]

    @property
    def month(self) -> Decimal:
        """Cost of a month of such weeks."""
        return total_of(self.ledger)


@dataclass(frozen=True)
class Week(Outcome):
    """One simulated week with its run and its ideal line: many megabytes where many people come."""

    run: Run
    ideal: IdealLine

    @property
    def nbytes(self) -> int:
        """Bytes that the week holds on to."""
        return self.run.nbytes + self.ideal.host_seconds.nbytes

    def outcome(self) -> Outcome:
        """The figures alone."""
        return Outcome(
            self.seed,
            self.waits,
            self.returns,
            self.sessions,
            self.forced,
            self.forced_share,
            self.first,
            self.hours,
            self.footprint,
            self.ledger,
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
    seconds counted from the first of those days) hosts fail for a time.
    """
    pool = find_pool(plan, pool_id)
    begin = first or week_start(plan.week_of)
    horizon = horizon_for(pool.time_zone, begin, days, warm_days_for(pool))
    demand = demand_of(plan, pool_id)
    size = size_of(plan, pool)
    warm = horizon.counted - horizon.start
    # Targets may be of the date after the last one.
    until = horizon.dates[-1] + timedelta(days=1)
    schedule = resolved(schedule_of(plan, pool), plan, (*horizon.dates, until))
    timed = any(each.clock_of for day_type in schedule.day_types for each in day_type.ready_by)
    setting = Setting(
        homes=homes_of(demand, horizon, pool.assigned),
        pool=tuned_pool(pool, image_of(plan, pool)),
        schedule=schedule,
        size=size,
        profiles=profiles_on(plan, pool),
        behind=behind_slow_lines(plan, pool),
        zones=max(len(zones_of(plan, pool)), 1),
        measures_network=plan.prices.egress_gib > 0,
        clocks=tuple((site.id, site.time_zone) for site in plan.sites) if timed else (),
        drills=tuple(replace(drill, at=drill.at + warm) for drill in drills),
    )
    disk = next((d for d in plan.disks if d.id == pool.disk), None)
    return Case(setting, Priced(pool, size, disk, plan.prices), demand, horizon)


#: What follows from a demand alone is kept through edits of the schedule: some hundred numbers.
_KEPT_NUMBERS = 1_000_000


@kept(_KEPT_NUMBERS, lambda _: 32)
def _expected_spells(demand: PoolDemand, horizon: Horizon) -> float:
    return demand.expected_spells(horizon)


@kept(_KEPT_NUMBERS, lambda _: 32)
def _expected_people(demand: PoolDemand, horizon: Horizon) -> float:
    return different_people(demand, month_of(horizon)).people


def check_amount(case: Case, seeds: int) -> None:
    """Raise TooMuchError where the spells of all seeds pass the bound of a call."""
    spells = _expected_spells(case.demand, case.horizon) * seeds
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


@kept(_KEPT_LINES, lambda line: line.host_seconds.nbytes)
def drawn_ideal(
    demand: PoolDemand, horizon: Horizon, seed: int, pool: Pool, profiles: tuple[Profile, ...]
) -> IdealLine:
    """The ideal line of what a seed draws; kept for those who ask again."""
    return ideal_line(drawn_spells(demand, horizon, seed), pool, profiles, horizon)


def week(case: Case, seed: int, *, record: bool = False, given: Spells | None = None) -> Week:
    """Simulate one week with one seed; ``given`` spells replace the drawn ones."""
    setting, horizon = case.setting, case.horizon
    if given is None:
        spells = drawn_spells(case.demand, horizon, seed)
        ideal = drawn_ideal(
            case.demand, horizon, seed, only_lingering(setting.pool), setting.profiles
        )
    else:
        spells = given
        ideal = ideal_line(spells, setting.pool, setting.profiles, horizon)
    done = run(setting, horizon, spells, seed, record=record)
    go_on()
    hours = host_hours_of(done, ideal.counted(horizon))
    footprint = footprint_of(done, people_seen(case, given))
    return Week(
        seed=seed,
        run=done,
        ideal=ideal,
        waits=waits_of(done),
        returns=returns_of(done),
        sessions=sessions_of(done),
        forced=done.forced,
        forced_share=forced_share_of(done),
        first=first_comers_of(done),
        hours=hours,
        footprint=footprint,
        ledger=ledger_of(case, hours, footprint),
    )


def people_seen(case: Case, given: Spells | None = None) -> float:
    """Different people in a month, where a licence counts them; of given spells their people."""
    if not needs_people_seen(case.priced):
        return 0.0
    if given is None:
        return _expected_people(case.demand, case.horizon)
    counted = given.start >= case.horizon.counted - case.horizon.start
    return float(len(np.unique(given.person[counted])))


def ledger_of(case: Case, hours: HostHours, footprint: Footprint) -> list[CostLine]:
    """What a month costs of weeks that use so much."""
    horizon = case.horizon
    usage = Usage(
        days=horizon.days,
        hours=(horizon.end - horizon.counted) / HOUR,
        billed=hours.billed,
        powered=hours.powered,
        named=case.named,
        footprint=footprint,
    )
    return monthly_ledger(case.priced, usage)


def weeks(
    case: Case,
    seeds: Sequence[int],
    *,
    given: Spells | None = None,
) -> list[Outcome]:
    """The figures of several seeds, simulated on two threads.

    Raises TooMuchError beyond the bound of a call, NotWantedError once nobody waits for it.
    """
    check_amount(case, len(seeds))
    return in_threads(lambda seed: week(case, seed, given=given).outcome(), seeds)
