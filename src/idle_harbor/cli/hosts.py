"""Sizing, checks and prices. Imports are late so that quick verbs stay quick."""

from __future__ import annotations

import sys
from pathlib import Path

import click

from idle_harbor.cli.shared import PLAN, faults_of, main, read_checked, read_file, told


@main.command()
@PLAN
@click.option("--pool", required=True, help="The pool's id.")
@click.option("--spare", default=0, show_default=True, type=click.IntRange(0, 1000))
@click.option("--lose-zone", is_flag=True, help="Have enough when one zone is lost.")
def sizing(plan: Path, pool: str, spare: int, lose_zone: bool) -> None:
    """Say of every host size how many sessions it bears, and the hosts for the peak."""
    from idle_harbor.runtime import prepare_engine

    prepare_engine()
    from idle_harbor.core.sizing.hosts import size_pool
    from idle_harbor.core.sizing.peak import Wish

    checked = read_checked(plan)
    wish = Wish(spare=spare, lose_zone=lose_zone)
    with told():
        picture = size_pool(checked, pool, wish)
    click.echo(
        f"{picture.crest.peak.value:,.0f} sessions at once in 95 % of weeks; "
        f"the hosts hold {picture.holds:,}"
    )
    click.echo(f"{'size':14}{'bears':>8}  {'binds':10}{'limit':>7}{'hosts':>8}{'session-hour':>15}")
    for view in picture.sizes:
        price = "–" if view.per_session_hour is None else f"{view.per_session_hour:.4f}"
        hosts = view.hosts[min(view.limit, len(view.hosts)) - 1]
        click.echo(
            f"{view.size.id:14}{view.density.sessions:>8}  {view.density.binding:10}"
            f"{view.limit:>7}{hosts:>8}{price:>15}  {view.missing}".rstrip()
        )


@main.command()
@PLAN
def checks(plan: Path) -> None:
    """Say what would make a build or a morning fail; exit code 1 where something would."""
    from idle_harbor.runtime import prepare_engine

    prepare_engine()
    from idle_harbor.core.sizing.peak import Wish, check_sizing
    from idle_harbor.jobs.kinds.checks import CHECKS, checked_in

    checked = read_checked(plan)
    with told():
        for pool in checked.pools:
            check_sizing(checked, pool, Wish())
    found = [each.finding for each in checked_in(CHECKS.all_at_once(checked))]
    for finding in found:
        click.echo(
            f"{finding.severity}: {finding.pointer}: {finding.message}; {finding.matters}; "
            f"{finding.mend}"
        )
    sys.exit(1 if any(finding.severity == "harm" for finding in found) else 0)


@main.command()
@PLAN
@click.option(
    "--format", "form", default="csv", show_default=True, type=click.Choice(["csv", "json"])
)
def prices(plan: Path, form: str) -> None:
    """Print a plan's price sheet, to be changed elsewhere and brought in again."""
    from idle_harbor.formats.plan.codec import parse_plan
    from idle_harbor.formats.tables.price_sheet import sheet_csv, sheet_json, sheet_of

    with faults_of(plan):
        sheet = sheet_of(parse_plan(read_file(plan)))
    click.echo(sheet_csv(sheet) if form == "csv" else sheet_json(sheet), nl=False)
