"""How many different people come to a pool in a month, expected before any is drawn.

A person who comes on a day with probability p is not seen over independent days with the product
of 1 − p; a week stands for a month as everywhere, each of its days 365.25 / 12 / 7 times.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from math import ceil, prod

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.calendar.clock import MONTH_DAYS, Horizon
from idle_harbor.core.demand.dropins import rates_on
from idle_harbor.core.demand.headcount import Comer, Sheet, grown, people_on, sheet_of
from idle_harbor.core.demand.spells import PoolDemand, Shared, shared_people
from idle_harbor.core.plan import DropIn, Headcount


@dataclass(frozen=True, slots=True)
class Visitors:
    """Different people expected, and the drop-in groups that do not say how many theirs are."""

    people: float
    unknown: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class WeightedDay:
    """A date that counts so many times."""

    day: date
    weight: float


def month_of(horizon: Horizon) -> list[WeightedDay]:
    """The counted days of a horizon, each as often as they make a typical month."""
    return [WeightedDay(day, float(MONTH_DAYS) / horizon.days) for day in horizon.counted_dates]


def _running_month(days: Sequence[WeightedDay]) -> list[WeightedDay]:
    """As many days one after the other: in a rotation a week does not stand for a month."""
    whole = sum(each.weight for each in days)
    return [
        WeightedDay(days[0].day + timedelta(days=k), min(whole - k, 1.0))
        for k in range(ceil(whole - 1e-9))
    ]


def _chances(sheet: Sheet, copy: int) -> NDArray[np.float64]:
    """The chance that a person comes, by the person's place in the rotation (one without)."""
    by_pattern = np.clip(np.array(sheet.chances) * sheet.effect.factor - copy, 0.0, 1.0)
    if not sheet.crews:
        return np.array([by_pattern @ np.diff(sheet.edges, prepend=0.0)])
    turns = np.roll(np.array(sheet.crews), -sheet.crew_shift)
    return np.where(turns >= 0, by_pattern[turns], 0.0)


def _unseen(comer: Comer, days: Sequence[WeightedDay], copy: int) -> NDArray[np.float64]:
    """The chance never to be seen, by place in the rotation."""
    opened = 1.0 - prod(1.0 - use.use for use in comer.uses)
    demand = comer.group.demand
    places = 1
    if isinstance(demand, Headcount) and demand.rotation is not None:
        places = len(demand.rotation.order)
    logs = np.zeros(places)
    for each in days:
        sheet = sheet_of(comer, each.day)
        if sheet is not None and copy < sheet.copies:
            with np.errstate(divide="ignore"):
                logs = logs + each.weight * np.log1p(-opened * _chances(sheet, copy))
    return np.exp(logs)


def _visits(comer: Comer, days: Sequence[WeightedDay]) -> float:
    found = 0.0
    for each in days:
        cuts, per_second = rates_on(comer, each.day)
        found += each.weight * float(np.sum(np.diff(cuts) * per_second))
    return found


def _together(shared: Shared, unseen: dict[str, float]) -> float:
    """Shared people expected to be seen in any of their groups.

    Of a group that has shrunk the last ones are gone, and are seen in the others alone.
    """
    found, before = 0.0, 0
    for upto in sorted({shared.people(group) for group in shared.begins}):
        within = [unseen[group] for group in shared.begins if shared.people(group) >= upto]
        found += (upto - before) * (1.0 - prod(within))
        before = upto
    return found


def different_people(demand: PoolDemand, days: Sequence[WeightedDay]) -> Visitors:
    """Different people expected over days, people of several groups counted once.

    Events that bring more people than there are bring others. Visits of drop-in groups are by as
    many different people as the group says, but no more than there are visits.
    """
    days = [each for each in days if demand.comes_on(each.day)]
    people = 0.0
    unknown: list[str] = []
    unseen: dict[str, float] = {}
    for comer in demand.comers:
        group = comer.group
        if isinstance(group.demand, DropIn):
            if group.demand.different_people is None:
                unknown.append(group.id)
            elif days:
                said = group.demand.different_people * grown(group, days[0].day)
                people += min(said, _visits(comer, days))
            continue
        if not days:
            continue
        own = days if group.demand.rotation is None else _running_month(days)
        count = max(people_on(group, each.day) for each in own)
        chances = _unseen(comer, own, 0)
        places = np.bincount(np.arange(count) % len(chances), minlength=len(chances))
        people += float(places @ (1.0 - chances))
        unseen[group.id] = float(chances.mean())
        sheets = [sheet_of(comer, each.day) for each in own]
        for copy in range(1, max((s.copies for s in sheets if s is not None), default=0)):
            people += count * float(1.0 - _unseen(comer, own, copy).mean())
    sizes = {
        comer.group.id: max(people_on(comer.group, each.day) for each in days)
        for comer in demand.comers
        if days and isinstance(comer.group.demand, Headcount)
    }
    for shared in shared_people(demand, sizes):
        apart = sum(shared.people(group) * (1.0 - unseen[group]) for group in shared.begins)
        people += _together(shared, unseen) - apart
    return Visitors(people, tuple(unknown))
