"""Values that a new plan begins with and that nobody has said yet.

A plan notes which of them are still to be confirmed. One that was changed since is the planner's
own, and is no longer assumed.
"""

from __future__ import annotations

from typing import Literal, TypeAlias, get_args

from idle_harbor.core.plan.hosts import Prices
from idle_harbor.core.plan.patterns import Habits, Leaving
from idle_harbor.core.plan.pools import Pool, Starting
from idle_harbor.core.plan.profiles import Profile

Assumption: TypeAlias = Literal[
    "attendance",
    "leaving",
    "workload",
    "schedule",
    "start",
    "timeouts",
    "place",
    "image",
    "disk",
    "licences",
    "prices",
]
#: In the order in which they are told: people, then hosts, then money.
ASSUMPTIONS: tuple[Assumption, ...] = get_args(Assumption)

#: The share of people who come on each weekday; none at the weekend.
ATTENDANCE = (0.9,) * 5 + (None,) * 2
LEAVING = Leaving(sign_off=0.6, disconnect=0.3, walk_away=0.1)
HABITS = Habits(long_call=0.1, reading=0.1, works_late=0.05)
PROFILE = Profile("office")
START = Starting()
_POOL = Pool("any", "UTC", "any", schedule="any")
TIMEOUTS = (_POOL.idle_timeout, _POOL.disconnected_timeout)
PRICES = Prices()
