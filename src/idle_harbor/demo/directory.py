"""The demo's simulated directory: everyone the plan counts, and some whom it does not."""

from __future__ import annotations

from idle_harbor.demo.scenario import demo_plan
from idle_harbor.standins.directory import DirectoryPlan, SimulatedDirectory

DOMAIN = "quillmoor.example"


def demo_directory() -> SimulatedDirectory:
    """The directory of Quillmoor Water; two of its groups are in nobody's plan."""
    plan = demo_plan()
    demands = [group["demand"] for group in plan["groups"]]
    followed = {d["follows"]: d["people"] for d in demands if d["kind"] == "headcount"}
    return SimulatedDirectory(
        DirectoryPlan(
            groups={**followed, "fleet-yard": 23, "summer-students": 12},
            shared={tuple(each["groups"]): each["people"] for each in plan["overlaps"]},
            nested={"customer-line": ("line-tern-bay", "line-port-ellery")},
            alone=17,
            domain=DOMAIN,
        )
    )
