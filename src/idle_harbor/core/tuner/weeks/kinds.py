"""The kinds of week of a pool's year: what they demand, why they differ, how often they come.

Two weeks are alike where on the same kinds of day the same people are expected at the same times. A
plan that serves the highest demand of each kind of day serves every week, so weeks are chosen one
by one: always the one whose demand reaches furthest beyond that of the weeks chosen before it.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

import numpy as np

from idle_harbor.core.base.caches import cached
from idle_harbor.core.calendar.clock import week_start
from idle_harbor.core.calendar.day_types import rulings_over
from idle_harbor.core.demand.expected import Floats, expected_crews, expected_day
from idle_harbor.core.demand.spells import PoolDemand, demand_of
from idle_harbor.core.plan import Plan, Pool
from idle_harbor.core.plan.lookup import find_pool, schedule_of
from idle_harbor.core.plan.workload import zones_of
from idle_harbor.core.tuner.scoring.scores import Counted
from idle_harbor.core.tuner.weeks.reasons import reason

#: Weeks of a year, the plan's own included.
YEAR_WEEKS = 53
#: Weeks whose demand is beyond the others' by less than this share of the peak are like them.
ALIKE = 0.01
#: A study looks by itself at weeks that are beyond the others by this share, at most so many of
#: them, each with at least so many candidate-weeks.
_LOOKED_AT, _MOST, _WEEKS_EACH = 0.02, 5, 500
#: Arrivals of a quarter hour are noisier than presence, and count less.
_ARRIVALS = 0.5
_DAY_BYTES = 8_000_000


@dataclass(frozen=True, slots=True)
class WeekKind:
    """A kind of week of the year.

    ``monday`` is the Monday of the week that stands for it, ``why`` says what makes it differ, and
    ``weeks`` counts the weeks of the year that are most like it. ``beyond`` is how far its demand
    reaches beyond that of the kinds before it, as a share of the peak.
    """

    name: str
    monday: date
    why: str
    weeks: int = 0
    beyond: float = 1.0


@dataclass(frozen=True, slots=True)
class _Week:
    """A week: the kind of each day, and its demand, of shape (7 days, crews, 2, 96), in shares of
    the peaks of the year."""

    monday: date
    kinds: tuple[str, ...]
    demand: Floats

    def apart(self, other: _Week) -> float:
        """How much the demand of two weeks differs; days of other kinds differ as a whole."""
        found = 0.0
        for k, (one, two) in enumerate(zip(self.kinds, other.kinds, strict=True)):
            mine, theirs = self.demand[k, :, 0], other.demand[k, :, 0]
            found += float(np.sum(np.abs(mine - theirs) if one == two else mine + theirs))
        return found


@cached(_DAY_BYTES, lambda found: found.nbytes)
def _demand_on(demand: PoolDemand, time_zone: str, day: date, *, by_crew: bool) -> Floats:
    """What a date is expected to bring; ``by_crew`` for each crew of a rotation by itself."""
    if not by_crew:
        return expected_day(demand, time_zone, day)[np.newaxis]
    return expected_crews(demand, time_zone, day)


def _weeks(plan: Plan, pool: Pool) -> list[_Week]:
    first, schedule = week_start(plan.week_of), schedule_of(plan, pool)
    days = [first + timedelta(days=k) for k in range(7 * YEAR_WEEKS)]
    rulings = rulings_over(schedule, plan, days)
    kinds = [ruling.day_type.id for ruling in rulings]
    demand = demand_of(plan, pool.id)
    # Where hosts are people's own, it matters who comes and not how many.
    own = pool.kind == "dedicated"
    table = np.array([_demand_on(demand, pool.time_zone, day, by_crew=own) for day in days])
    table /= np.maximum(table.max(axis=(0, 3), keepdims=True), 1e-9)
    table[:, :, 1] *= _ARRIVALS
    return [
        _Week(days[at], tuple(kinds[at : at + 7]), table[at : at + 7])
        for at in range(0, len(days), 7)
    ]


def _beyond(week: _Week, most: dict[str, Floats]) -> float:
    return max(
        float(np.max(week.demand[k] - most.get(kind, 0.0))) for k, kind in enumerate(week.kinds)
    )


def _raise(most: dict[str, Floats], week: _Week) -> None:
    for k, kind in enumerate(week.kinds):
        most[kind] = np.maximum(most.get(kind, 0.0), week.demand[k])


def weeks_of_year(plan: Plan, pool_id: str) -> list[WeekKind]:
    """Return the kinds of week of the year that begins with the plan's own week.

    The plan's own week is the first; the others follow in the order in which their demand reaches
    beyond that of all before them. The search is greedy: a set cover of the highest demand.

    Args:
        plan: a checked plan.
        pool_id: the pool.

    Raises:
        UnknownNameError: the plan lacks the pool.
    """
    pool = find_pool(plan, pool_id)
    weeks = _weeks(plan, pool)
    most: dict[str, Floats] = {}
    chosen, beyond, left = [weeks[0]], [1.0], weeks[1:]
    _raise(most, weeks[0])
    while left:
        further = [_beyond(week, most) for week in left]
        at = int(np.argmax(further))
        if further[at] < ALIKE:
            break
        beyond.append(further[at])
        chosen.append(left.pop(at))
        _raise(most, chosen[-1])
    counts = _counted(weeks, chosen)
    found: list[WeekKind] = []
    for week, far, count in zip(chosen, beyond, counts, strict=True):
        name, why = reason(plan, pool, week.monday)
        taken = {each.name for each in found}
        names = (name if k == 1 else f"{name} {k}" for k in range(1, YEAR_WEEKS + 1))
        own = next(each for each in names if each not in taken)
        found.append(WeekKind(own, week.monday, why, count, far))
    return found


def _counted(weeks: Sequence[_Week], chosen: Sequence[_Week]) -> list[int]:
    """How many weeks are most like each of those that are chosen."""
    counts = [0] * len(chosen)
    for week in weeks:
        apart = [week.apart(each) for each in chosen]
        counts[apart.index(min(apart))] += 1
    return counts


def weeks_by_itself(plan: Plan, pool_id: str, budget: int) -> tuple[Counted, ...]:
    """Return the weeks that a study looks at where nobody says which.

    They are the plan's own week and the kinds of week that differ most from it, weighted by how
    often they come, and a zone lost where the plan promises that everybody finds room then.

    Args:
        plan: a checked plan.
        pool_id: the pool.
        budget: candidate-weeks of the study: with few of them it looks at fewer kinds.

    Raises:
        UnknownNameError: the plan lacks the pool.
    """
    pool = find_pool(plan, pool_id)
    most = max(min(budget // _WEEKS_EACH, _MOST), 1)
    kinds = [kind for kind in weeks_of_year(plan, pool_id) if kind.beyond >= _LOOKED_AT][:most]
    weeks = {week.monday: week for week in _weeks(plan, pool)}
    counts = _counted(list(weeks.values()), [weeks[kind.monday] for kind in kinds])
    found = [
        Counted(kind.name, kind.monday, float(max(count, 1)), excusable=kind is not kinds[0])
        for kind, count in zip(kinds, counts, strict=True)
    ]
    if plan.promise.zone_loss and len(zones_of(plan, pool)) > 1:
        found.append(replace(ZONE_LOST, monday=found[0].monday))
    return tuple(found)


#: Conditions of the plan's own week that a study may be asked to bear, without a Monday yet.
_ANY = date(2000, 1, 3)
ZONE_LOST = Counted("zone lost", _ANY, 0.0, zone_lost=True)
SCENARIOS = (
    Counted("more people", _ANY, 0.0, people=1.1),
    Counted("fewer people", _ANY, 0.0, people=0.9),
    Counted("slow starts", _ANY, 0.0, starts=1.5),
    Counted("hosts fail", _ANY, 0.0, hosts_failed=0.1),
    ZONE_LOST,
)
_SAID = {
    "more people": "10 % more people in the week of the plan",
    "fewer people": "10 % fewer people in the week of the plan",
    "slow starts": "starts take half as long again in the week of the plan",
    "hosts fail": "a tenth of the hosts fails on Monday from 9:00 to 11:00 in the week of the plan",
    "zone lost": "the hosts of one zone are lost for the whole week of the plan",
}


def scenarios_of(plan: Plan, pool_id: str) -> Iterator[tuple[Counted, str]]:
    """The conditions that a study of a pool may be asked to bear, each with what it means; raises
    UnknownNameError."""
    pool = find_pool(plan, pool_id)
    for each in SCENARIOS:
        if not each.zone_lost or len(zones_of(plan, pool)) > 1:
            yield replace(each, monday=week_start(plan.week_of)), _SAID[each.name]


def weeks_to_choose(plan: Plan, pool_id: str) -> list[tuple[Counted, str]]:
    """Return all weeks and conditions that a study of a pool may be asked to count, each with what
    makes it differ.

    The weight of a week is the number of weeks of the year that are like it; a condition has none.
    Raises UnknownNameError.
    """
    kinds = [
        (Counted(kind.name, kind.monday, float(max(kind.weeks, 1))), kind.why)
        for kind in weeks_of_year(plan, pool_id)
    ]
    return [*kinds, *scenarios_of(plan, pool_id)]


def checked_weeks(plan: Plan, pool_id: str, weeks: Sequence[Counted]) -> tuple[Counted, ...]:
    """Return the weeks of the year in which the answer of a study is checked: one of each kind that
    the study does not look at itself. Raises UnknownNameError."""
    known = {week.monday for week in weeks}
    return tuple(
        Counted(kind.name, kind.monday, float(max(kind.weeks, 1)))
        for kind in weeks_of_year(plan, pool_id)
        if kind.monday not in known
    )
