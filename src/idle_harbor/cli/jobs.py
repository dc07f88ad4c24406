"""Long work from the command line. Imports are late so that quick verbs stay quick."""

from __future__ import annotations

import json
import os
import time
from pathlib import Path

import click

from idle_harbor.cli.shared import PLAN, fail, main, plain, read_checked, told


def _address() -> str:
    """The database's address: that of DATABASE_URL, or of the demo that runs."""
    given = os.environ.get("DATABASE_URL")
    if given:
        return given
    from idle_harbor.launch.cluster import Cluster

    cluster = Cluster()
    if not cluster.running():
        fail(["no database is running; start the demo, or set DATABASE_URL"])
    return cluster.start()


@main.command()
@click.option("--stop", type=int, help="End the job of that number.")
@click.option("--again", type=int, help="Have one that was stopped or has failed go on.")
@click.option("--result", type=int, help="Print what a job has done, as JSON.")
def jobs(stop: int | None, again: int | None, result: int | None) -> None:
    """List the long work that runs, waits or has ended; or stop some, or have it go on."""
    from idle_harbor.store.database import Database, StoreError
    from idle_harbor.store.jobs import Jobs

    try:
        with Database(_address()) as database:
            held = Jobs(database)
            for number in (stop, again, result):
                if number is not None:
                    held.job(number)
            if result is not None:
                parts = [{"part": row["part"], "is": row["body"]} for row in held.parts(result)]
                told = {**held.result(result), "parts": parts}
                click.echo(json.dumps(told, indent=2))
                return
            if stop is not None:
                held.end(stop, "stopped")
            if again is not None:
                from idle_harbor.jobs.queue import again as go_on

                go_on(database, again)
            workers = held.workers()
            click.echo(f"{workers} {'worker' if workers == 1 else 'workers'} at hand", err=True)
            for row in held.jobs():
                how = plain(f"  ({row['problem']})") if row["problem"] else ""
                click.echo(
                    f"{row['id']:6}  {row['state']:8}{row['done']:6,} of {row['parts']:6,}  "
                    f"{plain(row['title'])}{how}"
                )
    except StoreError as error:
        fail([str(error)])


@main.command()
@PLAN
@click.option("--pool", required=True, help="The pool's id.")
@click.option("--year", required=True, type=click.IntRange(1972, 2198))
def year(plan: Path, pool: str, year: int) -> None:
    """Simulate every week of a pool's year: peaks, waits, idle hosts, and what they cost."""
    from idle_harbor.runtime import prepare_engine

    prepare_engine()
    from idle_harbor.jobs.kinds.year import YEAR, PoolYear

    checked = read_checked(plan)
    click.echo("week of      sessions  waiting      95 % wait     idle       month  promise")
    begun = time.monotonic()
    with told():
        for _, week in YEAR.at_once(PoolYear(checked, pool, year)):
            wait = "–" if week.wait_p95 is None else f"{week.wait_p95:,.0f} s"
            wait = "without bound" if week.unbounded else wait
            click.echo(
                f"{week.first}  {week.sessions:9,.0f}{week.waiting:9,.0f}{wait:>15}"
                f"{week.idle_share:9.0%}{float(week.month):12,.0f}  "
                f"{'kept' if week.kept else 'broken'}"
            )
    click.echo(f"in {time.monotonic() - begun:.1f} s", err=True)
