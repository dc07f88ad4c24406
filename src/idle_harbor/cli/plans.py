"""Plan files and stored plans. Imports are late so that quick verbs stay quick."""

from __future__ import annotations

import json
import os
from pathlib import Path

import click

from idle_harbor.cli.shared import PLAN, fail, main, read_checked


@main.command()
@PLAN
def validate(plan: Path) -> None:
    """Check a plan file; one line per fault, exit code 2 where there is one."""
    checked = read_checked(plan)
    click.echo(f"{plan}: '{checked.name}' is a plan that can be")


@main.command()
def schema() -> None:
    """Print the JSON Schema of plan files."""
    from idle_harbor.formats.plan.codec import plan_schema

    click.echo(json.dumps(plan_schema(), indent=2))


@main.command()
def fields() -> None:
    """Print what every field of a plan file means (docs/plan.md)."""
    from idle_harbor.formats.plan.docs import field_page

    click.echo(field_page(), nl=False)


@main.command()
@click.argument("name")
def export(name: str) -> None:
    """Print a stored plan (its name or number) as JSON."""
    from idle_harbor.launch.cluster import running_address
    from idle_harbor.store.database import Database, StoreError

    address = os.environ.get("DATABASE_URL") or running_address()
    if address is None:
        fail(["no database is running here; start one with ./idle-harbor demo, "
               "or set DATABASE_URL"])  # fmt: skip
    try:
        with Database(address) as database:
            document = database.find_document(name)
    except StoreError as error:
        fail([str(error)])
    if document is None:
        fail([f"there is no stored plan called '{name}'; see the list in the browser"])
    click.echo(json.dumps(document, indent=2, ensure_ascii=False))
