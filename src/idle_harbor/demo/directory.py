"""The demo's simulated directory: everyone the plan counts, and some whom it does not."""

from __future__ import annotations

from typing import Any

from idle_harbor.demo import people
from idle_harbor.standins.directory import DirectoryPlan, SimulatedDirectory

DOMAIN = "quillmoor.example"


def _followed() -> dict[str, int]:
    demands: list[dict[str, Any]] = [group["demand"] for group in people.groups()]
    return {d["follows"]: d["people"] for d in demands if d["kind"] == "headcount"}


def demo_directory() -> SimulatedDirectory:
    """The directory of Quillmoor Water; two of its groups are in nobody's plan."""
    return SimulatedDirectory(
        DirectoryPlan(
            groups={**_followed(), "fleet-yard": 23, "summer-students": 12},
            shared=people.OVERLAPS,
            nested={"customer-line": ("line-tern-bay", "line-port-ellery")},
            alone=17,
            domain=DOMAIN,
        )
    )
