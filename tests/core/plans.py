"""A small checked plan for tests of the core."""

from typing import Any

from idle_harbor.core.plan import FORMAT, Plan
from idle_harbor.formats.plan.codec import plan_of, read_plan, to_values

WORKDAYS = ("mon", "tue", "wed", "thu", "fri")


def document(**changes: Any) -> dict[str, Any]:
    """A plan with one group of 60 people and one pool of ten hosts of eight."""
    whole: dict[str, Any] = {
        "format": FORMAT,
        "name": "Small",
        "currency": "EUR",
        "week_of": "2027-03-03",
        "sites": [{"id": "here", "time_zone": "Europe/Dublin"}],
        "profiles": [{"id": "office"}],
        "groups": [
            {
                "id": "people",
                "site": "here",
                "profile": "office",
                "demand": {
                    "kind": "headcount",
                    "people": 60,
                    "patterns": [
                        {
                            "id": "day",
                            "attendance": dict.fromkeys(WORKDAYS, 0.9),
                            "leaving": {"sign_off": 0.6, "disconnect": 0.3, "walk_away": 0.1},
                            "breaks": [
                                {
                                    "probability": 0.5,
                                    "leaving": {
                                        "sign_off": 0.2,
                                        "disconnect": 0.4,
                                        "walk_away": 0.4,
                                    },
                                }
                            ],
                        }
                    ],
                },
            }
        ],
        "access": [{"group": "people", "pool": "main"}],
        "sizes": [{"id": "sloop", "vcpu": 8, "memory_gib": 32, "hourly": "0.412"}],
        "disks": [{"id": "deck-100", "monthly_on": "9.20", "monthly_off": "4.60"}],
        "pools": [
            {
                "id": "main",
                "time_zone": "Europe/Dublin",
                "size": "sloop",
                "disk": "deck-100",
                "hosts": {"standing": 10},
                "session_limit": 8,
                "schedule": "main",
            }
        ],
        "schedules": [
            {
                "id": "main",
                "day_types": [
                    {
                        "id": "workday",
                        "weekdays": list(WORKDAYS),
                        "bands": [
                            {"from": "00:00", "floor": 0, "rule": "fill", "release": "drain"},
                            {"from": "07:30", "floor": 4, "headroom": 6, "release": "keep all"},
                            {"from": "17:00", "floor": 0, "rule": "fill", "release": "drain"},
                        ],
                    },
                    {"id": "rest-day", "weekdays": ["sat", "sun"], "bands": [{"from": "00:00"}]},
                ],
            }
        ],
    }
    whole.update(changes)
    return whole


def plan(**changes: Any) -> Plan:
    return plan_of(document(**changes))


def values(**changes: Any) -> dict[str, Any]:
    """The same with every default filled in, as it is stored."""
    return to_values(read_plan(document(**changes)))


def only(whole: dict[str, Any], *names: str) -> dict[str, Any]:
    """A plan document with some of its pools, and with what is theirs alone."""
    pools = [pool for pool in whole["pools"] if pool["id"] in names]
    access = [each for each in whole["access"] if each["pool"] in names]
    used = {pool["schedule"] for pool in pools}
    licences = [
        {**each, "pools": [pool for pool in each["pools"] if pool in names]}
        for each in whole["prices"]["licences"]
    ]
    return {
        **whole,
        "pools": pools,
        "access": access,
        "schedules": [each for each in whole["schedules"] if each["id"] in used],
        "prices": {**whole["prices"], "licences": [each for each in licences if each["pools"]]},
    }
