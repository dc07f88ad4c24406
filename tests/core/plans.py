"""A small checked plan for tests of the core."""

import json
from pathlib import Path
from typing import Any

from idle_harbor.core.plan import Plan
from idle_harbor.formats.plan.codec import plan_of, read_plan, to_values

WORKDAYS = ("mon", "tue", "wed", "thu", "fri")
SMALL = Path(__file__).with_name("small.json").read_text()


def document(**changes: Any) -> dict[str, Any]:
    """A plan with one group of 60 people and one pool of ten hosts of eight."""
    return json.loads(SMALL) | changes


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
