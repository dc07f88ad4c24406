"""Put the demo's plan and directory into an empty database."""

from __future__ import annotations

from idle_harbor.demo.directory import demo_directory
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import plan_of, to_values
from idle_harbor.store.database import Database
from idle_harbor.store.directories import Directories
from idle_harbor.store.directory import Directory
from idle_harbor.store.plans import Plans


def load_demo(address: str) -> bool:
    """Store the demo's data where no plan is stored yet; returns whether it did."""
    with Database(address) as database:
        plans = Plans(database)
        if plans.count():
            return False
        plan = plan_of(demo_plan())
        made = plans.create(to_values(plan), "a first try", "demo")
        _load_directory(Directory(database, Directories(database).for_plan(made["id"])))
        return True


def _load_directory(directory: Directory) -> None:
    """Import the simulated directory as anybody would."""
    told = demo_directory().as_ldif()
    import_id = directory.take("simulated directory", "ldif", [told])
    directory.read(import_id)
    directory.claim(import_id)
    directory.apply(import_id)
