"""Every pool of a plan beside the others: what each says of itself over a few weeks."""

from __future__ import annotations

from dataclasses import dataclass

from idle_harbor.core.demand.draws import SHOWN_SEED
from idle_harbor.core.plan import Plan, Pool
from idle_harbor.core.sizing.peak import (
    SEEDS,
    Wish,
    check_all_sizings,
    crest_of_pool,
    seeds_for_all,
)
from idle_harbor.core.weeks.case import Case, case_of
from idle_harbor.core.weeks.summary import Figures, figures_of
from idle_harbor.core.weeks.week import Outcome, weeks

#: Weeks that a pool is simulated over here, where all of them together are not too many.
_WEEKS = 4


@dataclass(frozen=True, slots=True)
class Amount:
    """Weeks that each pool is simulated over, and drawn for its peak."""

    weeks: int
    peaks: int


@dataclass(frozen=True, slots=True)
class PoolView:
    """A simulated pool: its figures over some weeks, and the peak that it is sized for."""

    figures: Figures
    peak: float


def amount_for(plan: Plan) -> Amount:
    """As many weeks as all pools together allow."""
    return Amount(seeds_for_all(plan, _WEEKS), seeds_for_all(plan, SEEDS))


def check_pools(plan: Plan) -> float:
    """How many spells one week of all pools is expected to have; raises TooMuchError where they are
    more than can be simulated side by side."""
    return check_all_sizings(plan)


def weeks_of_pool(case: Case, amount: Amount) -> list[Outcome]:
    """The weeks that are shown of a pool; raises NotWantedError once nobody waits for them."""
    return weeks(case, range(SHOWN_SEED, SHOWN_SEED + amount.weeks))


def view_of_pool(plan: Plan, pool: Pool, amount: Amount) -> PoolView:
    """Simulate one of the pools; raises NotWantedError once nobody waits for it."""
    case = case_of(plan, pool.id)
    figures = figures_of(case, weeks_of_pool(case, amount))
    crest = crest_of_pool(plan, pool, Wish(seeds=amount.peaks))
    return PoolView(figures, float(crest.peak.value))
