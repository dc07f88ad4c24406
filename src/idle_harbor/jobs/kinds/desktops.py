"""A group of a pool as each kind of desktop."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.lookup import find_pool
from idle_harbor.core.sizing.peak import sizing_demand, sizing_horizon
from idle_harbor.core.weeks.kinds import KINDS, KindView, kind_of_group
from idle_harbor.formats.plan.codec import plan_of, to_values
from idle_harbor.jobs.asking import LongQuestion
from idle_harbor.jobs.kind import Input

#: Spells of a group in a week beyond which its kinds take longer than a second to compare.
MOST_AT_ONCE = 40_000


@dataclass(frozen=True, slots=True)
class GroupKinds:
    """A group of a pool as each kind of desktop."""

    plan: Plan
    pool: str
    group: str


def _write(asked: GroupKinds) -> dict[str, Any]:
    return {"plan": to_values(asked.plan), "pool": asked.pool, "group": asked.group}


def _read(given: Input) -> GroupKinds:
    return GroupKinds(plan_of(given["plan"]), given["pool"], given["group"])


def _open(asked: GroupKinds) -> Callable[[int], KindView]:
    pool = find_pool(asked.plan, asked.pool)
    return lambda number: kind_of_group(asked.plan, pool, asked.group, KINDS[number])


def _short(asked: GroupKinds) -> bool:
    pool = find_pool(asked.plan, asked.pool)
    demand = sizing_demand(asked.plan, pool, asked.group)
    return demand.expected_spells(sizing_horizon(asked.plan, pool)) <= MOST_AT_ONCE


DESKTOPS: LongQuestion[GroupKinds, KindView] = LongQuestion(
    name="desktops",
    title=lambda asked: f"{asked.plan.name}: {asked.group} of {asked.pool} as each kind",
    write=_write,
    read=_read,
    parts=lambda _: len(KINDS),
    open=_open,
    value=KindView,
    short=_short,
)
