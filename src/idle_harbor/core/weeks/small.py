"""A plan's week in small: people on all pools together, and the room that stands ready for them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.base.stopping import go_on
from idle_harbor.core.demand.draws import SHOWN_SEED
from idle_harbor.core.engine.run import BIN_SECONDS
from idle_harbor.core.plan import Plan
from idle_harbor.core.weeks.case import DAYS, case_of
from idle_harbor.core.weeks.picture import series_of
from idle_harbor.core.weeks.side_by_side import check_pools
from idle_harbor.core.weeks.week import week

#: Seconds that one value of the picture stands for.
STEP_SECONDS = 3600
_BINS = DAYS * 86_400 // BIN_SECONDS
_STEP_BINS = STEP_SECONDS // BIN_SECONDS
#: Spells in a week of all pools beyond which no such picture is made: it would take seconds.
MOST_SPELLS = 40_000


@dataclass(frozen=True, slots=True)
class SmallWeek:
    """A week from the first pool's Monday on, one value for each hour.

    Attributes:
        sessions: the most people at once in that hour, waiting ones included, of all pools.
        ready: the session slots of ready hosts, their mean over that hour.
    """

    sessions: NDArray[np.float64]
    ready: NDArray[np.float64]


def small_week(plan: Plan) -> SmallWeek | None:
    """Simulate a week of every pool with the seed that is shown and add the pools up.

    Pools of other time zones are moved to the clock of the first; what leaves the week at one end
    comes in at the other.

    Args:
        plan: a checked plan.

    Returns:
        None for a plan with more than ``MOST_SPELLS`` sessions a week, or without pools.
    """
    if not plan.pools or check_pools(plan) > MOST_SPELLS:
        return None
    total = {name: np.zeros(_BINS) for name in ("sessions", "ready")}
    begin = case_of(plan, plan.pools[0].id).horizon.counted
    for pool in plan.pools:
        case = case_of(plan, pool.id)
        series = series_of(case, week(case, SHOWN_SEED))
        people = sum(series[name] for name in ("active", "idle", "disconnected", "waiting"))
        later = (case.horizon.counted - begin) // BIN_SECONDS
        for name, values in (("sessions", people), ("ready", series["quay"])):
            # A week in which the clock changes is an hour longer or shorter.
            total[name] += np.roll(np.resize(values, _BINS), later)
        go_on()
    return SmallWeek(
        sessions=total["sessions"].reshape(-1, _STEP_BINS).max(axis=1),
        ready=total["ready"].reshape(-1, _STEP_BINS).mean(axis=1),
    )
