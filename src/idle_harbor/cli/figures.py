"""Simulated weeks and who comes, as figures. Imports are late so that quick verbs stay quick."""

from __future__ import annotations

import json
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from idle_harbor.cli.shared import (
    DAYS,
    FIRST,
    PLAN,
    fail,
    faults_of,
    main,
    part_text,
    read_checked,
    read_file,
    told,
)
from idle_harbor.core.money.words import money_text

if TYPE_CHECKING:
    from idle_harbor.core.figures.promise import Verdicts
    from idle_harbor.core.figures.targets import Met
    from idle_harbor.core.plan import Promise
    from idle_harbor.core.weeks.summary import Figures
    from idle_harbor.core.weeks.week import Outcome
    from idle_harbor.jobs.kinds.weeks import ManyWeeks


def _duration(values: dict[str, Any]) -> str:
    if values.get("unbounded"):
        return "without bound"
    return "–" if values["mean"] is None else f"{values['mean']:,.1f} s"


def _lost(returns: dict[str, Any]) -> str:
    """The share of lost returns, and how many were lost by what."""
    if returns["lost_share"]["mean"] is None:
        return "–"
    from idle_harbor.core.engine.kernel.codes import LostCause

    causes = [(cause.name.lower(), returns[cause.name.lower()]["mean"]) for cause in LostCause]
    by = ", ".join(f"{count:,.1f} {cause}" for cause, count in causes if count)
    return f"{returns['lost_share']['mean']:.2%}" + (f" ({by})" if by else "")


def _first(values: dict[str, Any]) -> str:
    """What those wait who come after an hour without anybody."""
    if values["mean"]["mean"] is None:
        return "–"
    mean, longest = values["mean"]["mean"] / 60, values["longest"]["mean"] / 60
    return f"{mean:,.1f} min, at most {longest:,.1f} ({values['people']['mean']:,.1f} people)"


def _forced(values: dict[str, Any]) -> str:
    share = values["forced_share"]["mean"]
    return "–" if share is None else f"{values['forced']['mean']:,.1f} ({share:.2%})"


def _print_figures(figures: Figures, currency: str, promise: Promise) -> None:
    from idle_harbor.formats.reports.figures import figures_values

    values = figures_values(figures)
    waits, hours = values["wait_seconds"], values["host_hours"]
    rows = [
        ("logons asked for", f"{values['arrivals']['mean']:,.1f}"),
        ("refused", f"{values['refused']['mean']:,.1f}"),
        ("wait, mean", _duration(waits["mean"])),
        ("first in a quiet hour", _first(values["first"])),
        ("lost returns", _lost(values["returns"])),
        ("signed off by force", _forced(values)),
        (
            "sessions, mean and peak",
            f"{values['sessions']['mean']['mean']:,.1f} and "
            f"{values['sessions']['peak']['mean']:,.1f}",
        ),
        ("behind a slow line", f"{values['behind_share']['mean']:.2%}"),
        ("hours at the baseline", f"{values['baseline_hours']['mean']:,.1f}"),
        ("host-hours billed", f"{hours['billed']['mean']:,.1f}"),
        ("ideal line", f"{hours['ideal']['mean']:,.1f}"),
        ("cost of a month", money_text(float(values["cost"]["month"]), currency, 2)),
    ]
    for name, value in rows:
        click.echo(f"{name:26}{value}")
    _print_verdicts(figures.against(promise))


def _json(pool: str, currency: str, figures: Figures) -> str:
    from idle_harbor.formats.reports.figures import figures_values

    values = {"pool": pool, "currency": currency, **figures_values(figures)}
    return json.dumps(values, indent=2)


def _print_verdicts(verdicts: Verdicts) -> None:
    """The promise, part by part."""
    from idle_harbor.core.figures.promise import PARTS
    from idle_harbor.formats.reports.figures import estimate_values

    click.echo("The promise")
    for part in PARTS:
        verdict = verdicts[part.field]
        figure = part_text(part, estimate_values(verdict.figure), part.nobody)
        limit = part_text(part, {"mean": verdict.limit})
        most = "at least" if part.least else "at most"
        said = "not promised"
        if verdict.limit is not None:
            said = f"{most} {limit}: {verdict.standing}"
        click.echo(f"  {part.title:28}{figure:>16}, {said}")


def _outcomes(asked: ManyWeeks, spells: Path | None) -> list[Outcome]:
    """Simulate the weeks, with the spells of a file if there is one."""
    from idle_harbor.core.weeks.week import weeks
    from idle_harbor.formats.tables.spells import read_spells
    from idle_harbor.jobs.kinds.weeks import RANGE

    if spells is None:
        return RANGE.all_at_once(asked)
    given = read_spells(read_file(spells), asked.case.horizon)
    return weeks(asked.case, range(1, asked.seeds + 1), given=given)


@main.command()
@PLAN
@click.option("--pool", required=True, help="The pool's id.")
@click.option("--seeds", default=8, show_default=True, type=click.IntRange(1, 1000))
@FIRST
@DAYS
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
    from idle_harbor.core.plan.lookup import promise_of
    from idle_harbor.core.weeks.summary import figures_of
    from idle_harbor.jobs.kinds.weeks import ManyWeeks

    checked = read_checked(plan)
    with told(), faults_of(spells):
        asked = ManyWeeks(checked, pool, seeds, first.date() if first else None, days)
        figures = figures_of(asked.case, _outcomes(asked, spells))
    if as_json:
        click.echo(_json(pool, checked.currency, figures))
    else:
        _print_figures(figures, checked.currency, promise_of(checked, pool))


@main.command()
@PLAN
@click.option("--pool", required=True, help="The pool's id.")
@click.option("--seeds", default=8, show_default=True, type=click.IntRange(1, 1000))
@FIRST
@DAYS
def targets(plan: Path, pool: str, seeds: int, first: datetime | None, days: int) -> None:
    """Say how often hosts were ready by their time, and how long the early ones stood idle."""
    from idle_harbor.runtime import prepare_engine

    prepare_engine()
    from idle_harbor.core.plan.declare import clock_text
    from idle_harbor.core.weeks.case import case_of, check_amount
    from idle_harbor.core.weeks.picture import met_in, targets_in
    from idle_harbor.core.weeks.week import week

    checked = read_checked(plan)
    with told():
        case = case_of(checked, pool, first=first.date() if first else None, days=days)
        check_amount(case, seeds)
        asked = targets_in(case)
        weeks = [met_in(case, week(case, seed, record=True), asked) for seed in range(1, seeds + 1)]
    found: dict[tuple[str, int, int], list[Met]] = {}
    for each in (met for week_met in weeks for met in week_met):
        found.setdefault((each.target.day_type, each.target.asks.at, each.hosts), []).append(each)
    for (day_type, at, hosts), met in sorted(found.items()):
        early, timely = sum(each.early for each in met), sum(each.in_time for each in met)
        idle = sum(each.idle_seconds for each in met) / early / 60 if early else 0.0
        click.echo(
            f"{day_type}: {hosts} hosts by {clock_text(at)}: in time {timely:,} of {len(met):,} "
            f"times; those started for it stood idle {idle:.1f} minutes before"
        )


@main.command()
@PLAN
@FIRST
@DAYS
@click.option("--seeds", default=40, show_default=True, type=click.IntRange(2, 1000))
@click.option("--zone", help="Whose days; the first site's otherwise.")
def people(plan: Path, first: datetime | None, days: int, seeds: int, zone: str | None) -> None:
    """Say who is at work at the peak of some days, and what several desktops add."""
    from idle_harbor.runtime import prepare_engine

    prepare_engine()
    from idle_harbor.core.calendar.clock import local_datetime, week_start, zone_exists
    from idle_harbor.core.checks.people import people_findings
    from idle_harbor.core.demand.crowd import affordable_seeds, crowd_horizon, crowd_of, weeks_over
    from idle_harbor.core.demand.desktops import doubles_of
    from idle_harbor.core.figures.intervals import estimate, percentile

    checked = read_checked(plan)
    where = zone or (checked.sites[0].time_zone if checked.sites else "UTC")
    if not zone_exists(where):
        fail([f"'{where}' is not a time zone that is known here; use a name such as Europe/Dublin"])
    begin = first.date() if first else week_start(checked.week_of)
    horizon = crowd_horizon(where, begin, days)
    with told():
        count = affordable_seeds(checked, horizon, seeds)
    peak = crowd_of(checked, horizon, 1).peak()
    peaks = weeks_over(checked, horizon, range(1, count + 1)).peaks
    mean, high = estimate(peaks), percentile(peaks, 0.95)
    doubles = doubles_of(checked, horizon, 1)
    rows = [
        ("peak of seed 1", f"{peak.people:,} people"),
        ("when", f"{local_datetime(where, peak.instant):%a %d %b %H:%M} {where}"),
        *((f"  {name}", f"{n:,}") for name, n in sorted(peak.makers.items(), key=lambda m: -m[1])),
        (f"mean peak of {count} seeds", f"{mean.mean:,.1f} ± {mean.half_width or 0:,.1f}"),
        ("95 % stay at or below", f"{high.value:,.0f} ({high.low:,.0f} to {high.high:,.0f})"),
        ("several desktops", f"{doubles.people:,} people"),
        ("  sessions they add", f"{doubles.added_sessions:,} at the peak"),
    ]
    for name, value in rows:
        click.echo(f"{name:28}{value}")
    for finding in people_findings(checked):
        click.echo(f"{finding.severity}: {finding.pointer}: {finding.message}; {finding.mend}")
