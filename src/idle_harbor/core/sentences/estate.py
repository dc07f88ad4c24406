"""What a pool shares with other pools, in sentences."""

from __future__ import annotations

from idle_harbor.core.plan import Plan, Pool
from idle_harbor.core.plan.estate import SharedLimit, limits_around
from idle_harbor.core.sentences.listed import listed


def _said(limit: SharedLimit, pool: Pool) -> str:
    if limit.kind == "throttle":
        bound = f"In {limit.of}, at most {limit.most:g} hosts start at once"
    else:
        bound = f"Of size {limit.of}, at most {limit.most:g} vCPU are on at once"
    others = listed([each for each in limit.pools if each != pool.id])
    if pool.id in limit.pools:
        return f"{bound}, over this pool and {others}."
    return f"{bound}, over {others}, which share with this pool."


def shared_lines(plan: Plan, pool: Pool) -> list[str]:
    """Say which limits bear on a pool's weeks: its own, and those of pools that share with it.

    One sentence for each limit, from the nearest on; none where the pool shares nothing.
    """
    return [_said(limit, pool) for limit in limits_around(plan, pool.id)]
