"""A schedule in words, as the page is told it."""

from __future__ import annotations

from typing import Any

from idle_harbor.core.plan import Pool, Schedule
from idle_harbor.core.plan.declare import clock_text
from idle_harbor.core.plan.words import Part, Said, band_said, load_rule_said, target_said


def _part(part: Part) -> dict[str, Any]:
    if isinstance(part, str):
        return {"text": part}
    told: dict[str, Any] = {"field": part.field, "label": part.label, "kind": part.kind}
    if part.options:
        told["options"] = [{"value": value, "text": text} for value, text in part.options]
    if part.without is not None:
        told["without"] = dict(part.without)
    return told


def _said(said: Said) -> dict[str, Any]:
    return {
        "parts": [_part(part) for part in said.parts],
        "offers": [{"text": each.text, "values": dict(each.values)} for each in said.offers],
    }


def words_answer(schedule: Schedule, pool: Pool) -> dict[str, Any]:
    """Every band, target and load rule of a schedule as a sentence."""
    rules = schedule.load_rules
    return {
        "schedule": schedule.id,
        "day_types": [
            {
                "id": day_type.id,
                "bands": [
                    {"at": clock_text(band.start), **_said(band_said(band, pool, rules))}
                    for band in day_type.bands
                ],
                "ready_by": [
                    {"at": clock_text(each.at), **_said(target_said(each))}
                    for each in day_type.ready_by
                ],
            }
            for day_type in schedule.day_types
        ],
        "load_rules": [{"id": each.id, **_said(load_rule_said(each))} for each in rules],
    }
