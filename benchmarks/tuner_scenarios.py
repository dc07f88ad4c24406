"""Pools that are not the demo's, for the Tuner to be measured on: each has one thing otherwise.

The plan of each is what a planner might type for a first try: a floor by day, little by night.
"""

from __future__ import annotations

from typing import Any

from idle_harbor.demo.scenario import demo_plan

POOL = "measured"
_WORKDAYS = ("mon", "tue", "wed", "thu", "fri")
_LEAVING = {"sign_off": 0.5, "disconnect": 0.3, "walk_away": 0.2}


def _pattern(start: str, sd: float, hours: float, leaving: dict[str, float]) -> dict[str, Any]:
    lunch = {
        "at": None,
        "after_minutes": 240,
        "probability": 0.8,
        "sd_minutes": 20.0,
        "mean_minutes": 40,
        "length_sd_minutes": 12,
        "leaving": {"sign_off": 0.05, "disconnect": 0.35, "walk_away": 0.6},
    }
    return {
        "id": "shift",
        "share": 1.0,
        "attendance": dict.fromkeys(_WORKDAYS, 0.88),
        "start": {"kind": "normal", "mean": start, "sd_minutes": sd},
        "length": {"kind": "normal", "mean_minutes": 60 * hours, "sd_minutes": 30},
        "breaks": [lunch],
        "leaving": leaving,
    }


def _people(
    name: str,
    many: int,
    start: str = "08:40",
    sd: float = 25,
    hours: float = 8.2,
    site: str = "quillmoor",
    profile: str = "office",
    leaving: dict[str, float] | None = None,
) -> dict[str, Any]:
    pattern = _pattern(start, sd, hours, leaving or _LEAVING)
    demand = {"kind": "headcount", "people": many, "patterns": [pattern]}
    return {"id": name, "site": site, "profile": profile, "demand": demand}


def _drop_in(by_hour: dict[int, float], minutes: float, cv: float) -> dict[str, Any]:
    hours = [by_hour.get(hour, 0.0) for hour in range(24)]
    demand = {
        "kind": "drop-in",
        "arrivals_per_hour": dict.fromkeys(_WORKDAYS, hours),
        "session": {"kind": "lognormal", "mean_minutes": minutes, "cv": cv},
    }
    return {"id": "visitors", "site": "depots", "profile": "counter", "demand": demand}


def _bands(day: int, night: int, begin: str = "08:00", end: str = "18:30") -> list[dict[str, Any]]:
    return [
        {"from": "00:00", "floor": night},
        {"from": begin, "floor": day, "headroom": 2},
        {"from": end, "floor": night, "release": "drain"},
    ]


def _plan(
    groups: list[dict[str, Any]], hosts: int, bands: list[dict[str, Any]], **pool: Any
) -> dict[str, Any]:
    plan = demo_plan()
    own = plan["pools"][0] | {"id": POOL, "hosts": {"standing": hosts}, "schedule": POOL} | pool
    plan["prices"]["licences"] = []
    plan |= {"groups": groups, "events": [], "overlaps": [], "pools": [own]}
    plan["access"] = [{"group": g["id"], "pool": POOL, "as": "desktop"} for g in groups]
    days = {"id": "every-day", "weekdays": [*_WORKDAYS, "sat", "sun"], "bands": bands}
    plan["schedules"] = [{"id": POOL, "tick_seconds": 300, "day_types": [days]}]
    return plan


def of_many(people: int) -> dict[str, Any]:
    """So many people who begin at about one time, in a pool that is large enough."""
    return _plan([_people("many", people)], people * 2 // 25, _bands(people * 7 // 100, 6))


def scenarios() -> dict[str, dict[str, Any]]:
    """Plans by name; what is measured of each is its pool ``POOL``."""
    sticky = {"sign_off": 0.05, "disconnect": 0.45, "walk_away": 0.5}
    burst = dict.fromkeys(range(8, 18), 12.0) | {10: 190.0, 14: 150.0}
    return {
        "small": _plan([_people("few", 45)], 6, _bands(5, 1)),
        "large": _plan([_people("many", 6_000)], 480, _bands(430, 10)),
        "night shift": _plan(
            [_people("nights", 300, "21:40", 12, 8.5), _people("days", 120)], 30,
            [{"from": "00:00", "floor": 24}, {"from": "07:00", "floor": 12},
             {"from": "19:00", "floor": 4}, {"from": "21:00", "floor": 24}],
        ),
        "two zones": _plan(
            [_people("east", 350), _people("west", 350, site="port-ellery")], 60,
            _bands(45, 3, "07:30", "22:30"),
        ),
        "bursty drop-in": _plan(
            [_drop_in(burst, 14, 1.2)], 14, _bands(9, 1), size="skiff", image="counter-small",
            session_limit=8, patience_seconds=240, idle_timeout=900, disconnected_timeout=900,
        ),
        "long lingering": _plan(
            [_people("sticky", 500, leaving=sticky)], 50, _bands(40, 4),
            idle_timeout=28_800, disconnected_timeout=43_200,
        ),
        "slow starts": _plan(
            [_people("patient", 500, "08:20", 12)], 45, _bands(36, 3),
            start={"mean_seconds": 1_100, "cv": 0.5, "parallel": 12},
        ),
        "GPU lent": _plan(
            [_people("drawing", 90, "09:20", 40, 8.8, profile="drawings")], 90, _bands(70, 3),
            size="lantern", kind="lent", session_limit=1, image="drawing-desk", display="video",
            disk="deck-250", reset_seconds=240, patience_seconds=900,
            idle_timeout=43_200, disconnected_timeout=14_400,
        ),
        "sharp start": _plan(
            [_people("bell", 800, "08:55", 4, 8.0)], 70, _bands(60, 4, "07:30"),
        ),
        "spread out": _plan(
            [_people("whenever", 700, "11:00", 150, 7.0)], 60, _bands(44, 4, "06:30", "22:00"),
        ),
    }  # fmt: skip
