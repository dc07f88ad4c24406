"""The loss system on three engines: ours, SimPy, and a compiled general-purpose event engine.

100 slots, 90 erlang, exponential sessions of 1,800 s, refused when full. Draws are timed on every
side; each engine runs at a size that takes it some tenths of a second and is told per arrival.
"""

from __future__ import annotations

import random
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from time import perf_counter

import cimba
import numpy as np
import simpy
from cimba import inputs

from idle_harbor.core.calendar import Horizon
from idle_harbor.core.demand import Spells
from idle_harbor.core.engine import Setting, run
from idle_harbor.core.kernel.codes import OUT_REFUSED
from idle_harbor.core.plan import Band, DayType, Pool, Profile, Schedule, Size

LOAD, SLOTS, MEAN = 90.0, 100, 1800.0
#: Erlang B of 90 erlang on 100 slots.
THEORY = 0.02696


@dataclass(frozen=True, slots=True)
class Speed:
    """Arrivals per second, and the blocking that came out."""

    name: str
    per_second: float
    blocking: float


def ours(arrivals: int, seed: int) -> tuple[int, int]:
    """The product's own kernel: ten hosts of ten, draws included; (arrivals, refused)."""
    rng = np.random.default_rng(seed)
    starts = np.cumsum(rng.standard_exponential(arrivals) * (MEAN / LOAD)).astype(np.int32)
    lengths = np.maximum(np.rint(rng.standard_exponential(arrivals) * MEAN), 1).astype(np.int32)
    days = int(starts[-1]) // 86_400 + 2
    nothing = np.zeros(arrivals, dtype=np.int8)
    spells = Spells(
        person=np.arange(arrivals, dtype=np.int32), start=starts, end=lengths,
        from_connection=nothing + 1, leaving=nothing, profile=np.zeros(arrivals, dtype=np.int16),
        group=np.zeros(arrivals, dtype=np.int16), people=arrivals,
    )  # fmt: skip
    result = run(_setting(), Horizon("UTC", date(1970, 1, 1), 0, days, 0, 0, days * 86_400),
                 spells, seed)  # fmt: skip
    return arrivals, int((result.results["outcome"] == OUT_REFUSED).sum())


def _setting() -> Setting:
    pool = Pool(
        id="p", time_zone="UTC", size="s", disk=None, standing=10, session_limit=10, schedule="x",
        start_mean_seconds=0, start_cv=0, stop_seconds=0, patience_seconds=0, idle_timeout=None,
        disconnected_timeout=None, reconnect_seconds=0, load_limit=0.85, load_tolerance=0.05,
        base_vcpu=0, base_gib=0,
    )  # fmt: skip
    band = Band(0, 10, 1.0, 0, "spread", "keep all")
    schedule = Schedule("x", 3600, (DayType("d", tuple(range(7)), (band,)),))
    size = Size("s", 8, 32, Decimal(1), "bench", 1, 0)
    profile = Profile("p", 0.1, 0.05, 0, 1, 1, 1, 0, 0)
    return Setting(pool, schedule, size, (profile,))


def with_simpy(arrivals: int, seed: int) -> tuple[int, int]:
    """A resource and a process per customer."""
    rng = random.Random(seed)
    environment = simpy.Environment()
    resource = simpy.Resource(environment, SLOTS)
    refused = 0

    def customer():  # type: ignore[no-untyped-def]
        nonlocal refused
        if resource.count >= SLOTS:
            refused += 1
            return
        with resource.request() as request:
            yield request
            yield environment.timeout(rng.expovariate(1 / MEAN))

    def source():  # type: ignore[no-untyped-def]
        for _ in range(arrivals):
            yield environment.timeout(rng.expovariate(LOAD / MEAN))
            environment.process(customer())

    environment.process(source())
    environment.run()
    return arrivals, refused


class LossModel(cimba.Model):  # type: ignore[misc]
    """The same in the compiled engine: a slot pool, a process per customer."""

    gap: cimba.Input[float] = inputs.dist.exponential(mean=MEAN / LOAD)
    stay: cimba.Input[float] = inputs.dist.exponential(mean=MEAN)
    busy: int = 0
    asked: cimba.Output[int]
    refused: cimba.Output[int]
"""See ``compiled_engine`` for how it is run."""


def timed(name: str, work: Callable[[int, int], tuple[int, int]], size: int, runs: int) -> Speed:
    """The best of several runs (the machine's other work only ever slows one down)."""
    work(min(size, 2000), 0)
    best, asked, refused = 0.0, 0, 0
    for seed in range(1, runs + 1):
        begun = perf_counter()
        n, lost = work(size, seed)
        best = max(best, n / (perf_counter() - begun))
        asked, refused = asked + n, refused + lost
    return Speed(name, best, refused / asked)
