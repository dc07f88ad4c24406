"""Quillmoor Water, a made-up regional water company: its first plan, with the usual mistakes.

The office schedule starts its hosts at the hour people come rather than a start time before, lets
them fill up before it asks for the next, and drains while people still linger.
"""

from __future__ import annotations

from typing import Any

from idle_harbor.demo import people

PLAN_NAME = "Quillmoor Water"
_WORKDAYS = ("mon", "tue", "wed", "thu", "fri")
_OFFICE_ZONE = "Europe/Dublin"
_PRICES = "Quillmoor price sheet, invented"


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
                _band("08:30", 34, 0.95, 0, "spread", "keep all"),
                _band("17:00", 5, 0.9, 12, "fill", "drain"),
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


def _line_schedule() -> dict[str, Any]:
    """One schedule for two sites five time zones apart: the evening is thought of too late."""
    return {
        "id": "line", "tick_seconds": 300,
        "day_types": [
            {"id": "workday", "weekdays": list(_WORKDAYS), "bands": [
                _band("00:00", 1, 0.9, 0, "fill", "drain"),
                _band("06:30", 7, 0.85, 6, "spread", "keep all"),
                _band("12:30", 16, 0.85, 12, "spread", "keep all"),
                _band("21:30", 3, 0.9, 0, "fill", "drain"),
            ]},
            {"id": "saturday", "weekdays": ["sat"], "bands": [
                _band("00:00", 1, 0.9, 0, "fill", "drain"),
                _band("06:45", 5, 0.85, 6, "spread", "when empty"),
            ]},
            {"id": "sunday", "weekdays": ["sun"], "bands": [
                _band("00:00", 0, 0.9, 0, "fill", "drain"),
            ]},
        ],
    }  # fmt: skip


def _field_schedule() -> dict[str, Any]:
    """Two short rushes a day, and hosts kept on in between."""
    return {
        "id": "field", "tick_seconds": 300,
        "day_types": [
            {"id": "workday", "weekdays": [*_WORKDAYS, "sat"], "bands": [
                _band("00:00", 0, 0.9, 0, "fill", "when empty"),
                _band("06:00", 14, 0.9, 8, "spread", "keep all"),
                _band("17:00", 0, 0.9, 0, "fill", "drain"),
            ]},
            {"id": "sunday", "weekdays": ["sun"], "bands": [
                _band("00:00", 0, 0.9, 0, "fill", "when empty"),
            ]},
        ],
    }  # fmt: skip


def _single_schedule(name: str, floor: int, night: int) -> dict[str, Any]:
    return {
        "id": name, "tick_seconds": 300,
        "day_types": [
            {"id": "workday", "weekdays": list(_WORKDAYS), "bands": [
                _band("00:00", night, 1.0, 1, "fill", "when empty"),
                _band("08:00", floor, 1.0, 6, "fill", "when empty"),
                _band("19:00", night, 1.0, 1, "fill", "when empty"),
            ]},
            {"id": "rest-day", "weekdays": ["sat", "sun"], "bands": [
                _band("00:00", night, 1.0, 1, "fill", "when empty"),
            ]},
        ],
    }  # fmt: skip


def _profile(
    name: str, cpu: tuple[float, float, float], memory: tuple[float, float, float],
    logon: tuple[int, float],
) -> dict[str, Any]:  # fmt: skip
    return {
        "id": name, "cpu": dict(zip(("mean", "sd", "idle"), cpu, strict=True)),
        "memory_gib": dict(zip(("active", "idle", "disconnected"), memory, strict=True)),
        "logon": {"seconds": logon[0], "vcpu": logon[1]},
    }  # fmt: skip


def _profiles() -> list[dict[str, Any]]:
    return [
        _profile("office", (0.38, 0.26, 0.03), (1.6, 1.5, 1.4), (24, 1.2)),
        _profile("counter", (0.2, 0.15, 0.02), (0.9, 0.8, 0.8), (11, 0.8)),
        _profile("line", (0.3, 0.18, 0.03), (1.3, 1.2, 1.2), (19, 1.0)),
        _profile("forms", (0.22, 0.16, 0.02), (1.1, 1.0, 0.9), (17, 0.9)),
        _profile("control", (0.9, 0.4, 0.35), (4.5, 4.4, 4.2), (35, 1.5)),
        _profile("models", (2.8, 1.6, 1.1), (14.0, 13.0, 13.0), (40, 1.5)),
        _profile("drawings", (1.7, 1.1, 0.15), (9.0, 8.5, 8.0), (38, 1.5)),
        _profile("metering", (0.8, 0.5, 0.05), (2.6, 2.4, 2.3), (28, 1.2)),
    ]


def _entitlements() -> list[dict[str, Any]]:
    desktops = [
        ("head-office", "office"), ("billing", "office"), ("line-tern-bay", "line"),
        ("line-port-ellery", "line"), ("field-crews", "field"), ("control-room", "control"),
        ("hydrology", "drawings"), ("planning", "drawings"), ("contractors", "metering"),
        ("depot-counters", "counters"),
    ]  # fmt: skip
    return [
        *({"group": group, "pool": pool, "as": "desktop"} for group, pool in desktops),
        {"group": "planning", "pool": "office", "as": "apps", "use": 0.6,
         "apps": ["Time sheets", "Site letters"], "profile": "forms"},
        {"group": "billing", "pool": "office", "as": "apps", "use": 0.4,
         "apps": ["Meter ledger"]},
        {"group": "field-crews", "pool": "office", "as": "apps", "use": 0.1,
         "apps": ["Depot rota"]},
    ]  # fmt: skip


def _pool(
    name: str, size: str, standing: int, limit: int, load: tuple[float, float], start: int,
    patience: int, idle: Any, gone: Any, **more: Any,
) -> dict[str, Any]:  # fmt: skip
    return {
        "id": name, "time_zone": _OFFICE_ZONE, "size": size, "disk": "d128",
        "hosts": {"standing": standing}, "session_limit": limit, "schedule": name,
        "start": {"mean_seconds": start, "cv": 0.3}, "stop_seconds": 60,
        "patience_seconds": patience, "idle_timeout": idle, "disconnected_timeout": gone,
        "reconnect_seconds": 8,
        "load": {"limit": 0.85, "tolerance": 0.05, "base_vcpu": load[0], "base_gib": load[1]},
        **more,
    }  # fmt: skip


def _pools() -> list[dict[str, Any]]:
    usual = (0.3, 3.0)
    return [
        _pool("office", "q8-32", 84, 14, usual, 270, 600, 7200, 14400, image="office-spring"),
        _pool("line", "q8-32", 32, 16, usual, 250, 300, 1800, 3600),
        _pool("field", "q8-32", 26, 18, usual, 250, 600, 900, 900),
        _pool("counters", "q4-16", 4, 8, (0.2, 2.0), 240, 180, 900, 900, reconnect_seconds=5),
        _pool(
            "control",
            "q4-16",
            98,
            1,
            usual,
            240,
            900,
            "never",
            "never",
            kind="dedicated",
            assigned=[{"group": "control-room", "person": k, "host": k} for k in range(1, 25)],
        ),
        _pool("drawings", "q8-32-g1", 156, 1, usual, 300, 900, 43200, 14400),
        _pool("metering", "q4-16", 96, 1, usual, 240, 900, 3600, 3600),
    ]


def demo_plan() -> dict[str, Any]:
    """The demo's plan document."""
    return {
        "format": 1, "name": PLAN_NAME, "currency": "EUR", "week_of": "2027-03-01",
        "promise": {"wait_p95_seconds": 60, "refused_share": 0.001, "strained_share": 0.02},
        "sites": people.sites(),
        "profiles": _profiles(),
        "groups": people.groups(),
        "events": people.events(),
        "overlaps": [
            {"groups": list(names), "people": count, "source": "demo directory"}
            for names, count in people.OVERLAPS.items()
        ],
        "entitlements": _entitlements(),
        "images": [
            {"id": "office-spring",
             "apps": ["Mail", "Meter ledger", "Sheets", "Site letters", "Time sheets"]},
        ],
        "sizes": [
            {"id": "q8-32", "vcpu": 8, "memory_gib": 32, "hourly": "0.412", "source": _PRICES},
            {"id": "q4-16", "vcpu": 4, "memory_gib": 16, "hourly": "0.208", "source": _PRICES},
            {"id": "q16-64", "vcpu": 16, "memory_gib": 64, "hourly": "0.816", "source": _PRICES},
            {"id": "q8-32-g1", "vcpu": 8, "memory_gib": 32, "hourly": "1.140",
             "source": _PRICES},
        ],
        "disks": [
            {"id": "d128", "monthly_on": "9.20", "monthly_off": "9.20", "source": _PRICES},
        ],
        "pools": _pools(),
        "schedules": [
            _office_schedule(), _line_schedule(), _field_schedule(), _counter_schedule(),
            _single_schedule("control", 30, 24), _single_schedule("drawings", 60, 2),
            _single_schedule("metering", 20, 1),
        ],
    }  # fmt: skip
