"""The limits of places and sizes that bear on a pool, in sentences."""

from __future__ import annotations

from idle_harbor.core.plan import Plan, Pool
from idle_harbor.core.plan.estate import SharedLimit, limits_around
from idle_harbor.core.plan.lookup import called
from idle_harbor.core.sentences.listed import listed


def _said(plan: Plan, limit: SharedLimit, pool: Pool) -> str:
    if limit.kind == "throttle":
        bound = f"In {called(plan.places, limit.of)}, at most {limit.most:g} hosts start at once"
    else:
        bound = (
            f"Of size {called(plan.sizes, limit.of)}, at most {limit.most:g} vCPU are on at once"
        )
    others = [called(plan.pools, each) for each in limit.pools if each != pool.id]
    if pool.id in limit.pools:
        return f"{bound}, over {listed(['this pool', *others])}."
    return f"{bound}, over {listed(others)}, which share with this pool."


def shared_lines(plan: Plan, pool: Pool) -> list[str]:
    """Say which limits bear on a pool's weeks: its own, and those of pools that share with it.

    One sentence for each limit that can be reached, from the nearest on.
    """
    return [_said(plan, limit, pool) for limit in limits_around(plan, pool.id)]
