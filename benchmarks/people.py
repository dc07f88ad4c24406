"""Drawing people: a week of many, a year of some, and the memory that takes."""

from __future__ import annotations

import tracemalloc
from dataclasses import dataclass
from datetime import date
from time import perf_counter

from benchmarks.weeks import case_for
from idle_harbor.core.calendar.clock import horizon_for
from idle_harbor.core.demand.spells import pool_spells


@dataclass(frozen=True, slots=True)
class DrawTime:
    """Best seconds of several draws, how many spells they gave, and the most memory in use."""

    people: int
    days: int
    seconds: float
    spells: int
    megabytes: float


def time_draws(people: int, days: int, runs: int = 6) -> DrawTime:
    """Draw people who come on workdays with a break, over days and the one before them."""
    demand = case_for(people).demand
    horizon = horizon_for("Europe/Dublin", date(2027, 1, 4), days, 1)
    times = []
    for seed in range(1, runs + 1):
        begin = perf_counter()
        spells = pool_spells(demand, horizon, seed)
        times.append(perf_counter() - begin)
    tracemalloc.start()
    pool_spells(demand, horizon, runs + 1)
    _, most = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    return DrawTime(people, days, min(times), len(spells), most / 1e6)
