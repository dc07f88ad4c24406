"""Good simple rules, each with its own numbers searched for: what a plan has to be better than."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from idle_harbor.core.tuner.designs.design import Design
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

#: A quarter hour belongs to the day where so much of the peak is there.
_BY_DAY = 0.15


@dataclass(frozen=True, slots=True)
class Rule:
    """A simple rule with the numbers that serve best."""

    name: str
    design: Design


#: Numbers above the one found by fewer weeks that are tried on all of them.
_MORE = 3


@dataclass(frozen=True, slots=True)
class _Settler:
    """Finds the numbers of rules: by some weeks of each kind, then seen through all of them."""

    search: Search
    by: int

    def settle(self, make: Callable[[int], Design], low: int, high: int) -> Finding[int]:
        """The least number from ``low`` to ``high`` with which the promise is kept, by halving:
        more is never worse. The highest where none keeps it."""
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


def simple_rules(search: Search, tried: Tried, base: Design, by: int) -> Finding[list[Rule]]:
    """All hosts that are needed on all the time; a number by day and one by night; one number of
    free slots all day: on the hosts and with the timeouts of a design. Their numbers are found by
    ``by`` weeks of each kind."""
    kinds, pool = search.bounds.kinds, base.pool
    most = pool.hosts.most
    settle = _Settler(search, by).settle
    demand = demand_on(tried, base, search.slots[: 4 * len(search.weeks)])
    found: list[Rule] = []
    hosts = yield from settle(lambda n: always_on(base, kinds, n), 1, most)
    found.append(Rule("always on", always_on(base, kinds, hosts)))

    of_kind = {kind: demand.quantile(kind, 0.9) for kind in demand.by_kind}
    level = np.max(list(of_kind.values()), axis=0)
    least = _BY_DAY * max(float(level.max()), 1.0)
    by_day = frozenset(kind for kind, found in of_kind.items() if found.max() > least)
    busy = np.flatnonzero(level > least)
    lead = lead_quarters(pool, base.schedule.tick_seconds)
    begin = max(int(busy[0]) - lead, 0) if len(busy) else 32
    end = min(int(busy[-1]) + 1, QUARTERS) if len(busy) else 72

    def parted(day: int, night: int) -> Design:
        return day_and_night(base, kinds, by_day, begin, end, day, night)

    night = yield from settle(lambda n: parted(hosts, n), 0, hosts)
    day = yield from settle(lambda n: parted(n, night), night, hosts)
    found.append(Rule("day and night", parted(day, night)))

    peak = max(demand.peak, 1)
    slots = yield from settle(
        lambda n: one_headroom(base, kinds, n), 0, min(peak, most * pool.session_limit)
    )
    found.append(Rule("one headroom", one_headroom(base, kinds, slots)))
    return found
