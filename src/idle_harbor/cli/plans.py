"""Plan files and stored plans. Imports are late so that quick verbs stay quick."""

from __future__ import annotations

import json
import os
import sys
from datetime import datetime
from pathlib import Path

import click

from idle_harbor.cli.shared import DAYS, FIRST, PLAN, fail, main, read_checked, told


def _as_text(document: object) -> str:
    """A plan document as it is printed."""
    return json.dumps(document, indent=2, ensure_ascii=False)


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
@PLAN
@click.option("--pool", help="Only the schedule of this pool.")
@click.option("--table", "as_table", is_flag=True, help="As CSV: a row a rule, a column a band.")
def words(plan: Path, pool: str | None, as_table: bool) -> None:
    """Say in words what each pool's schedule does."""
    from idle_harbor.core.plan.lookup import find_pool, shared_schedule
    from idle_harbor.core.sentences.estate import shared_lines
    from idle_harbor.core.sentences.schedule import schedule_lines
    from idle_harbor.core.sentences.table import schedule_table
    from idle_harbor.formats.tables.rows import write_rows

    found = read_checked(plan)
    with told():
        pools = found.pools if pool is None else (find_pool(found, pool),)
    for each in pools:
        schedule = shared_schedule(found, each)
        if not as_table:
            lines = (*schedule_lines(schedule, each), *shared_lines(found, each))
            click.echo("\n".join([f"{each.id}:", *lines, ""]))
            continue
        columns, rows = schedule_table(schedule, each)
        head = [each.id, *(f"{column.name} {column.begins}" for column in columns)]
        write_rows(sys.stdout, [head, *([row.label, *row.cells] for row in rows)])


@main.command()
@PLAN
@click.option("--pool", required=True, help="The pool's id.")
@FIRST
@DAYS
def agenda(plan: Path, pool: str, first: datetime | None, days: int) -> None:
    """Print what a pool's schedule does by the clock, as an iCalendar file."""
    from idle_harbor.core.plan.lookup import find_pool
    from idle_harbor.core.policy.agenda import agenda_for
    from idle_harbor.formats.calendar.agenda import agenda_calendar

    found = read_checked(plan)
    with told():
        begin = first.date() if first else None
        moments = agenda_for(found, find_pool(found, pool), begin, days)
    click.echo(agenda_calendar(pool, moments), nl=False)


@main.command()
@PLAN
@click.argument("verb")
@click.argument("values", nargs=-1, metavar="[NAME=VALUE]...")
def edit(plan: Path, verb: str, values: tuple[str, ...]) -> None:
    """Do an edit to a plan file and print the plan; the file stays as it is.

    \b
    move-band schedule= day_type= band= to=    let a band begin at another time
    split-band schedule= day_type= at=         let another band alike begin there
    remove-band schedule= day_type= band=      take the band that begins then away
    begin-days schedule= at=                   let days begin at noon, say: nights in one piece
    add-target schedule= day_type=             have a band's floor ready when it begins
    remove-target schedule= day_type= at=      ask for nothing by that time
    add-load-rule schedule= day_type= band= signal=  a load rule, at work in that band
    set-signal schedule= rule= signal=         let a load rule go by another signal
    remove-load-rule schedule= rule=           take a load rule away
    give-date-rules schedule= date=            give a date rules of its own
    drop-date-rules schedule= date=            put it under the rules of its weekday
    add-part what= name=                       a pool, group, site, place, size, disk, image,
                                               profile, schedule, licence or event more
    copy-part what= part= name=                put a copy of one beside it
    name-part what= part= name=                call one otherwise; its id stays
    remove-part what= part=                    take one and what is about it alone away
    extend-size size= by=                      by burst, free, machine or committed
    offer-size size= place= there=             say whether a place has a size
    take-size pool= size= session_limit= hosts=  let a pool have hosts of a size
    set-class profile= user=                   fill a profile as of light, normal or heavy users
    confirm what=                              take a value off the list of assumed ones
    set-kind pool= kind=                       make a pool shared, lent or dedicated
    begin-plan people= zone= start= hours= vcpu= memory_gib= hourly= hosts= session_limit=
                                               say of an empty plan who comes, and onto what
    add-group name= kind= zone= people=        put named people or drop-ins into a plan
    add-break group= pattern=                  put a break into the longest stretch without one
    set-leaving group= pattern= way= share= pause=  ways of leaving; the others share the rest
    add-what-if name= first= attendance= growth= shift_minutes=  a week that differs
    """
    from idle_harbor.core.plan.edits import changed
    from idle_harbor.formats.plan.codec import edited, read_edit

    named = {**dict(each.partition("=")[::2] for each in values), "verb": verb}
    checked = read_checked(plan)
    with told():
        click.echo(_as_text(edited(changed(checked, read_edit(named)))))


@main.command()
@click.argument("name")
def export(name: str) -> None:
    """Print a stored plan (its name or number) as JSON."""
    from idle_harbor.launch.cluster import running_address
    from idle_harbor.store.database import Database, StoreError
    from idle_harbor.store.plans import Plans

    address = os.environ.get("DATABASE_URL") or running_address()
    if address is None:
        fail(
            ["no database is running here; start one with ./idle-harbor demo, or set DATABASE_URL"]
        )
    try:
        with Database(address) as database:
            document = Plans(database).find(name)
    except StoreError as error:
        fail([str(error)])
    if document is None:
        fail([f"there is no stored plan called '{name}'; see the list in the browser"])
    click.echo(_as_text(document))
