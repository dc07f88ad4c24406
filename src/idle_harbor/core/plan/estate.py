"""What pools of a plan share, and which pools share with which.

A place bounds how many hosts start at once in it, over all pools; a quota bounds how much CPU of
one size is on at once. A limit that all its pools together cannot reach binds nobody.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

from idle_harbor.core.plan import Plan, Pool, Size
from idle_harbor.core.plan.workload import place_of


@dataclass(frozen=True, slots=True)
class SharedLimit:
    """A limit that pools of a plan share and can reach: a throttle in hosts, or a quota in vCPU.

    ``of`` is the place or the size that it belongs to, ``pools`` are ids in the plan's order.
    """

    kind: Literal["throttle", "quota"]
    of: str
    most: float
    pools: tuple[str, ...]


def bounded_starts(plan: Plan, pool: Pool) -> Pool:
    """The pool with no more parallel starts than its place has."""
    place = place_of(plan, pool)
    if place is None or place.starts_at_once is None:
        return pool
    least = min(place.starts_at_once, pool.start.parallel or place.starts_at_once)
    return replace(pool, start=replace(pool.start, parallel=least))


def vcpu_of_all(plan: Plan, size: Size) -> float:
    """The vCPU of all hosts of a size that the pools of a plan can have."""
    return sum(pool.hosts.most * size.vcpu for pool in plan.pools if pool.size == size.id)


def _throttles(plan: Plan) -> Iterator[SharedLimit]:
    for place in plan.places:
        here = [pool for pool in plan.pools if pool.place == place.id]
        most = place.starts_at_once
        # One pool alone is bounded by its own parallel starts (see ``bounded_starts``).
        if most is None or len(here) < 2:
            continue
        at_once = [min(pool.start.parallel or most, pool.hosts.most) for pool in here]
        if sum(at_once) > most:
            yield SharedLimit("throttle", place.id, most, tuple(pool.id for pool in here))


def _quotas(plan: Plan) -> Iterator[SharedLimit]:
    for size in plan.sizes:
        if size.quota is not None and vcpu_of_all(plan, size) > size.quota:
            pools = tuple(pool.id for pool in plan.pools if pool.size == size.id)
            yield SharedLimit("quota", size.id, size.quota, pools)


def limits_of(plan: Plan) -> tuple[SharedLimit, ...]:
    """The limits that pools of a plan share and can reach."""
    return (*_throttles(plan), *_quotas(plan))


def limits_around(plan: Plan, pool_id: str) -> tuple[SharedLimit, ...]:
    """The limits that bear on a pool: its own, and those of pools that share with it, and so on."""
    left = list(limits_of(plan))
    pools, found = {pool_id}, list[SharedLimit]()
    while near := [limit for limit in left if pools & set(limit.pools)]:
        found += near
        pools.update(*(limit.pools for limit in near))
        left = [limit for limit in left if limit not in near]
    return tuple(found)
