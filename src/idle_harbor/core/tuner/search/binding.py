"""What keeps a pool from keeping its promise: freedoms that would help, found by trying."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace

from idle_harbor.core.plan.declare import FREEDOMS, Freedom
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.designs.knobs import Bounds
from idle_harbor.core.tuner.guesses.theory import always_on
from idle_harbor.core.tuner.scoring.judge import missed
from idle_harbor.core.tuner.scoring.trials import Finding
from idle_harbor.core.tuner.search.racing import Racing
from idle_harbor.core.tuner.search.starts import safest


def helpful_freedoms(
    bounds_with: Callable[[Freedom], Bounds], make: Callable[[Bounds], Racing]
) -> Finding[tuple[Freedom, ...]]:
    """Return the further freedoms with each of which a plan keeps the promise on a few weeks.

    Args:
        bounds_with: the bounds of the question with one more freedom.
        make: a race within some bounds, whose rungs are all used.
    """
    found: list[Freedom] = []
    for freedom in FREEDOMS:
        bounds = bounds_with(freedom)
        racing = make(bounds)
        designs = racing.possible(_tried(racing.today, bounds))
        yield from racing.measure(designs)
        promise = racing.aims[0].promise
        if any(missed(racing.known[each], racing.weeks, promise) == 0.0 for each in designs):
            found.append(freedom)
    return tuple(found)


def _tried(today: Design, bounds: Bounds) -> Iterator[Design]:
    """The safest plans within some bounds: of today's size, of each other one, and with lower
    session limits."""
    yield from safest(today, bounds)
    if "size" in bounds.free:
        for size, most in bounds.density.items():
            limit = max(min(today.pool.session_limit, most), 1)
            other = replace(today, pool=replace(today.pool, size=size, session_limit=limit))
            yield always_on(other, bounds.kinds, other.pool.hosts.most)
    if "limit" in bounds.free:
        for share in (0.5, 0.75, 1.25, 1.5):
            limit = max(round(share * today.pool.session_limit), 1)
            other = replace(today, pool=replace(today.pool, session_limit=limit))
            yield always_on(other, bounds.kinds, other.pool.hosts.most)
