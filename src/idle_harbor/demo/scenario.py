"""Quillmoor Water, a made-up regional water company: its first plan, with the usual mistakes.

The office schedule starts its hosts at the hour people come rather than a start time before, lets
them fill up before it asks for the next, and drains while people still linger.
"""

from __future__ import annotations

from typing import Any

from idle_harbor.demo import hosts, people

PLAN_NAME = "Quillmoor Water"
_WORKDAYS = ("mon", "tue", "wed", "thu", "fri")


def _band(start: str, floor: int, ceiling: float, headroom: int, rule: str, release: str) -> Any:
    return {
        "from": start,
        "floor": floor,
        "fill_ceiling": ceiling,
        "headroom": headroom,
        "rule": rule,
        "release": release,
    }


def _office_schedule() -> dict[str, Any]:
    return {
        "id": "office",
        "tick_seconds": 300,
        "day_types": [
            {
                "id": "workday",
                "weekdays": list(_WORKDAYS),
                "bands": [
                    _band("00:00", 2, 0.9, 0, "fill", "when empty"),
                    _band("08:30", 34, 0.95, 0, "spread", "keep all"),
                    _band("17:00", 5, 0.9, 12, "fill", "drain"),
                ],
            },
            {
                "id": "rest-day",
                "weekdays": ["sat", "sun"],
                "dates": ["2027-03-17"],
                "bands": [
                    _band("00:00", 2, 0.9, 0, "fill", "when empty"),
                ],
            },
        ],
    }


def _counter_schedule() -> dict[str, Any]:
    return {
        "id": "counters",
        "tick_seconds": 300,
        "day_types": [
            {
                "id": "workday",
                "weekdays": [*_WORKDAYS, "sat"],
                "bands": [
                    _band("00:00", 0, 0.9, 0, "fill", "when empty"),
                    _band("07:00", 1, 0.8, 4, "spread", "when empty"),
                    _band("19:30", 0, 0.9, 0, "fill", "drain"),
                ],
            },
            {
                "id": "rest-day",
                "weekdays": ["sun"],
                "bands": [
                    _band("00:00", 0, 0.9, 0, "fill", "when empty"),
                ],
            },
        ],
    }


def _line_schedule() -> dict[str, Any]:
    """One schedule for two sites five time zones apart: the evening is thought of too late."""
    return {
        "id": "line",
        "tick_seconds": 300,
        "day_types": [
            {
                "id": "workday",
                "weekdays": list(_WORKDAYS),
                "bands": [
                    _band("00:00", 1, 0.9, 0, "fill", "drain"),
                    _band("06:30", 7, 0.85, 6, "spread", "keep all"),
                    _band("12:30", 16, 0.85, 12, "spread", "keep all"),
                    _band("21:30", 3, 0.9, 0, "fill", "drain"),
                ],
            },
            {
                "id": "saturday",
                "weekdays": ["sat"],
                "bands": [
                    _band("00:00", 1, 0.9, 0, "fill", "drain"),
                    _band("06:45", 5, 0.85, 6, "spread", "when empty"),
                ],
            },
            {
                "id": "sunday",
                "weekdays": ["sun"],
                "bands": [
                    _band("00:00", 0, 0.9, 0, "fill", "drain"),
                ],
            },
        ],
    }


def _field_schedule() -> dict[str, Any]:
    """Two short rushes a day, and hosts kept on in between."""
    return {
        "id": "field",
        "tick_seconds": 300,
        "day_types": [
            {
                "id": "workday",
                "weekdays": [*_WORKDAYS, "sat"],
                "bands": [
                    _band("00:00", 0, 0.9, 0, "fill", "when empty"),
                    _band("06:00", 14, 0.9, 8, "spread", "keep all"),
                    _band("17:00", 0, 0.9, 0, "fill", "drain"),
                ],
            },
            {
                "id": "sunday",
                "weekdays": ["sun"],
                "bands": [
                    _band("00:00", 0, 0.9, 0, "fill", "when empty"),
                ],
            },
        ],
    }


def _single_schedule(name: str, floor: int, night: int) -> dict[str, Any]:
    return {
        "id": name,
        "tick_seconds": 300,
        "day_types": [
            {
                "id": "workday",
                "weekdays": list(_WORKDAYS),
                "bands": [
                    _band("00:00", night, 1.0, 1, "fill", "when empty"),
                    _band("08:00", floor, 1.0, 6, "fill", "when empty"),
                    _band("19:00", night, 1.0, 1, "fill", "when empty"),
                ],
            },
            {
                "id": "rest-day",
                "weekdays": ["sat", "sun"],
                "bands": [
                    _band("00:00", night, 1.0, 1, "fill", "when empty"),
                ],
            },
        ],
    }


def _access() -> list[dict[str, Any]]:
    desktops = [
        ("head-office", "office"),
        ("billing", "office"),
        ("line-tern-bay", "line"),
        ("line-port-ellery", "line"),
        ("field-crews", "field"),
        ("control-room", "control"),
        ("hydrology", "drawings"),
        ("planning", "drawings"),
        ("contractors", "metering"),
        ("depot-counters", "counters"),
    ]
    return [
        *({"group": group, "pool": pool, "as": "desktop"} for group, pool in desktops),
        {
            "group": "planning",
            "pool": "office",
            "as": "apps",
            "use": 0.6,
            "apps": ["Time sheets", "Site letters"],
            "profile": "forms",
        },
        {"group": "billing", "pool": "office", "as": "apps", "use": 0.4, "apps": ["Meter ledger"]},
        {
            "group": "field-crews",
            "pool": "office",
            "as": "apps",
            "use": 0.1,
            "apps": ["Depot rota"],
        },
    ]


def demo_plan() -> dict[str, Any]:
    """The demo's plan document."""
    return {
        "format": 3,
        "name": PLAN_NAME,
        "currency": "EUR",
        "week_of": "2027-03-01",
        "promise": {"wait_p95_seconds": 60, "refused_share": 0.001, "strained_share": 0.02},
        "sites": people.sites(),
        "profiles": hosts.profiles(),
        "groups": people.groups(),
        "events": people.events(),
        "overlaps": [
            {"groups": list(names), "people": count, "source": "demo directory"}
            for names, count in people.OVERLAPS.items()
        ],
        "access": _access(),
        "places": hosts.places(),
        "prices": hosts.prices(),
        "images": hosts.images(),
        "sizes": hosts.sizes(),
        "disks": hosts.disks(),
        "pools": hosts.pools(),
        "schedules": [
            _office_schedule(),
            _line_schedule(),
            _field_schedule(),
            _counter_schedule(),
            _single_schedule("control", 30, 24),
            _single_schedule("drawings", 60, 2),
            _single_schedule("metering", 20, 1),
        ],
    }
