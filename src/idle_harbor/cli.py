"""The same use cases without a browser. Imports are late so that quick verbs stay quick."""

from __future__ import annotations

import json
import os
import sys
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn

import click

from idle_harbor.core.errors import HarborError, PlanError

if TYPE_CHECKING:
    from idle_harbor.core.plan import Plan

BAD_INPUT = 2


def _fail(lines: list[str]) -> NoReturn:
    for line in lines:
        click.echo(line, err=True)
    sys.exit(BAD_INPUT)


def _read(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError as error:
        _fail([f"{path}: {error.strerror}"])


def _plan(path: Path) -> Plan:
    from idle_harbor.formats.plan.codec import checked, parse_plan

    try:
        return checked(parse_plan(_read(path)))
    except PlanError as error:
        _fail([f"{path}: {fault.line()}" for fault in error.faults])


@click.group(invoke_without_command=True, context_settings={"help_option_names": ["-h", "--help"]})
@click.pass_context
def main(context: click.Context) -> None:
    """Idle Harbor plans pools of session hosts: who waits, why, and what the month costs."""
    if context.invoked_subcommand is None:
        click.echo(context.get_help())


@main.command()
@click.argument("plan", type=click.Path(path_type=Path))
def validate(plan: Path) -> None:
    """Check a plan file; one line per fault, exit code 2 where there is one."""
    checked = _plan(plan)
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


def _duration(values: dict[str, Any]) -> str:
    if values.get("unbounded"):
        return "without bound"
    return "–" if values["mean"] is None else f"{values['mean']:,.1f} s"


def _print_figures(values: dict[str, Any], currency: str) -> None:
    waits, hours = values["wait_seconds"], values["host_hours"]
    rows = [
        ("logons asked for", f"{values['arrivals']['mean']:,.1f}"),
        ("refused", f"{values['refused']['mean']:,.1f}"),
        ("wait, mean", _duration(waits["mean"])),
        ("wait, 95th percentile", _duration(waits["p95"])),
        ("sessions, mean and peak", f"{values['sessions']['mean']['mean']:,.1f} and "
         f"{values['sessions']['peak']['mean']:,.1f}"),
        ("strained share", f"{values['strained_share']['mean']:.2%}"),
        ("behind a slow line", f"{values['behind_share']['mean']:.2%}"),
        ("hours at the baseline", f"{values['baseline_hours']['mean']:,.1f}"),
        ("host-hours billed", f"{hours['billed']['mean']:,.1f}"),
        ("ideal line", f"{hours['ideal']['mean']:,.1f}"),
        ("cost of a month", f"{values['cost']['month']} {currency}"),
    ]  # fmt: skip
    for name, value in rows:
        click.echo(f"{name:26}{value}")


@main.command()
@click.argument("plan", type=click.Path(path_type=Path))
@click.option("--pool", required=True, help="The pool's id.")
@click.option("--seeds", default=8, show_default=True, type=click.IntRange(1, 1000))
@click.option(
    "--from",
    "first",
    type=click.DateTime(["%Y-%m-%d"]),
    help="The first day; the Monday of the plan's week otherwise.",
)
@click.option("--days", default=7, show_default=True, type=click.IntRange(1, 366))
@click.option("--json", "as_json", is_flag=True, help="Print one JSON object.")
@click.option(
    "--spells",
    type=click.Path(path_type=Path),
    help="Replay these spells (CSV: person, start, end, leaving) instead of drawing them.",
)
def simulate(
    plan: Path,
    pool: str,
    seeds: int,
    first: datetime | None,
    days: int,
    as_json: bool,
    spells: Path | None,
) -> None:
    """Simulate a pool over days: waits, host-hours and cost, with 95 % intervals over seeds."""
    from idle_harbor.runtime import prepare_engine

    prepare_engine()
    from idle_harbor.core.weeks import case_of
    from idle_harbor.core.weeks import simulate as run
    from idle_harbor.formats.figures_json import figures_values
    from idle_harbor.formats.spells_csv import read_spells

    checked = _plan(plan)
    begin = first.date() if first else None
    try:
        given = None
        if spells is not None:
            horizon = case_of(checked, pool, first=begin, days=days).horizon
            given = read_spells(_read(spells), horizon)
        results = run(checked, pool, seeds, first=begin, days=days, given=given)
        figures = figures_values(results)
    except PlanError as error:
        _fail([f"{spells}: {fault.line()}" for fault in error.faults])
    except HarborError as error:
        _fail([str(error)])
    if as_json:
        click.echo(json.dumps({"pool": pool, "currency": checked.currency, **figures}, indent=2))
    else:
        _print_figures(figures, checked.currency)


@main.command()
@click.argument("plan", type=click.Path(path_type=Path))
@click.option(
    "--from",
    "first",
    type=click.DateTime(["%Y-%m-%d"]),
    help="The first day; the Monday of the plan's week otherwise.",
)
@click.option("--days", default=7, show_default=True, type=click.IntRange(1, 366))
@click.option("--seeds", default=40, show_default=True, type=click.IntRange(2, 1000))
@click.option("--zone", help="Whose days; the first site's otherwise.")
def people(plan: Path, first: datetime | None, days: int, seeds: int, zone: str | None) -> None:
    """Say who is at work at the peak of some days, and what several desktops add."""
    from idle_harbor.runtime import prepare_engine

    prepare_engine()
    from idle_harbor.core.calendar.clock import local_datetime, week_start, zone_exists
    from idle_harbor.core.checks.people import people_findings
    from idle_harbor.core.demand.crowd import affordable_seeds, crowd_horizon, crowd_of, peaks_over
    from idle_harbor.core.demand.desktops import doubles_of
    from idle_harbor.core.figures.intervals import estimate, percentile

    checked = _plan(plan)
    where = zone or (checked.sites[0].time_zone if checked.sites else "UTC")
    if not zone_exists(where):
        _fail(
            [f"'{where}' is not a time zone that is known here; use a name such as Europe/Dublin"]
        )
    begin = first.date() if first else week_start(checked.week_of)
    horizon = crowd_horizon(where, begin, days)
    try:
        count = affordable_seeds(checked, horizon, seeds)
    except HarborError as error:
        _fail([str(error)])
    peak = crowd_of(checked, horizon, 1).peak()
    peaks = peaks_over(checked, horizon, range(1, count + 1))
    mean, high = estimate(peaks), percentile(peaks, 0.95)
    told = doubles_of(checked, horizon, 1)
    rows = [
        ("peak of seed 1", f"{peak.people:,} people"),
        ("when", f"{local_datetime(where, peak.instant):%a %d %b %H:%M} {where}"),
        *((f"  {name}", f"{n:,}") for name, n in sorted(peak.makers.items(), key=lambda m: -m[1])),
        (f"mean peak of {count} seeds", f"{mean.mean:,.1f} ± {mean.half_width or 0:,.1f}"),
        ("19 of 20 stay at or below", f"{high.value:,.0f} ({high.low:,.0f} to {high.high:,.0f})"),
        ("several desktops", f"{told.people:,} people"),
        ("  sessions they add", f"{told.added_sessions:,} at the peak"),
    ]
    for name, value in rows:
        click.echo(f"{name:28}{value}")
    for finding in people_findings(checked):
        click.echo(f"{finding.severity}: {finding.pointer}: {finding.message}; {finding.mend}")


@main.command()
@click.argument("plan", type=click.Path(path_type=Path))
@click.option("--pool", required=True, help="The pool's id.")
@click.option("--spare", default=0, show_default=True, type=click.IntRange(0, 1000))
@click.option("--lose-zone", is_flag=True, help="Have enough when one zone is lost.")
def sizing(plan: Path, pool: str, spare: int, lose_zone: bool) -> None:
    """Say of every host size how many sessions it bears, and the hosts for the peak."""
    from idle_harbor.runtime import prepare_engine

    prepare_engine()
    from idle_harbor.core.lookup import find_pool
    from idle_harbor.core.sizing.hosts import Wish, check_sizing, sizing_of

    checked = _plan(plan)
    wish = Wish(spare=spare, lose_zone=lose_zone)
    try:
        found = find_pool(checked, pool)
        check_sizing(checked, found, wish)
        told = sizing_of(checked, found, wish)
    except HarborError as error:
        _fail([str(error)])
    click.echo(f"{told.crest.peak.value:,.0f} sessions at once in 19 of 20 weeks; the hosts hold "
               f"{told.holds:,}")  # fmt: skip
    click.echo(f"{'size':14}{'bears':>8}  {'binds':10}{'limit':>7}{'hosts':>8}{'session-hour':>15}")
    for view in told.sizes:
        price = "–" if view.per_session_hour is None else f"{view.per_session_hour:.4f}"
        hosts = view.hosts[min(view.limit, len(view.hosts)) - 1]
        click.echo(f"{view.size.id:14}{view.density.sessions:>8}  {view.density.binding:10}"
                   f"{view.limit:>7}{hosts:>8}{price:>15}  {view.missing}".rstrip())  # fmt: skip


@main.command()
@click.argument("plan", type=click.Path(path_type=Path))
def checks(plan: Path) -> None:
    """Say what would make a build or a morning fail; exit code 1 where something would."""
    from idle_harbor.runtime import prepare_engine

    prepare_engine()
    from idle_harbor.core.checks import findings_of
    from idle_harbor.core.sizing.hosts import Wish, check_sizing

    checked = _plan(plan)
    try:
        for pool in checked.pools:
            check_sizing(checked, pool, Wish())
    except HarborError as error:
        _fail([str(error)])
    found = [each.finding for each in findings_of(checked)]
    for finding in found:
        click.echo(f"{finding.severity}: {finding.pointer}: {finding.message}; {finding.matters}; "
                   f"{finding.mend}")  # fmt: skip
    sys.exit(1 if any(finding.severity == "harm" for finding in found) else 0)


@main.command()
@click.argument("plan", type=click.Path(path_type=Path))
@click.option("--format", "form", default="csv", show_default=True,
              type=click.Choice(["csv", "json"]))  # fmt: skip
def prices(plan: Path, form: str) -> None:
    """Print a plan's price sheet, to be changed elsewhere and brought in again."""
    from idle_harbor.formats.plan.codec import parse_plan
    from idle_harbor.formats.price_sheet import sheet_csv, sheet_json, sheet_of

    try:
        sheet = sheet_of(parse_plan(_read(plan)))
    except PlanError as error:
        _fail([f"{plan}: {fault.line()}" for fault in error.faults])
    click.echo(sheet_csv(sheet) if form == "csv" else sheet_json(sheet), nl=False)


@main.command()
@click.option(
    "--format",
    "form",
    default="ldif",
    show_default=True,
    type=click.Choice(["csv", "ldif", "scim"]),
)
@click.option(
    "--day",
    default=0,
    show_default=True,
    type=click.IntRange(0, 60),
    help="As of which day: people join and leave.",
)
def directory(form: str, day: int) -> None:
    """Print the simulated directory of the demo, to try an import with."""
    from idle_harbor.demo.directory import demo_directory

    held = demo_directory()
    printed = {"csv": held.as_csv, "ldif": held.as_ldif, "scim": held.as_scim}[form](day)
    click.echo(printed.decode(), nl=False)


@main.command()
@click.argument("name")
def export(name: str) -> None:
    """Print a stored plan (its name or number) as JSON."""
    from idle_harbor.launch.cluster import running_address
    from idle_harbor.store.database import Database, StoreError

    address = os.environ.get("DATABASE_URL") or running_address()
    if address is None:
        _fail(["no database is running here; start one with ./idle-harbor demo, "
               "or set DATABASE_URL"])  # fmt: skip
    try:
        with Database(address) as database:
            document = database.find_document(name)
    except StoreError as error:
        _fail([str(error)])
    if document is None:
        _fail([f"there is no stored plan called '{name}'; see the list in the browser"])
    click.echo(json.dumps(document, indent=2, ensure_ascii=False))


@main.command()
@click.option("--port", type=click.IntRange(1, 65535), help="The port to listen on.")
def demo(port: int | None) -> None:
    """Start Idle Harbor with its demo data and print the address."""
    from idle_harbor.launch.start import LaunchError, start

    try:
        start(port)
    except LaunchError as error:
        _fail([str(error)])


@main.command()
@click.argument("arguments", nargs=-1, type=click.UNPROCESSED)
def test(arguments: tuple[str, ...]) -> None:
    """Run every check and test with servers of their own."""
    from idle_harbor.launch.checks import run_checks
    from idle_harbor.launch.start import LaunchError

    try:
        sys.exit(run_checks(arguments))
    except LaunchError as error:
        _fail([str(error)])


@main.command()
def bench() -> None:
    """Print the benchmark table."""
    import runpy

    from idle_harbor.launch.start import compile_engine
    from idle_harbor.runtime import CHECKOUT

    compile_engine()
    sys.path.insert(0, str(CHECKOUT))
    runpy.run_module("benchmarks.table", run_name="__main__")


@main.command()
def compile() -> None:
    """Compile the engine, or find it compiled (done by the verbs that need it)."""
    from idle_harbor.runtime import prepare_engine

    prepare_engine()
    import idle_harbor.core.weeks  # noqa: F401  (importing it compiles)


if __name__ == "__main__":
    main(prog_name="./idle-harbor")
