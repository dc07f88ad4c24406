"""A week of many people in one shared pool, and how that grows."""

from __future__ import annotations

from dataclasses import dataclass
from time import perf_counter
from typing import Any

from idle_harbor.core.demand.spells import pool_spells
from idle_harbor.core.engine.run import run
from idle_harbor.core.figures.experience import sessions_of, waits_of
from idle_harbor.core.figures.hosthours import host_hours_of
from idle_harbor.core.figures.ideal import ideal_line
from idle_harbor.core.weeks.case import Case, case_of
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import plan_of


@dataclass(frozen=True, slots=True)
class WeekTime:
    """Best seconds of several runs: demand apart, then the engine with all its figures."""

    people: int
    hosts: int
    demand: float
    engine: float
    metrics: float
    events: int


def office_of(people: int) -> dict[str, Any]:
    """The demo's office pool for so many people of its head office; hosts grow with people, and no
    quota of the demo's binds them."""
    plan = demo_plan()
    for size in plan["sizes"]:
        size.pop("quota", None)
    factor = people / 720
    plan["groups"][0]["demand"]["people"] = people
    plan["access"] = [e for e in plan["access"] if e["group"] == "head-office"]
    plan["overlaps"] = []
    plan["pools"][0]["hosts"]["standing"] = round(56 * factor)
    for day_type in plan["schedules"][0]["day_types"]:
        for band in day_type["bands"]:
            band["floor"] = round(band["floor"] * factor * 56 / 84)
            band["headroom"] = round(band["headroom"] * factor)
    return plan


def everything_of(people: int) -> dict[str, Any]:
    """The same with every setting of hosts in use: surge hosts with a script, few starts at once,
    resets, a late count, a burstable size, slow lines, GPU memory, apps added at logon, tuning; and
    every rule of a schedule, with people sent where most is free, the costliest of the four."""
    plan = office_of(people)
    pool, size = plan["pools"][0], plan["sizes"][0]
    standing = pool["hosts"]["standing"]
    pool["hosts"] = {"standing": standing - standing // 5, "surge": standing // 5}
    pool["create"] = {"mean_seconds": 420, "cv": 0.4, "script_seconds": 60}
    pool["start"] |= {"counts_from": "settled", "parallel": max(standing // 4, 1)}
    pool["reset_seconds"] = 120
    pool["apps_at_logon"] = [{"app": "Extra", "seconds": 3}]
    size |= {"burst": {"baseline": 0.6, "first": 2, "most": 40}, "gpu_gib": 48}
    plan["profiles"][0] |= {"gpu_gib": 1}
    plan["places"][0]["lines"][0]["round_trip_ms"] = 300
    plan["images"][0]["tuning"] = {"cpu": 0.9, "memory": 0.9}
    pool["hosts"]["surge_stays_minutes"] = 30
    pool["start"]["failure_share"] = 0.02
    plan["schedules"][0]["load_rules"] = [
        {"id": "busy", "signal": "cpu", "asks_at": 0.7, "permits_at": 0.4},
        {"id": "few", "signal": "free slots", "asks_at": 40, "permits_at": 120},
        {"id": "slow", "signal": "logon time", "asks_at": 60, "permits_at": 40},
    ]
    for day_type in plan["schedules"][0]["day_types"]:
        day_type["ready_by"] = [{"at": "08:00", "hosts": standing // 2, "until": "10:00"}]
        for band in day_type["bands"]:
            band |= {
                "floor": min(band["floor"], standing),
                "floor_share": 0.1,
                "headroom_share": 0.1,
                "rule": "by room",
                "lid": standing,
                "knock": True,
                "margin": 2,
                "least_run_minutes": 30,
                "draining_most": 5,
                "draining_share": 0.5,
            }
        day_type["bands"][-1] |= {
            "session_limit": pool["session_limit"] - 1,
            "timeouts": {"idle": 900, "disconnected": 1_200},
            "release": "drain with notice",
            "notice": {"minutes": 20, "who": "idle too"},
            "drain_steps": [{"by": "20:00", "share": 0.25}, {"by": "22:00", "share": 0.5}],
        }
        day_type["bands"][0]["load_rules"] = ["busy", "few", "slow"]
    return plan


def case_for(people: int, *, everything: bool = False) -> Case:
    values = everything_of(people) if everything else office_of(people)
    return case_of(plan_of(values), "office")


def _time_once(case: Case, seed: int) -> tuple[float, float, float, int]:
    """Seconds for demand, engine and figures of one seed over eight days, and its events."""
    t0 = perf_counter()
    spells = pool_spells(case.demand, case.horizon, seed)
    t1 = perf_counter()
    result = run(case.setting, case.horizon, spells, seed)
    t2 = perf_counter()
    ideal = ideal_line(spells, case.setting.pool, case.setting.profiles, case.horizon)
    host_hours_of(result, ideal.counted(case.horizon))
    waits_of(result)
    sessions_of(result)
    return t1 - t0, t2 - t1, perf_counter() - t2, result.events


def time_weeks(
    sizes: tuple[int, ...], runs: int = 6, *, everything: bool = False
) -> list[WeekTime]:
    """Weeks of several sizes, taking turns, so that the machine's moods fall on all of them."""
    cases = [case_for(people, everything=everything) for people in sizes]
    times: list[list[tuple[float, float, float, int]]] = [[] for _ in cases]
    for seed in range(1, runs + 1):
        for case, found in zip(cases, times, strict=True):
            found.append(_time_once(case, seed))
    return [
        WeekTime(
            people,
            case.setting.pool.hosts.most,
            min(t[0] for t in found),
            min(t[1] for t in found),
            min(t[2] for t in found),
            found[-1][3],
        )
        for people, case, found in zip(sizes, cases, times, strict=True)
    ]
