"""Quillmoor Water, a made-up regional water company: its first plan, with the usual mistakes.

The office schedule starts its hosts at the hour people come rather than a start time before, lets
them fill up before it asks for the next, and drains while people still linger.
"""

from __future__ import annotations

from typing import Any

PLAN_NAME = "Quillmoor Water"
_WORKDAYS = ("mon", "tue", "wed", "thu", "fri")
_OFFICE_ZONE = "Europe/Dublin"
_PRICES = "Quillmoor price sheet, invented"


def _head_office() -> dict[str, Any]:
    lunch = {
        "probability": 0.8, "at": "12:30", "sd_minutes": 20, "mean_minutes": 45,
        "length_sd_minutes": 12,
        "leaving": {"sign_off": 0.05, "disconnect": 0.25, "walk_away": 0.7},
    }  # fmt: skip
    pattern = {
        "id": "day", "share": 1,
        "attendance": {"mon": 0.88, "tue": 0.93, "wed": 0.92, "thu": 0.9, "fri": 0.78},
        "start": {"kind": "normal", "mean": "08:50", "sd_minutes": 24},
        "length": {"kind": "normal", "mean_minutes": 495, "sd_minutes": 32},
        "breaks": [lunch],
        "leaving": {"sign_off": 0.55, "disconnect": 0.27, "walk_away": 0.18},
    }  # fmt: skip
    return {
        "id": "head-office", "site": "quillmoor", "profile": "office",
        "demand": {"kind": "headcount", "people": 720, "patterns": [pattern]},
    }  # fmt: skip


def _counters() -> dict[str, Any]:
    hours = [0.0] * 7 + [14, 46, 62, 71, 66, 58, 44, 52, 60, 57, 31, 12] + [0.0] * 5
    saturday = [0.0] * 8 + [20, 38, 42, 36, 18] + [0.0] * 11
    return {
        "id": "depot-counters", "site": "depots", "profile": "counter",
        "demand": {
            "kind": "drop-in",
            "arrivals_per_hour": {**dict.fromkeys(_WORKDAYS, hours), "sat": saturday},
            "session": {"kind": "lognormal", "mean_minutes": 8, "cv": 0.7},
        },
    }  # fmt: skip


def _band(start: str, floor: int, ceiling: float, headroom: int, rule: str, release: str) -> Any:
    return {
        "from": start, "floor": floor, "fill_ceiling": ceiling, "headroom": headroom,
        "rule": rule, "release": release,
    }  # fmt: skip


def _office_schedule() -> dict[str, Any]:
    return {
        "id": "office", "tick_seconds": 300,
        "day_types": [
            {"id": "workday", "weekdays": list(_WORKDAYS), "bands": [
                _band("00:00", 2, 0.9, 0, "fill", "when empty"),
                _band("08:30", 24, 0.95, 0, "spread", "keep all"),
                _band("17:00", 4, 0.9, 12, "fill", "drain"),
            ]},
            {"id": "rest-day", "weekdays": ["sat", "sun"], "bands": [
                _band("00:00", 2, 0.9, 0, "fill", "when empty"),
            ]},
        ],
    }  # fmt: skip


def _counter_schedule() -> dict[str, Any]:
    return {
        "id": "counters", "tick_seconds": 300,
        "day_types": [
            {"id": "workday", "weekdays": [*_WORKDAYS, "sat"], "bands": [
                _band("00:00", 0, 0.9, 0, "fill", "when empty"),
                _band("07:00", 1, 0.8, 4, "spread", "when empty"),
                _band("19:30", 0, 0.9, 0, "fill", "drain"),
            ]},
            {"id": "rest-day", "weekdays": ["sun"], "bands": [
                _band("00:00", 0, 0.9, 0, "fill", "when empty"),
            ]},
        ],
    }  # fmt: skip


def demo_plan() -> dict[str, Any]:
    """The demo's plan document."""
    return {
        "format": 1, "name": PLAN_NAME, "currency": "EUR", "week_of": "2027-03-01",
        "promise": {"wait_p95_seconds": 60, "refused_share": 0.001, "strained_share": 0.02},
        "sites": [
            {"id": "quillmoor", "time_zone": _OFFICE_ZONE},
            {"id": "depots", "time_zone": _OFFICE_ZONE},
        ],
        "profiles": [
            {"id": "office", "cpu": {"mean": 0.38, "sd": 0.26, "idle": 0.03},
             "memory_gib": {"active": 1.6, "idle": 1.5, "disconnected": 1.4},
             "logon": {"seconds": 24, "vcpu": 1.2}},
            {"id": "counter", "cpu": {"mean": 0.2, "sd": 0.15, "idle": 0.02},
             "memory_gib": {"active": 0.9, "idle": 0.8, "disconnected": 0.8},
             "logon": {"seconds": 11, "vcpu": 0.8}},
        ],
        "groups": [_head_office(), _counters()],
        "entitlements": [
            {"group": "head-office", "pool": "office", "as": "desktop"},
            {"group": "depot-counters", "pool": "counters", "as": "desktop"},
        ],
        "sizes": [
            {"id": "q8-32", "vcpu": 8, "memory_gib": 32, "hourly": "0.412", "source": _PRICES},
            {"id": "q4-16", "vcpu": 4, "memory_gib": 16, "hourly": "0.208", "source": _PRICES},
        ],
        "disks": [
            {"id": "d128", "monthly_on": "9.20", "monthly_off": "9.20", "source": _PRICES},
        ],
        "pools": [
            {"id": "office", "kind": "shared", "time_zone": _OFFICE_ZONE, "size": "q8-32",
             "disk": "d128", "hosts": {"standing": 56}, "session_limit": 14,
             "schedule": "office", "start": {"mean_seconds": 270, "cv": 0.3},
             "stop_seconds": 60, "patience_seconds": 600, "idle_timeout": 7200,
             "disconnected_timeout": 14400, "reconnect_seconds": 8,
             "load": {"limit": 0.85, "tolerance": 0.05, "base_vcpu": 0.3, "base_gib": 3}},
            {"id": "counters", "kind": "shared", "time_zone": _OFFICE_ZONE, "size": "q4-16",
             "disk": "d128", "hosts": {"standing": 4}, "session_limit": 8,
             "schedule": "counters", "start": {"mean_seconds": 240, "cv": 0.3},
             "stop_seconds": 60, "patience_seconds": 180, "idle_timeout": 900,
             "disconnected_timeout": 900, "reconnect_seconds": 5,
             "load": {"limit": 0.85, "tolerance": 0.05, "base_vcpu": 0.2, "base_gib": 2}},
        ],
        "schedules": [_office_schedule(), _counter_schedule()],
    }  # fmt: skip
