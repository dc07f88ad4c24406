"""From presence and patterns to response values."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict
from datetime import date
from typing import Any

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.calendar.occasions import occasions_on
from idle_harbor.core.checks.people import people_findings
from idle_harbor.core.demand.crowd import STEP, Crowd, DayHours, Peak, Presence, day_slices, hourly
from idle_harbor.core.demand.desktops import Doubles, doubles_of
from idle_harbor.core.demand.draws import SHOWN_SEED
from idle_harbor.core.demand.headcount import people_on
from idle_harbor.core.demand.pattern_picture import PatternPicture
from idle_harbor.core.plan import Group, Headcount, Pattern, Plan
from idle_harbor.core.plan.edits.patterns import breaks_of, end_of, reach_of
from idle_harbor.core.plan.overlaps import counted_once
from idle_harbor.formats.reports.figures import values_of


def _peak(peak: Peak) -> dict[str, Any]:
    makers = sorted(peak.makers.items(), key=lambda item: -item[1])
    return {
        "people": peak.people,
        "instant": peak.instant,
        "makers": [{"group": name, "people": people} for name, people in makers],
    }


def _marks(plan: Plan, day: date) -> list[dict[str, Any]]:
    return [values_of(each) for each in occasions_on(plan, day)]


def _hours(table: NDArray[np.float64]) -> list[list[float | None]]:
    return [[None if np.isnan(v) else v for v in row] for row in table.tolist()]


def _group(plan: Plan, group: Group, crowd: Crowd, presence: Presence) -> dict[str, Any]:
    middle = crowd.horizon.dates[(crowd.horizon.warm_days + len(crowd.horizon.dates)) // 2]
    named = isinstance(group.demand, Headcount)
    return {
        "id": group.id,
        "site": group.site,
        "zone": next(site.time_zone for site in plan.sites if site.id == group.site),
        "headcount": people_on(group, middle) if named else None,
        "present": np.round(presence.mean, 1).tolist(),
        "arrivals": presence.arrivals.tolist(),
        "hourly": _hours(hourly(crowd, presence.highest)),
        "peak": int(presence.highest.max(initial=0)),
    }


def _zones(plan: Plan, groups: list[dict[str, Any]]) -> list[dict[str, Any]]:
    found: dict[str, dict[str, Any]] = {}
    for group in groups:
        if group["headcount"] is not None:
            here = found.setdefault(
                group["zone"], {"zone": group["zone"], "people": 0, "groups": []}
            )
            here["people"] += group["headcount"]
            here["groups"].append(group["id"])
    return sorted(found.values(), key=lambda zone: -zone["people"])


def _doubles(doubles: Doubles) -> dict[str, Any]:
    return {
        "people": doubles.people,
        "kin": [values_of(kin) for kin in doubles.kin],
        "added_sessions": doubles.added_sessions,
        "added_hours": round(doubles.added_hours, 1),
    }


def crowd_answer(plan: Plan, crowd: Crowd) -> dict[str, Any]:
    """Everything the People view draws of some days."""
    groups = [_group(plan, g, crowd, crowd.groups[g.id]) for g in plan.groups]
    days = [
        {
            "date": day.isoformat(),
            "first_bin": first,
            "last_bin": last,
            "marks": _marks(plan, day),
            "peak": _peak(crowd.peak(first, last)),
        }
        for day, first, last in day_slices(crowd.horizon)
    ]
    named = sum(group["headcount"] or 0 for group in groups)
    return {
        "zone": crowd.horizon.time_zone,
        "start": crowd.horizon.counted,
        "step": STEP,
        "days": days,
        "groups": groups,
        "peak": _peak(crowd.peak()),
        "headcount": counted_once(plan.overlaps, [group.id for group in plan.groups], named),
        "zones": _zones(plan, groups),
        "doubles": _doubles(doubles_of(plan, crowd.horizon, SHOWN_SEED)),
        "findings": [values_of(finding) for finding in people_findings(plan)],
    }


def year_days(plan: Plan, days: Iterable[DayHours]) -> list[dict[str, Any]]:
    """Hours of many days, for a heat map."""
    return [
        {
            "date": each.day.isoformat(),
            "hours": list(each.hours),
            "peak": each.peak,
            "marks": _marks(plan, each.day),
        }
        for each in days
    ]


def pattern_answer(pattern: Pattern, picture: PatternPicture) -> dict[str, Any]:
    """A pattern's day."""
    earliest, latest = reach_of(pattern)
    return {
        "start": pattern.start.spread.mean / 60.0,
        "end": end_of(pattern) / 60.0,
        "earliest": earliest / 60.0,
        "latest": latest / 60.0,
        "breaks": [
            {name: seconds / 60.0 for name, seconds in asdict(room).items()}
            for room in breaks_of(pattern)
        ],
        "step": STEP,
        "present": np.round(picture.present, 4).tolist(),
        "starting": np.round(picture.starting, 4).tolist(),
        "breaks_taken": [round(taken, 3) for taken in picture.breaks_taken],
        "working_minutes": round(picture.working_minutes, 1),
    }
