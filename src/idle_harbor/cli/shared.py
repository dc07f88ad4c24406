"""What every verb shares: the group they hang on, reading files, and how a fault is told."""

from __future__ import annotations

import sys
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn

import click

from idle_harbor.core.errors import HarborError, PlanError
from idle_harbor.processes import imports_done

if TYPE_CHECKING:
    from idle_harbor.core.figures.promise import Part
    from idle_harbor.core.plan import Plan

BAD_INPUT = 2


def _known(_: click.Context, __: click.Parameter, given: datetime | None) -> datetime | None:
    """A date of the years that are known."""
    from idle_harbor.core.plan.declare import EARLIEST, LATEST

    if given is not None and not EARLIEST <= given.date() <= LATEST:
        raise click.BadParameter(f"give a date from {EARLIEST} to {LATEST}")
    return given


FIRST = click.option(
    "--from",
    "first",
    type=click.DateTime(["%Y-%m-%d"]),
    callback=_known,
    help="The first day; the Monday of the plan's week otherwise.",
)
DAYS = click.option("--days", default=7, show_default=True, type=click.IntRange(1, 366))
PLAN = click.argument("plan", type=click.Path(path_type=Path))


def plain(text: str) -> str:
    """A text as one line that no terminal obeys: control characters are escaped."""
    from idle_harbor.core.plan.declare import ORDERS

    return ORDERS.sub(lambda found: ascii(found[0])[1:-1], text)


def fail(lines: list[str]) -> NoReturn:
    """Say what is wrong, a line each, and end with exit code 2."""
    for line in lines:
        click.echo("\n".join(map(plain, line.split("\n"))), err=True)
    sys.exit(BAD_INPUT)


@contextmanager
def told() -> Iterator[None]:
    """Run the work of a verb: an error of the core is printed in words, not as a traceback."""
    imports_done()
    try:
        yield
    except HarborError as error:
        fail([str(error)])


@contextmanager
def faults_of(path: Path | None) -> Iterator[None]:
    """Faults of a file are told a line each, with its name."""
    try:
        yield
    except PlanError as error:
        fail([f"{path}: {fault.line()}" for fault in error.faults])


def read_file(path: Path) -> bytes:
    """A file's bytes, or the end with why not."""
    try:
        return path.read_bytes()
    except OSError as error:
        fail([f"{path}: {error.strerror}"])


def read_checked(path: Path) -> Plan:
    """The plan of a file that can be, or the end with everything that is wrong with it."""
    from idle_harbor.formats.plan.codec import checked, parse_plan

    with faults_of(path):
        return checked(parse_plan(read_file(path)))


def part_text(part: Part, figure: Mapping[str, Any], none: str = "–") -> str:
    """A figure of the promise as text, from its mean and whether it has no bound."""
    if figure.get("unbounded"):
        return "no bound"
    if figure["mean"] is None:
        return none
    return f"{figure['mean']:,.0f} s" if part.timed else f"{figure['mean']:.2%}"


@click.group(invoke_without_command=True, context_settings={"help_option_names": ["-h", "--help"]})
@click.pass_context
def main(context: click.Context) -> None:
    """Idle Harbor plans pools of session hosts: who waits, why, and what the month costs."""
    if context.invoked_subcommand is None:
        click.echo(context.get_help())
