"""Simple rules with their best numbers: the baseline that a tuned plan has to beat."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.designs.shapes import with_lids
from idle_harbor.core.tuner.guesses.theory import (
    QUARTERS,
    Demand,
    always_on,
    day_and_night,
    demand_on,
    lead_quarters,
    one_headroom,
)
from idle_harbor.core.tuner.scoring.scores import Tried
from idle_harbor.core.tuner.scoring.trials import Finding
from idle_harbor.core.tuner.search.search import Search

#: A quarter hour counts as day where presence is at least this share of its peak.
_BY_DAY = 0.15


@dataclass(frozen=True, slots=True)
class Rule:
    """A simple rule with its best numbers."""

    name: str
    design: Design


#: How many numbers above the one found on few weeks are tried on all weeks.
_MORE = 3


@dataclass(frozen=True, slots=True)
class _Settler:
    """Finds the numbers of rules on some weeks of each kind, and evaluates them on all weeks."""

    search: Search
    by: int

    def settle(self, make: Callable[[int], Design], low: int, high: int) -> Finding[int]:
        """The least number from ``low`` to ``high`` that keeps the promise, by bisection, since a
        larger number never misses it by more. ``high`` where none keeps it."""
        search, most = self.search, high
        aim, many = search.aims[0], self.by * len(search.weeks)
        while low < high:
            middle = (low + high) // 2
            design = make(middle)
            yield from search.measure([design], many)
            if search.keeps(design, aim, 0.5):
                high = middle
            else:
                low = middle + 1
        for number in range(high, min(high + _MORE, most) + 1):
            yield from search.measure([make(number)])
            if search.keeps(make(number), aim, 0.5):
                return number
        return min(high + _MORE, most)


def _fixed(search: Search, design: Design) -> Design:
    """A rule of fixed numbers as it obeys the question: no host beyond its floors."""
    return with_lids(search.obeying(design), search.bounds.kinds)


@dataclass(frozen=True, slots=True)
class _Day:
    """When a pool is busy: its kinds of day, and the quarter hours between which hosts are up."""

    kinds: frozenset[str]
    hours: tuple[int, int]


def _day(base: Design, demand: Demand) -> _Day:
    """The quarter hours in which presence is a good part of its peak, with the lead of a start."""
    of_kind = {kind: demand.quantile(kind, 0.9) for kind in demand.by_kind}
    level = np.max(list(of_kind.values()), axis=0)
    least = _BY_DAY * max(float(level.max()), 1.0)
    by_day = frozenset(kind for kind, found in of_kind.items() if found.max() > least)
    busy = np.flatnonzero(level > least)
    if not len(busy):
        return _Day(by_day, (32, 72))
    lead = lead_quarters(base.pool, base.schedule.tick_seconds)
    return _Day(by_day, (max(int(busy[0]) - lead, 0), min(int(busy[-1]) + 1, QUARTERS)))


def simple_rules(search: Search, tried: Tried, base: Design, by: int) -> Finding[list[Rule]]:
    """The simple rules, on the hosts and with the timeouts of a design.

    They are: all needed hosts always on; one number of hosts by day and one by night; one number by
    day and none by night but at a knock; one headroom all day, without and with starts at a knock.
    Those that locks and bounds make equal to one before them are left out. Their numbers are found
    on ``by`` weeks of each kind. They keep locks and bounds.
    """
    kinds, pool = search.bounds.kinds, base.pool
    most = pool.hosts.most
    settle = _Settler(search, by).settle
    demand = demand_on(tried, base, search.slots[: 4 * len(search.weeks)])
    busy = _day(base, demand)

    def steady(hosts: int) -> Design:
        return _fixed(search, always_on(base, kinds, hosts))

    def parted(hosts: int, night: int, *, knock: bool = False) -> Design:
        rule = day_and_night(base, kinds, busy.kinds, busy.hours, (hosts, night), knock=knock)
        return _fixed(search, rule)

    hosts = yield from settle(steady, 1, most)
    night = yield from settle(lambda n: parted(hosts, n), 0, hosts)
    day = yield from settle(lambda n: parted(n, night), night, hosts)
    knocking = yield from settle(lambda n: parted(n, 0, knock=True), 0, hosts)
    found = [
        Rule("always on", steady(hosts)),
        Rule("day and night", parted(day, night)),
        Rule("day, and a knock by night", parted(knocking, 0, knock=True)),
    ]
    peak = min(max(demand.peak, 1), most * pool.session_limit)
    for name, knock in (("one headroom", False), ("one headroom and a knock", True)):

        def headroom(slots: int, knock: bool = knock) -> Design:
            return search.obeying(one_headroom(base, kinds, slots, knock=knock))

        slots = yield from settle(headroom, 0, peak)
        found.append(Rule(name, headroom(slots)))
    return [rule for k, rule in enumerate(found) if rule.design not in _designs(found[:k])]


def _designs(rules: Sequence[Rule]) -> list[Design]:
    return [rule.design for rule in rules]
