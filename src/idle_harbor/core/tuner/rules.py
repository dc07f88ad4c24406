"""Good simple rules, each with its own numbers searched for: what a plan has to be better than."""

from __future__ import annotations

from collections.abc import Callable, Generator
from dataclasses import dataclass

import numpy as np

from idle_harbor.core.tuner.design import Design
from idle_harbor.core.tuner.scores import Score, Tried
from idle_harbor.core.tuner.search import Search, Trial
from idle_harbor.core.tuner.theory import (
    QUARTERS,
    always_on,
    day_and_night,
    demand_on,
    lead_quarters,
    one_headroom,
)

#: A quarter hour belongs to the day where so much of the peak is there.
_BY_DAY = 0.15


@dataclass(frozen=True, slots=True)
class Rule:
    """A simple rule with the numbers that serve best."""

    name: str
    design: Design


_Settling = Generator[list[Trial], list[list[Score]], int]


def _settle(search: Search, make: Callable[[int], Design], low: int, high: int) -> _Settling:
    """The least number from ``low`` to ``high`` with which the promise is kept, by halving: more is
    never worse. The highest where none keeps it."""
    aim = search.aims[0]
    while low < high:
        middle = (low + high) // 2
        design = make(middle)
        yield from search.measure([design])
        if search.keeps(design, aim, 0.5):
            high = middle
        else:
            low = middle + 1
    return high


def simple_rules(
    search: Search, tried: Tried, base: Design
) -> Generator[list[Trial], list[list[Score]], list[Rule]]:
    """All hosts that are needed on all the time; a number by day and one by night; one number of
    free slots all day: on the hosts and with the timeouts of a design."""
    kinds, pool = search.bounds.kinds, base.pool
    most = pool.hosts.most
    demand = demand_on(tried, base, search.slots[: 4 * len(search.weeks)])
    found: list[Rule] = []
    hosts = yield from _settle(search, lambda n: always_on(base, kinds, n), 1, most)
    found.append(Rule("always on", always_on(base, kinds, hosts)))

    level = np.max([demand.quantile(kind, 0.9) for kind in demand.by_kind], axis=0)
    busy = np.flatnonzero(level > _BY_DAY * max(float(level.max()), 1.0))
    lead = lead_quarters(pool, base.schedule.tick_seconds)
    begin = max(int(busy[0]) - lead, 0) if len(busy) else 32
    end = min(int(busy[-1]) + 1, QUARTERS) if len(busy) else 72
    night = yield from _settle(
        search, lambda n: day_and_night(base, kinds, begin, end, hosts, n), 0, hosts
    )
    day = yield from _settle(
        search, lambda n: day_and_night(base, kinds, begin, end, n, night), night, hosts
    )
    found.append(Rule("day and night", day_and_night(base, kinds, begin, end, day, night)))

    peak = max(demand.peak, 1)
    slots = yield from _settle(
        search, lambda n: one_headroom(base, kinds, n), 0, min(peak, most * pool.session_limit)
    )
    found.append(Rule("one headroom", one_headroom(base, kinds, slots)))
    return found
