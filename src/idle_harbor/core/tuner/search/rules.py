"""Simple rules with their best numbers: the baseline that a tuned plan has to beat."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.designs.shapes import with_lids
from idle_harbor.core.tuner.guesses.theory import (
    QUARTERS,
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
    found: list[Rule] = []
    hosts = yield from settle(lambda n: _fixed(search, always_on(base, kinds, n)), 1, most)
    found.append(Rule("always on", _fixed(search, always_on(base, kinds, hosts))))

    of_kind = {kind: demand.quantile(kind, 0.9) for kind in demand.by_kind}
    level = np.max(list(of_kind.values()), axis=0)
    least = _BY_DAY * max(float(level.max()), 1.0)
    by_day = frozenset(kind for kind, found in of_kind.items() if found.max() > least)
    busy = np.flatnonzero(level > least)
    lead = lead_quarters(pool, base.schedule.tick_seconds)
    begin = max(int(busy[0]) - lead, 0) if len(busy) else 32
    end = min(int(busy[-1]) + 1, QUARTERS) if len(busy) else 72

    def parted(day: int, night: int) -> Design:
        return _fixed(search, day_and_night(base, kinds, by_day, begin, end, day, night))

    night = yield from settle(lambda n: parted(hosts, n), 0, hosts)
    day = yield from settle(lambda n: parted(n, night), night, hosts)
    found.append(Rule("day and night", parted(day, night)))

    def knocked(day: int) -> Design:
        rule = day_and_night(base, kinds, by_day, begin, end, day, 0, knock=True)
        return _fixed(search, rule)

    knocking = yield from settle(knocked, 0, hosts)
    found.append(Rule("day, and a knock by night", knocked(knocking)))

    peak = max(demand.peak, 1)
    for name, knock in (("one headroom", False), ("one headroom and a knock", True)):

        def headroom(slots: int, knock: bool = knock) -> Design:
            return search.obeying(one_headroom(base, kinds, slots, knock=knock))

        slots = yield from settle(headroom, 0, min(peak, most * pool.session_limit))
        found.append(Rule(name, headroom(slots)))
    return [rule for k, rule in enumerate(found) if rule.design not in _designs(found[:k])]


def _designs(rules: Sequence[Rule]) -> list[Design]:
    return [rule.design for rule in rules]
