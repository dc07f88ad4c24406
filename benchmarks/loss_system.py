"""The loss system on three engines: ours, SimPy, and a compiled general-purpose event engine.

100 slots, 90 erlang, exponential sessions of 1,800 s, refused when full. Draws are timed on every
side; each engine runs at a size that takes it some tenths of a second and is told per arrival.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Generator
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from statistics import median
from time import perf_counter
from typing import Any

import numpy as np
import simpy

# isort: off
from benchmarks.compiled_engine import with_events, with_processes  # before our own engine
from idle_harbor.core.calendar.clock import Horizon
from idle_harbor.core.demand.spells import Spells
from idle_harbor.core.engine.run import run
from idle_harbor.core.engine.setting import Setting
from idle_harbor.core.engine.kernel.codes import OUT_REFUSED
from idle_harbor.core.plan import (
    Band,
    Cpu,
    DayType,
    Hosts,
    Load,
    Logon,
    Memory,
    Pool,
    Profile,
    Schedule,
    Size,
    Starting,
)

# isort: on

ROUNDS = 16
LOAD, SLOTS, MEAN = 90.0, 100, 1800.0
#: Erlang B of 90 erlang on 100 slots.
THEORY = 0.02696


@dataclass(frozen=True, slots=True)
class Speed:
    """Arrivals per second in each round, and the blocking that came out."""

    name: str
    rounds: tuple[float, ...]
    blocking: float

    @property
    def per_second(self) -> float:
        """The median of the rounds."""
        return median(self.rounds)

    def times(self, other: Speed) -> float:
        """How many times as fast as another: the median of the ratios within each round."""
        return median(a / b for a, b in zip(self.rounds, other.rounds, strict=True))


def ours(arrivals: int, seed: int) -> tuple[int, int]:
    """The product's own kernel: ten hosts of ten, draws included; (arrivals, refused)."""
    rng = np.random.default_rng(seed)
    gaps, stays = rng.standard_exponential((2, arrivals))
    starts = (np.cumsum(gaps, out=gaps) * (MEAN / LOAD)).astype(np.int32)
    stays *= MEAN
    lengths = np.maximum(np.rint(stays, out=stays), 1, out=stays).astype(np.int32)
    days = int(starts[-1]) // 86_400 + 2
    nothing = np.zeros(arrivals, dtype=np.int8)
    spells = Spells(
        person=np.arange(arrivals, dtype=np.int32),
        start=starts,
        end=lengths,
        from_connection=nothing + 1,
        leaving=nothing,
        profile=np.zeros(arrivals, dtype=np.int16),
        group=np.zeros(arrivals, dtype=np.int16),
        day=np.zeros(arrivals, dtype=np.int16),
        people=arrivals,
    )
    result = run(
        _setting(), Horizon("UTC", date(1970, 1, 1), 0, days, 0, 0, days * 86_400), spells, seed
    )
    return arrivals, int((result.results["outcome"] == OUT_REFUSED).sum())


def _setting() -> Setting:
    pool = Pool(
        id="p",
        time_zone="UTC",
        size="s",
        schedule="x",
        hosts=Hosts(10),
        session_limit=10,
        start=Starting(0, 0),
        stop_seconds=0,
        patience_seconds=0,
        idle_timeout=None,
        disconnected_timeout=None,
        reconnect_seconds=0,
        load=Load(0.85, 0.05, 0, 0),
    )
    band = Band(0, floor=10, fill_ceiling=1.0, release="keep all")
    schedule = Schedule("x", (DayType("d", tuple(range(7)), (band,)),), 3600)
    size = Size("s", 8, 32, Decimal(1), "bench", 1, 0)
    profile = Profile("p", Cpu(0.1, 0.05, 0), Memory(1, 1, 1), Logon(0, 0))
    return Setting(pool, schedule, size, (profile,))


def with_simpy(arrivals: int, seed: int) -> tuple[int, int]:
    """A resource and a process per customer."""
    rng = random.Random(seed)
    environment = simpy.Environment()
    resource = simpy.Resource(environment, SLOTS)
    refused = 0

    def customer() -> Generator[Any, Any, None]:
        nonlocal refused
        if resource.count >= SLOTS:
            refused += 1
            return
        with resource.request() as request:
            yield request
            yield environment.timeout(rng.expovariate(1 / MEAN))

    def source() -> Generator[Any, Any, None]:
        for _ in range(arrivals):
            yield environment.timeout(rng.expovariate(LOAD / MEAN))
            environment.process(customer())

    environment.process(source())
    environment.run()
    return arrivals, refused


def compare() -> list[Speed]:
    """All of them, taking turns, since the machine's pace wanders."""
    sides: list[tuple[str, Callable[[int, int], tuple[int, int]], int]] = [
        ("ours", ours, 200_000),
        ("simpy", with_simpy, 20_000),
        ("compiled engine, processes", with_processes, 100_000),
        ("compiled engine, events", with_events, 400_000),
    ]
    rounds: dict[str, list[float]] = {name: [] for name, *_ in sides}
    asked = dict.fromkeys(rounds, 0)
    refused = dict.fromkeys(rounds, 0)
    for _, work, size in sides:
        work(size // 10, 0)
    for seed in range(1, ROUNDS + 1):
        for name, work, size in sides:
            begun = perf_counter()
            n, lost = work(size, seed)
            rounds[name].append(n / (perf_counter() - begun))
            asked[name] += n
            refused[name] += lost
    return [Speed(name, tuple(rounds[name]), refused[name] / asked[name]) for name in rounds]
