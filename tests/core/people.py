"""Plans of one or two groups for tests of demand, with everything else out of the way."""

from datetime import date
from typing import Any

import numpy as np

from idle_harbor.core.calendar.clock import Horizon, horizon_for
from idle_harbor.core.demand.spells import Spells, group_demand, pool_spells
from idle_harbor.core.plan import Plan
from idle_harbor.formats.plan.codec import plan_of
from tests.core.plans import WORKDAYS, document

DAYS = (*WORKDAYS, "sat", "sun")
ALWAYS = dict.fromkeys(DAYS, 1.0)
LEAVES = {"sign_off": 1.0, "disconnect": 0.0, "walk_away": 0.0}


def pattern(name: str = "day", begin: str = "09:00", minutes: int = 480, **more: Any) -> Any:
    """A pattern without any scatter: everyone starts and leaves on the minute."""
    whole = {
        "id": name,
        "attendance": ALWAYS,
        "start": {"kind": "normal", "mean": begin, "sd_minutes": 0},
        "length": {"kind": "normal", "mean_minutes": minutes, "sd_minutes": 0},
        "leaving": LEAVES,
    }
    return {**whole, **more}


def group(name: str = "people", people: int = 10, patterns: Any = None, **more: Any) -> Any:
    rotation = more.pop("rotation", None)
    demand = {
        "kind": "headcount",
        "people": people,
        "patterns": patterns or [pattern()],
        "rotation": rotation,
    }
    return {"id": name, "site": "here", "profile": "office", "demand": demand, **more}


def drop_in(name: str = "counter", rate: float = 30.0, **more: Any) -> Any:
    session = {"kind": "fixed", "mean_minutes": 30}
    demand = {
        "kind": "drop-in",
        "arrivals_per_hour": dict.fromkeys(DAYS, [rate] * 24),
        "session": session,
    }
    return {"id": name, "site": "here", "profile": "office", "demand": demand, **more}


def plan_with(*groups: Any, **more: Any) -> Plan:
    """A plan whose groups may all open the one pool."""
    uses = [{"group": g["id"], "pool": "main"} for g in groups]
    return plan_of(document(groups=list(groups), access=uses, **more))


def over(first: date, days: int = 7, zone: str = "Europe/Dublin") -> Horizon:
    return horizon_for(zone, first, days, 0)


def spells_of(plan: Plan, horizon: Horizon, place: int = 0, seed: int = 1) -> Spells:
    """Spells of one group of a plan."""
    return pool_spells(group_demand(plan, plan.groups[place]), horizon, seed)


def by_day(spells: Spells, horizon: Horizon) -> list[int]:
    """How many spells begin on each day of a horizon without a clock change."""
    days = horizon.days + horizon.warm_days
    return np.bincount(spells.start // 86_400, minlength=days).tolist()


def clocks(spells: Spells, day: int = 0) -> list[str]:
    """Clock times at which spells of a day begin, in UTC."""
    seconds = spells.start[spells.start // 86_400 == day] % 86_400
    return sorted({f"{s // 3600:02d}:{s % 3600 // 60:02d}" for s in seconds.tolist()})
