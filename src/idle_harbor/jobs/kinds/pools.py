"""Every pool of a plan side by side, and then what the checks find in the plan."""

from __future__ import annotations

from collections.abc import Callable

from idle_harbor.core.checks import steps_of
from idle_harbor.core.plan import Plan
from idle_harbor.core.weeks.side_by_side import PoolView, amount_for, check_pools, view_of_pool
from idle_harbor.jobs.asking import LongQuestion
from idle_harbor.jobs.kinds.checks import Found, plan_in, step_of, written

#: Spells in a week of all pools beyond which they take longer than a second.
MOST_AT_ONCE = 40_000


def _open(plan: Plan) -> Callable[[int], PoolView | list[Found]]:
    amount, found = amount_for(plan), step_of(plan)

    def part(number: int) -> PoolView | list[Found]:
        if number < len(plan.pools):
            return view_of_pool(plan, plan.pools[number], amount)
        return found(number - len(plan.pools))

    return part


POOLS: LongQuestion[Plan, PoolView | list[Found]] = LongQuestion(
    name="pools",
    title=lambda plan: f"{plan.name}: all {len(plan.pools):,} pools",
    write=written,
    read=plan_in,
    parts=lambda plan: len(plan.pools) + len(steps_of(plan)),
    open=_open,
    value=PoolView | list[Found],
    short=lambda plan: check_pools(plan) <= MOST_AT_ONCE,
)
