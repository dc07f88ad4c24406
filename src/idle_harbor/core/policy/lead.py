"""Lead: how long before a target its hosts have to be started."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtri

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.plan import Pool, Starting
from idle_harbor.core.plan.pools import Create, Hosts
from idle_harbor.core.policy.overdue import log_normal

#: Probability that the last missing host is ready in time.
IN_TIME = 0.95
#: The probability for each of two independent kinds of hosts, so that both are ready in time.
_EACH = IN_TIME**0.5
#: Replications if starts queue, and the bound on replications × hosts.
_MORNINGS, _HOST_MORNINGS = 2_000, 4_000_000
_LEAST_MORNINGS = 200
#: Simulated leads use a higher probability, by about two standard errors.
_MARGIN = 0.01
_LEAD_SEED = 20_270_301


@compiled("void(f8[::1], f8[::1], f8[::1], f8[::1])", entry=True)
def _last_ready(
    given: NDArray[np.float64],
    starts: NDArray[np.float64],
    free: NDArray[np.float64],
    last: NDArray[np.float64],
) -> None:
    """Return when the last of the first 1, 2, … hosts is ready.

    Each host may start from its time in ``given``, in that order, once one of the places is free
    (all are free at 0). ``free`` is the heap of the times at which places become free.
    """
    places = free.shape[0]
    free[:] = 0.0
    latest = 0.0
    for host in range(starts.shape[0]):
        ready = max(given[host], free[0]) + starts[host]
        latest = max(latest, ready)
        last[host] = latest
        hole = 0
        child = 1
        while child < places:
            if child + 1 < places and free[child + 1] < free[child]:
                child += 1
            if free[child] >= ready:
                break
            free[hole] = free[child]
            hole = child
            child = 2 * hole + 1
        free[hole] = ready


def _drawn(
    generator: np.random.Generator, count: int, mean: float, cv: float
) -> NDArray[np.float64]:
    if mean == 0.0:
        return np.zeros(count)
    middle, deviation = log_normal(mean, cv)
    values = np.exp(middle + deviation * generator.standard_normal(count))
    return np.maximum(np.rint(values), 1.0)


def _quantiles(times: NDArray[np.float64], share: float) -> NDArray[np.int64]:
    """Return the nearest-rank percentile of each column."""
    rank = min(int(np.ceil((share + (1.0 - share) * 10 * _MARGIN) * len(times))), len(times)) - 1
    found: NDArray[np.int64] = np.ceil(np.partition(times, rank, axis=0)[rank]).astype(np.int64)
    return found


def _starts(
    generator: np.random.Generator, most: int, start: Starting, tick: int
) -> NDArray[np.float64]:
    """Return the seconds until each host has started; a failed start is tried again at the next
    tick."""
    seconds = _drawn(generator, most, start.mean_seconds, start.cv)
    failing = np.flatnonzero(generator.random(most) < start.failure_share)
    while len(failing):
        again = _drawn(generator, len(failing), start.mean_seconds, start.cv)
        seconds[failing] += tick * generator.random(len(failing)) + again
        failing = failing[generator.random(len(failing)) < start.failure_share]
    return seconds


def _by_drawing(
    start: Starting, create: Create | None, most: int, tick: int
) -> tuple[NDArray[np.int64], ...]:
    """Return the leads of 1 to ``most`` hosts at both probabilities by simulation.

    It is used if starts can queue or fail, or if two durations add up.
    """
    places = min(start.parallel or most, most)
    mornings = max(min(_MORNINGS, _HOST_MORNINGS // most), _LEAST_MORNINGS)
    generator = np.random.Generator(np.random.Philox(_LEAD_SEED))
    times = np.empty((mornings, most))
    free, given = np.empty(places), np.zeros(most)
    for morning in range(mornings):
        if create is not None:
            given = _drawn(generator, most, create.mean_seconds, create.cv) + create.script_seconds
            given.sort()
        starts = _starts(generator, most, start, tick)
        _last_ready(given, starts, free, times[morning])
    return _quantiles(times, IN_TIME), _quantiles(times, _EACH)


def _by_formula(start: Starting, most: int) -> tuple[NDArray[np.int64], ...]:
    """Return the same if all hosts start at once: the maximum of m draws is below x with
    probability F(x)^m."""
    if start.mean_seconds == 0.0:
        return np.zeros(most, np.int64), np.zeros(most, np.int64)
    middle, deviation = log_normal(start.mean_seconds, start.cv)
    count = np.arange(1, most + 1)

    def lead(share: float) -> NDArray[np.int64]:
        quantile = np.exp(middle + deviation * ndtri(share ** (1.0 / count)))
        # Draws are rounded to whole seconds.
        return np.ceil(quantile + 0.5).astype(np.int64)

    return lead(IN_TIME), lead(_EACH)


#: Rows of a table of leads: of hosts that are started, and that are created, where there are no
#: others; and of either where the others have to be ready as well.
STARTED, CREATED, STARTED_TOO, CREATED_TOO = range(4)


def lead_table(pool: Pool, tick: int) -> NDArray[np.int64]:
    """Return the seconds until the last of a number of hosts is ready with probability ``IN_TIME``.

    ``pool`` has the distributions of starts and creations; ``tick`` is the number of seconds
    between two looks. The shape is (4, hosts + 1): a row for each kind of lead below, a column for
    each number of hosts. The table is shared and read-only.
    """
    return _table(pool.hosts, pool.start, pool.create, tick)


@lru_cache(maxsize=64)
def _table(hosts: Hosts, start: Starting, create: Create, tick: int) -> NDArray[np.int64]:
    most, creates = hosts.most, hosts.surge > 0 or hosts.throwaway
    table = np.zeros((4, most + 1), np.int64)
    if most > 0:
        drawn = start.failure_share > 0.0 or (start.parallel or most) < most
        table[[STARTED, STARTED_TOO], 1:] = (
            _by_drawing(start, None, most, tick) if drawn else _by_formula(start, most)
        )
        if creates:
            table[[CREATED, CREATED_TOO], 1:] = _by_drawing(start, create, most, tick)
    table.flags.writeable = False
    return table
