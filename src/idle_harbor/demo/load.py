"""Put the demo's plan into an empty database."""

from __future__ import annotations

from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan_reading import document_of, plan_from, to_values
from idle_harbor.store.database import Database


def load_demo(address: str) -> bool:
    """Store the demo's plan where no plan is stored yet; returns whether it did."""
    with Database(address) as database:
        if database.count_plans():
            return False
        document = document_of(demo_plan())
        plan_from(document)
        database.create_plan(to_values(document), "a first try", "demo")
        return True
