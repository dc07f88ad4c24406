"""Starting, testing and measuring the application. Imports are late so that verbs stay quick."""

from __future__ import annotations

import sys
from pathlib import Path

import click

from idle_harbor.cli.shared import fail, main
from idle_harbor.processes import imports_done

#: What machines beyond loopback go by.
_KEY = click.option("--key", default="", help="The file of the key that all machines share.")


@main.command()
@click.option("--port", type=click.IntRange(1, 65535), help="The port to listen on.")
@click.option(
    "--workers",
    type=click.IntRange(0, 64),
    help="Processes for long work; otherwise one for each processor but one.",
)
@click.option(
    "--servers",
    default=1,
    show_default=True,
    type=click.IntRange(1, 16),
    help="Web server processes that share the port.",
)
def demo(port: int | None, workers: int | None, servers: int) -> None:
    """Start Idle Harbor with its demo data and print the address."""
    from idle_harbor.launch.start import start
    from idle_harbor.launch.tools import LaunchError

    try:
        start(port, workers, servers)
    except LaunchError as error:
        fail([str(error)])


@main.command()
@click.option("--number", default=1, show_default=True, type=click.IntRange(1, 64))
@click.option("--machines", default="", help="Have parts worked out by a scheduler's machines.")
@_KEY
def worker(number: int, machines: str, key: str) -> None:
    """Help with long work, for the database that DATABASE_URL names; on any machine."""
    from idle_harbor.launch.start import compile_engine, work_alone
    from idle_harbor.launch.tools import LaunchError

    try:
        compile_engine()
        work_alone(number, machines, key)
    except LaunchError as error:
        fail([str(error)])


@main.command()
@click.option("--host", default="127.0.0.1", show_default=True, help="The address to listen on.")
@click.option("--port", default=8786, show_default=True, type=click.IntRange(1, 65535))
@_KEY
def dispatch(host: str, port: int, key: str) -> None:
    """Deal out parts of long work to machines that say where this is (see compute)."""
    from idle_harbor.launch.machines import dispatch_at
    from idle_harbor.launch.tools import LaunchError

    try:
        dispatch_at(host, port, key)
    except LaunchError as error:
        fail([str(error)])


@main.command()
@click.argument("scheduler")
@click.option("--number", default=1, show_default=True, type=click.IntRange(1, 256))
@click.option("--host", default="", help="The address of this machine, as the others reach it.")
@_KEY
def compute(scheduler: str, number: int, host: str, key: str) -> None:
    """Work out parts of long work in so many processes, for a SCHEDULER (tls://host:port, or
    tcp:// on loopback)."""
    from idle_harbor.launch.machines import check_scheduler, compute_for
    from idle_harbor.launch.start import compile_engine
    from idle_harbor.launch.tools import LaunchError

    try:
        check_scheduler(scheduler, key)
        compile_engine()
        compute_for(scheduler, number, host, key)
    except LaunchError as error:
        fail([str(error)])


@main.command("key")
@click.argument("file", type=click.Path(path_type=Path))
def new_key(file: Path) -> None:
    """Make the key that machines of one estate share: whoever has this FILE may join them."""
    from idle_harbor.launch.machines import make_key
    from idle_harbor.launch.tools import LaunchError

    try:
        make_key(file)
    except LaunchError as error:
        fail([str(error)])
    click.echo(f"{file} is written; take it to every machine, and let nobody else read it")


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


@main.command(context_settings={"ignore_unknown_options": True})
@click.option("--quick", is_flag=True, help="What an edit needs, within three minutes.")
@click.option("--long", is_flag=True, help="Larger studies and more drawn cases, for a night.")
@click.argument("arguments", nargs=-1, type=click.UNPROCESSED)
def test(quick: bool, long: bool, arguments: tuple[str, ...]) -> None:
    """Run every check and test with servers of their own; with ARGUMENTS pytest alone."""
    if quick and (long or arguments):
        fail(["--quick goes neither with --long nor with names of tests"])
    from idle_harbor.launch.checks import run_checks
    from idle_harbor.launch.tools import LaunchError

    try:
        sys.exit(run_checks(arguments, "quick" if quick else "long" if long else "usual"))
    except LaunchError as error:
        fail([str(error)])


@main.command()
def bench() -> None:
    """Print the benchmark table."""
    import runpy

    from idle_harbor.launch.start import compile_engine
    from idle_harbor.runtime import CHECKOUT

    compile_engine()
    imports_done()
    sys.path.insert(0, str(CHECKOUT))
    runpy.run_module("benchmarks.table", run_name="__main__")


@main.command()
def compile() -> None:
    """Compile the engine, or find it compiled (done by the verbs that need it)."""
    from idle_harbor.runtime import prepare_engine

    prepare_engine()
    import idle_harbor.core.weeks.week  # noqa: F401  (declares every function that is compiled)
    from idle_harbor.core.base.compiled import entries_ready

    entries_ready()
