"""A week of many people in one shared pool, and how that grows."""

from __future__ import annotations

from dataclasses import dataclass
from time import perf_counter
from typing import Any

from idle_harbor.core.demand import pool_spells
from idle_harbor.core.engine import run
from idle_harbor.core.experience import sessions_of, waits_of
from idle_harbor.core.hosthours import host_hours_of
from idle_harbor.core.ideal import ideal_line
from idle_harbor.core.simulate import Case, case_of
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan_reading import document_of, plan_from


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
    """The demo's office pool for so many people; hosts grow with people."""
    plan = demo_plan()
    factor = people / 720
    plan["groups"][0]["demand"]["people"] = people
    plan["pools"][0]["hosts"]["standing"] = round(56 * factor)
    for day_type in plan["schedules"][0]["day_types"]:
        for band in day_type["bands"]:
            band["floor"] = round(band["floor"] * factor)
            band["headroom"] = round(band["headroom"] * factor)
    return plan


def case_for(people: int) -> Case:
    return case_of(plan_from(document_of(office_of(people))), "office")


def time_week(people: int, runs: int = 7) -> WeekTime:
    """One seed over eight days: a warm-up day and the week."""
    case = case_for(people)
    best = [float("inf")] * 3
    events = 0
    for seed in range(1, runs + 1):
        t0 = perf_counter()
        spells = pool_spells(case.demand, case.horizon, seed)
        t1 = perf_counter()
        result = run(case.setting, case.horizon, spells, seed)
        t2 = perf_counter()
        ideal = ideal_line(spells, case.setting.pool, case.setting.profiles, case.horizon)
        host_hours_of(result, ideal.counted(case.horizon))
        waits_of(result)
        sessions_of(result)
        t3 = perf_counter()
        best = [min(a, b) for a, b in zip(best, (t1 - t0, t2 - t1, t3 - t2), strict=True)]
        events = result.events
    return WeekTime(people, case.setting.pool.standing, best[0], best[1], best[2], events)
