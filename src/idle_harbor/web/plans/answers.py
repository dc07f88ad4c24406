"""Answers about a plan: its schedule in words, the year of a schedule, facts of the plan alone."""

from __future__ import annotations

from dataclasses import asdict
from datetime import date, timedelta
from typing import Any

from idle_harbor.core.calendar.day_types import rulings_over
from idle_harbor.core.plan import Plan, Pool, Schedule
from idle_harbor.core.plan.classes import class_of
from idle_harbor.core.plan.declare import clock_text
from idle_harbor.core.plan.derived import patterns_for, profiles_in
from idle_harbor.core.sentences.assumed import assumed_values, unpriced_parts
from idle_harbor.core.sentences.estate import shared_lines
from idle_harbor.core.sentences.schedule import Part, Said, band_said, load_rule_said, target_said
from idle_harbor.core.sentences.table import schedule_table


def _part(part: Part) -> dict[str, Any]:
    if isinstance(part, str):
        return {"text": part}
    told: dict[str, Any] = {
        "field": part.field,
        "label": part.label,
        "kind": part.kind,
        "options": [{"value": value, "text": text} for value, text in part.options],
    }
    if part.without is not None:
        told["without"] = dict(part.without)
    if part.may_be_own:
        told |= {"may_be_own": True, "own": part.own, "elsewhere": part.elsewhere}
    return told


def _said(said: Said) -> dict[str, Any]:
    return {
        "parts": [_part(part) for part in said.parts],
        "offers": [
            {"text": each.text, "values": dict(each.values), "may_be_own": each.may_be_own}
            for each in said.offers
        ],
    }


def words_answer(plan: Plan, schedule: Schedule, pool: Pool) -> dict[str, Any]:
    """Every band, target and load rule of a schedule as a sentence."""
    rules = schedule.load_rules
    columns, rows = schedule_table(schedule, pool)
    return {
        "schedule": schedule.id,
        "shared_with": [
            each.id for each in plan.pools if each.schedule == schedule.id and each is not pool
        ],
        "limits": shared_lines(plan, pool),
        "day_types": [
            {
                "id": day_type.id,
                "bands": [
                    {"at": clock_text(band.start), **_said(band_said(band, pool, rules))}
                    for band in day_type.bands
                ],
                "ready_by": [
                    {"at": clock_text(each.at), **_said(target_said(each, pool))}
                    for each in day_type.ready_by
                ],
            }
            for day_type in schedule.day_types
        ],
        "load_rules": [{"id": each.id, **_said(load_rule_said(each))} for each in rules],
        "table": {
            "columns": [
                {
                    "day_type": each.day_type,
                    "band": each.band,
                    "name": each.name,
                    "begins": each.begins,
                }
                for each in columns
            ],
            "rows": [{"label": row.label, "cells": list(row.cells)} for row in rows],
        },
    }


def facts_answer(plan: Plan) -> dict[str, Any]:
    """What follows from a plan's parts alone."""
    return {
        "pools": {
            pool.id: {
                "promise": asdict(pool.owed(plan.promise)),
                "most_hosts": pool.hosts.most,
                "profiles": profiles_in(plan, pool),
                "unpriced": unpriced_parts(plan, pool),
            }
            for pool in plan.pools
        },
        "patterns": {event.id: list(patterns_for(plan, event)) for event in plan.events},
        "classes": {each.id: class_of(each) or "" for each in plan.profiles},
        "assumed": [asdict(each) for each in assumed_values(plan)],
    }


def year_answer(plan: Plan, schedule: Schedule, year: int) -> dict[str, Any]:
    """Every date of a year with what rules it."""
    first = date(year, 1, 1)
    days = [first + timedelta(days=k) for k in range((date(year + 1, 1, 1) - first).days)]
    kinds = [kind.id for kind in schedule.day_types]
    return {
        "schedule": schedule.id,
        "year": year,
        "day_types": kinds,
        "days": [
            {
                "date": day.isoformat(),
                "day_type": kinds.index(ruling.day_type.id),
                "by": ruling.by,
                "name": ruling.name,
            }
            for day, ruling in zip(days, rulings_over(schedule, plan, days), strict=True)
        ],
    }
