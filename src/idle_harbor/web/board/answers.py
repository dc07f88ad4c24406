"""From simulated weeks to response values."""

from __future__ import annotations

from collections.abc import Sequence
from math import isnan
from typing import Any

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.calendar.clock import local_to_instant
from idle_harbor.core.engine.kernel import codes
from idle_harbor.core.engine.run import BIN_SECONDS
from idle_harbor.core.figures.causes import ACTIONS, CAUSES, WAIT_CAUSES
from idle_harbor.core.figures.experience import wait_causes
from idle_harbor.core.figures.load_rules import fights, load_series
from idle_harbor.core.figures.logons import logons_of
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.load_rules import SIGNAL_UNITS
from idle_harbor.core.weeks.case import Case
from idle_harbor.core.weeks.picture import (
    LAST_STEP,
    Day,
    actions_between,
    bands_of,
    days_of,
    floods_of,
    lanes_between,
    met_in,
    series_of,
    targets_in,
    waiters_between,
    window_of,
)
from idle_harbor.core.weeks.summary import figures_of
from idle_harbor.core.weeks.week import Outcome, Week
from idle_harbor.formats.reports.figures import figures_values, values_of
from idle_harbor.web.shared.figures import verdicts_values

#: Moments of a fight that one answer tells.
MOST_FIGHTS = 20


def _rounded(values: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.ascontiguousarray(np.round(values, 2))


def _days(days: Sequence[Day]) -> list[dict[str, Any]]:
    return [
        {
            **values_of(day),
            "weekday": day.date.weekday(),
            "clock_change": day.clock_change,
        }
        for day in days
    ]


def _floods(result: Week, days: Sequence[Day]) -> list[dict[str, Any]]:
    return [values_of(flood) for flood in floods_of(result, days)]


def _logons(case: Case, result: Week) -> dict[str, Any]:
    """The logons of those five minutes in which somebody waited."""
    logons = logons_of(result.run)
    some = np.flatnonzero(logons.waited)
    return {
        "at": (case.horizon.counted + some * BIN_SECONDS).tolist(),
        "asked": logons.asked[some].tolist(),
        "waited": logons.waited[some].tolist(),
        "median": logons.median[some].tolist(),
        "longest": logons.longest[some].tolist(),
    }


def _reasons(result: Week) -> list[dict[str, Any]]:
    return [
        {
            "cause": cause.name.lower(),
            "text": WAIT_CAUSES[cause][0],
            "mend": WAIT_CAUSES[cause][1],
            "people": people,
            "seconds": round(seconds, 1),
        }
        for cause, (people, seconds) in wait_causes(result.run).items()
        if people
    ]


def _series(case: Case, result: Week, day: Day | None) -> dict[str, Any]:
    """The series of the week, or of one of its days."""
    counted, drawn = case.horizon.counted, slice(None)
    if day is not None:
        drawn = slice(*((edge - counted) // BIN_SECONDS for edge in (day.start, day.end)))
    series = {name: _rounded(v[drawn]) for name, v in series_of(case, result).items()}
    return {"start": counted if day is None else day.start, "seconds": BIN_SECONDS, **series}


def _number(value: float) -> float | None:
    """As many digits as a picture shows; JSON knows nothing that is not a number."""
    return None if isnan(value) else float(f"{value:.4g}")


def _load_rules(case: Case, result: Week, day: Day | None) -> list[dict[str, Any]]:
    """What load rules did over the week, or one of its days."""
    horizon, schedule = case.horizon, case.setting.schedule
    begin, end = horizon.counted, horizon.end
    if day is not None:
        begin, end = day.start, day.end
    origin, tick = horizon.start, schedule.tick_seconds
    series = load_series(result.run.loads, tick, begin - origin, end - origin)
    return [
        {
            "id": rule.id,
            "signal": rule.signal,
            "unit": SIGNAL_UNITS[rule.signal],
            "asks_where_low": rule.asks_where_low,
            "start": origin + int(each.times[0]),
            "seconds": tick,
            "values": [_number(value) for value in each.values.tolist()],
            "extras": each.extras.tolist(),
        }
        for rule, each in zip(schedule.load_rules, series, strict=False)
        if len(each.times)
    ]


def _fights(case: Case, result: Week) -> list[dict[str, Any]]:
    """Load rules of which one asked for hosts while another let them go."""
    horizon, schedule = case.horizon, case.setting.schedule
    found = fights(result.run.loads, schedule.tick_seconds, horizon.counted - horizon.start)
    names = [rule.id for rule in schedule.load_rules]
    return [
        {
            "grows": names[fight.grows],
            "shrinks": names[fight.shrinks],
            "times": [horizon.start + time for time in fight.times[:MOST_FIGHTS]],
            "count": len(fight.times),
        }
        for fight in found
    ]


def _targets(case: Case, result: Week) -> list[dict[str, Any]]:
    """What is to be ready by when in the counted days, and what came of it as far as that was
    recorded."""
    setting, horizon = case.setting, case.horizon
    places = {kind.id: k for k, kind in enumerate(setting.schedule.day_types)}
    targets, begins = targets_in(case), horizon.begins
    met = {each.target: each for each in met_in(case, result, targets)}
    found = []
    for target in targets:
        if not horizon.counted <= target.at < horizon.end:
            continue
        kind = setting.schedule.day_types[places[target.day_type]]
        came = met.get(target)
        found.append(
            {
                "at": target.at,
                "until": target.until,
                "day_type": places[target.day_type],
                "place": kind.ready_by.index(target.asks),
                "hosts": target.asks.least(setting.pool.hosts.standing),
                "zone": target.time_zone,
                "earliest": local_to_instant(target.time_zone, target.date, begins),
                "latest": local_to_instant(target.time_zone, target.date, begins + LAST_STEP),
                "ready": came and came.ready,
                "early": came and came.early,
                "mean_idle": came and round(came.mean_idle, 1),
            }
        )
    return found


def week_answer(
    plan: Plan, case: Case, result: Week, only_day: int | None = None
) -> dict[str, Any]:
    """Everything the Board draws of one week, but for the lanes; with ``only_day`` its series are
    those of that day."""
    figures = figures_of(case, [result])
    days = days_of(case, result)
    return {
        "pool": case.setting.pool.id,
        "currency": plan.currency,
        "zone": case.horizon.time_zone,
        "days": _days(days),
        "targets": _targets(case, result),
        "floods": _floods(result, days),
        "logons": _logons(case, result),
        "bands": [values_of(band) for band in bands_of(case)],
        "load_rules": _load_rules(case, result, None if only_day is None else days[only_day]),
        "fights": _fights(case, result),
        "series": _series(case, result, None if only_day is None else days[only_day]),
        "hosts": case.setting.pool.hosts.most,
        "session_limit": case.setting.pool.session_limit,
        "figures": figures_values(figures),
        "verdicts": verdicts_values(plan.promise, figures, case),
        "reasons": _reasons(result),
    }


def range_answer(plan: Plan, case: Case, results: Sequence[Outcome]) -> dict[str, Any]:
    """Figures over several seeds."""
    figures = figures_of(case, results)
    return {
        "figures": figures_values(figures),
        "verdicts": verdicts_values(plan.promise, figures, case),
    }


def lanes_answer(result: Week, start: int, end: int) -> dict[str, Any]:
    """Host lanes and actions of a window, as far as one answer goes."""
    origin = result.run.horizon.start
    start, end = window_of(result, start, end)
    lanes = [
        {
            "host": host,
            "changes": [
                {
                    "time": max(time + origin, start),
                    "state": codes.HOST_STATE_NAMES[state],
                    "sessions": sessions,
                    "strained": bool(strained),
                }
                for time, _, state, sessions, strained in changes.tolist()
            ],
        }
        for host, changes in lanes_between(result, start, end).items()
    ]
    actions = [
        {
            "time": time + origin,
            "host": host,
            "action": ACTIONS[codes.Action(action)],
            "cause": codes.Cause(cause).name.lower(),
            "text": CAUSES[codes.Cause(cause)],
        }
        for time, host, action, cause in actions_between(result, start, end).tolist()
    ]
    return {"until": end, "lanes": lanes, "actions": actions}


def waiters_answer(case: Case, result: Week, start: int, end: int) -> dict[str, Any]:
    """People who waited in a window, with the cause of each wait."""
    names = {comer.group_index: comer.group.id for comer in case.demand.comers}
    total, spells = waiters_between(result, start, end)
    run = result.run
    waiters: list[dict[str, Any]] = []
    for index in spells.tolist():
        row = run.results[index]
        cause = codes.WaitCause(int(row["cause"]))
        host = int(row["host"])
        waiters.append(
            {
                "group": names[int(run.spells.group[index])],
                "person": int(run.spells.person[index]) + 1,
                "asked": int(run.spells.start[index]) + run.horizon.start,
                "seconds": float(row["wait"]) if row["wait"] >= 0 else None,
                "refused": bool(row["outcome"] == codes.OUT_REFUSED),
                "host": host + 1 if host >= 0 else None,
                "cause": cause.name.lower(),
                "text": WAIT_CAUSES[cause][0],
            }
        )
    return {"total": total, "waiters": waiters}
