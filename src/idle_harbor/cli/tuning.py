"""The search for the best settings of a pool, without a browser and without a database."""

from __future__ import annotations

import json
import math
import os
import time
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from idle_harbor.cli.shared import PLAN, main, part_text, read_checked, told
from idle_harbor.core.money.words import money_text

if TYPE_CHECKING:
    from collections.abc import Sequence

    from idle_harbor.core.figures.promise import Part
    from idle_harbor.core.plan import Plan
    from idle_harbor.core.tuner import Answer, Question, Study

_MOST_WEIGHT = 1_000
#: Columns for the name of a point.
_NAME = 26
_PRESETS = {
    "schedule": ["schedule"],
    "schedule and timeouts": ["schedule", "timeouts"],
    "timeouts and all rules": [
        *("schedule", "timeouts", "shares", "lids", "drain steps", "load rules"),
    ],
}


def _promised(plan: Any, pool: str, wishes: tuple[str, ...]) -> Any:
    """The plan with a promise of the pool's own, from NAME=NUMBER."""
    from dataclasses import fields, replace

    from idle_harbor.core.plan import OwnPromise
    from idle_harbor.core.plan.lookup import find_pool

    before = find_pool(plan, pool)
    own = before.promise or OwnPromise()
    names = [each.name for each in fields(OwnPromise)]
    for wish in wishes:
        name, _, number = wish.partition("=")
        if name not in names:
            raise click.BadParameter(
                f"give NAME=NUMBER, of {', '.join(names)}", param_hint="'--promise'"
            )
        given: dict[str, Any] = {name: _limit(name, number)}
        own = replace(own, **given)
    after = replace(before, promise=own)
    return replace(plan, pools=tuple(after if each is before else each for each in plan.pools))


def _limit(name: str, text: str) -> float:
    """A limit of the promise, from its text."""
    from idle_harbor.core.plan.table import by_path

    field = by_path()[f"promise.{name}"]
    low, high = field.about.low, field.about.high
    assert low is not None and high is not None
    kind = "a whole number" if field.whole else "a number"
    try:
        value = int(text) if field.whole else float(text)
    except ValueError:
        value = math.nan
    if not low <= value <= high:
        raise click.BadParameter(
            f"{name} takes {kind} from {low:g} to {high:g}, not '{text}'", param_hint="'--promise'"
        )
    return value


def _finite(_: click.Context, __: click.Parameter, given: float | None) -> float | None:
    if given is not None and not math.isfinite(given):
        raise click.BadParameter("give a number")
    return given


def _writable(_: click.Context, __: click.Parameter, given: Path | None) -> Path | None:
    """A file in a folder that is there: found out before the search, not after it."""
    if given is not None and not given.parent.is_dir():
        raise click.BadParameter(f"there is no folder {given.parent}")
    if given is not None and not os.access(given if given.exists() else given.parent, os.W_OK):
        raise click.BadParameter(f"{given} cannot be written")
    return given


def _felt(points: Sequence[dict[str, Any]]) -> list[Part]:
    """The parts of the promise that concern anybody in some point."""
    from idle_harbor.core.figures.promise import PARTS

    def felt(figure: dict[str, Any]) -> bool:
        return figure["mean"] is not None or bool(figure.get("unbounded"))

    return [p for p in PARTS if any(felt(point["promised"][p.field]) for point in points)]


def _line(point: dict[str, Any], parts: Sequence[Part], currency: str) -> str:
    told = "".join(
        f"{part_text(part, point['promised'][part.field]):>{_wide(part)}}" for part in parts
    )
    return (
        f"{point['name'] or '·':{_NAME}}{money_text(point['money']['mean'], currency):>12}{told}"
        f"  {point['standing']}"
    )


def _wide(part: Part) -> int:
    """Columns of a part of the promise."""
    return max(len(part.head) + 2, 9)


def _print_answer(values: dict[str, Any], currency: str) -> None:
    click.echo(values["verdict"])
    names = ("over_the_year", "worse_off", "leaves", "next_second", "next_limit", "cheaper")
    told = [values[name] for name in names]
    for sentence in filter(None, told):
        click.echo(sentence)
    if values["early"]:
        click.echo("The study was ended before its budget: more weeks might have found more.")
    click.echo(f"{values['candidates']:,} candidates tried over {values['weeks']:,} weeks.\n")
    rows = [values["current"], *values["rules"], *values["front"]]
    parts = _felt(rows)
    heads = "".join(f"{part.head.lower():>{_wide(part)}}" for part in parts)
    click.echo(f"{'':{_NAME}}{'a month':>12}{heads}  promise")
    for point in rows:
        click.echo(_line(point, parts, currency))
    if values["tuned"]:
        click.echo(_line(values["tuned"], parts, currency) + ", on weeks of its own")
    ideal = money_text(values["ideal"], currency)
    click.echo(f"{'ideal line':{_NAME}}{ideal:>12}, below which nobody can go")
    _print_year(values["year"], currency)
    explained = values["explained"]
    if explained is None:
        return
    click.echo("\nFrom the plan of today to the tuned one:")
    for number, step in enumerate(explained["steps"], 1):
        click.echo(f"{number:3}. {step['change']}.")
        alone = step["alone_saves"]
        way = "more" if alone > 0 else "less"
        click.echo(
            f"     {step['text']} Without it alone: {money_text(abs(alone), currency)} {way}"
            f"{'' if step['alone_keeps'] else ', and the promise breaks'}."
        )
    total = sum(step["saves"] for step in explained["steps"])
    click.echo(
        f"     Together {money_text(total, currency)} a month: "
        f"{money_text(explained['before'], currency)} before, "
        f"{money_text(explained['after'], currency)} after."
    )


def _print_year(rows: list[dict[str, Any]], currency: str) -> None:
    """The kinds of week of the year, today's plan beside the tuned one."""
    if not rows:
        return
    click.echo(f"\n{'kind of week':28}{'Monday':12}{'today':>26}{'tuned':>26}")
    for row in rows:
        each = "".join(
            f"{money_text(row[plan]['money']['mean'], currency):>16}, {row[plan]['standing']:<8}"
            for plan in ("today", "tuned")
        )
        click.echo(f"{row['week']['name'][:27]:28}{row['week']['monday']:12}{each}")


def _counted(plan: Plan, pool: str, names: tuple[str, ...]) -> Any:
    """The kinds of week and conditions of a pool that were named, each NAME or NAME=WEIGHT."""
    from dataclasses import replace

    from idle_harbor.core.tuner.weeks.kinds import weeks_to_choose

    known = {week.name: week for week, _ in weeks_to_choose(plan, pool)}
    found = []
    for each in names:
        name, _, weight = each.partition("=")
        if name not in known:
            raise click.BadParameter(
                f"{pool} has no week called '{name}'; name one of {', '.join(known)}",
                param_hint="'--week'",
            )
        found.append(replace(known[name], weight=_weight(weight, known[name].weight)))
    return tuple(found)


def _weight(text: str, usual: float) -> float:
    try:
        weight = float(text) if text else usual
    except ValueError:
        weight = math.nan
    if not 0.0 <= weight <= _MOST_WEIGHT:
        raise click.BadParameter(
            f"a week comes 0 to {_MOST_WEIGHT:,} times, not '{text}'", param_hint="'--week'"
        )
    return weight


def _print_together(values: dict[str, Any], currency: str) -> None:
    chosen, today = values["chosen"], values["today"]
    if chosen is None:
        least = money_text(values["least"], currency)
        click.echo(f"Keeping every promise costs {least} a month at least.")
        return
    click.echo(
        f"{money_text(chosen['money'], currency)} a month for all pools instead of "
        f"{money_text(today['money'], currency)}, {chosen['spoiled']:,.0f} hours of work spoiled "
        f"instead of {today['spoiled']:,.0f}."
    )
    if values["unkept"]:
        click.echo(f"Nothing was found that keeps the promise of {', '.join(values['unkept'])}.")
    click.echo(f"\n{'':16}{'today':>14}{'then':>14}{'spoiled':>12}{'then':>10}")
    for pool, place in zip(values["pools"], chosen["places"], strict=True):
        now, then = pool["options"][0], pool["options"][place]
        click.echo(
            f"{pool['pool']:16}{money_text(now['money'], currency):>14}"
            f"{money_text(then['money'], currency):>14}"
            f"{now['spoiled']:>10,.0f} h{then['spoiled']:>8,.0f} h"
            f"  {'kept' if then['keeps'] else 'not for sure'}"
        )
    more, less = values["more"], values["less"]
    click.echo(f"\nThe next {money_text(more['amount'], currency)}: {more['text']}")
    click.echo(f"To save {money_text(less['amount'], currency)}: {less['text']}")


@main.command()
@PLAN
@click.option("--pool", help="The pool's id.")
@click.option("--all", "every", is_flag=True, help="All pools, each by itself, then together.")
@click.option(
    "--budget",
    type=click.FloatRange(0),
    callback=_finite,
    help="Money a month for all pools, with --all.",
)
@click.option(
    "--promise",
    multiple=True,
    metavar="NAME=NUMBER",
    help="What the pool's people are owed, in place of the plan's promise.",
)
@click.option(
    "--free",
    default="schedule,timeouts",
    show_default=True,
    help="What may change: schedule, timeouts, limit, hosts, size, place, starts, shares, lids, "
    "drain steps, load rules; 'timeouts and all rules' of the schedule; or everything.",
)
@click.option("--lock", multiple=True, metavar="FIELD", help="A field that stays as it is.")
@click.option(
    "--within", multiple=True, metavar="FIELD=LOW..HIGH", help="Bounds of a field, in its own unit."
)
@click.option(
    "--axis",
    default="",
    help="The part of the promise that is weighed against money; else what trades most.",
)
@click.option(
    "--week",
    multiple=True,
    metavar="NAME[=WEIGHT]",
    help="A kind of week that counts, and how often; else the study looks through the year.",
)
@click.option(
    "--with",
    "together",
    multiple=True,
    metavar="POOL",
    help="Another pool that shares the schedule and is tuned with it.",
)
@click.option(
    "--weeks",
    default=2_000,
    show_default=True,
    type=click.IntRange(1, 1_000_000),
    help="How many weeks of candidates to simulate.",
)
@click.option(
    "--seconds",
    type=click.IntRange(1, 86_400),
    help="End it early after so long, all pools together.",
)
@click.option(
    "--seed",
    default=1,
    show_default=True,
    type=click.IntRange(0, 2**31),
    help="Number of the search.",
)
@click.option(
    "--output",
    type=click.Path(path_type=Path, dir_okay=False),
    callback=_writable,
    help="Write the tuned plan here.",
)
@click.option("--json", "as_json", is_flag=True, help="Print one JSON object.")
def tune(plan: Path, **given: Any) -> None:
    """Find the settings of a pool that keep its promise at the least cost."""
    asked = _Asked(**given)
    if asked.every == (asked.pool is not None):
        raise click.UsageError("name a --pool, or ask for --all")
    if asked.every and asked.together:
        raise click.UsageError("pools tuned together with --with need a --pool, not --all")
    from idle_harbor.runtime import prepare_engine

    prepare_engine()
    from idle_harbor.core.tuner.designs.design import in_plan
    from idle_harbor.formats.plan.codec import checked, plan_of, to_values
    from idle_harbor.formats.reports.studies import answer_values
    from idle_harbor.formats.reports.together import together_values, with_chosen

    with told():
        whole = read_checked(plan)
        pools = _all_pools(whole) if asked.pool is None else [asked.pool]
        if asked.promise:
            for name in pools:
                whole = checked(_promised(whole, name, asked.promise))
        answers, tuned = [], whole
        for question in [_question(whole, name, len(pools), asked) for name in pools]:
            if asked.every:
                click.echo(question.pool, err=True)
            answer = _searched(whole, question)
            answers.append((question.pool, answer_values(whole, question, answer)))
            if answer.tuned is not None:
                tuned = in_plan(tuned, answer.tuned.design)
        values = answers[0][1]
        if asked.every:
            values = together_values(answers, whole.currency, budget=asked.budget)
            tuned = plan_of(with_chosen(to_values(whole), values))
    _write(asked.output, whole, tuned)
    if asked.as_json:
        click.echo(json.dumps(values, indent=2))
    elif asked.every:
        _print_together(values, whole.currency)
    else:
        _print_answer(values, whole.currency)


@dataclass(frozen=True)
class _Asked:
    """The options of a search."""

    pool: str | None
    every: bool
    budget: float | None
    promise: tuple[str, ...]
    free: str
    lock: tuple[str, ...]
    within: tuple[str, ...]
    axis: str
    week: tuple[str, ...]
    together: tuple[str, ...]
    weeks: int
    seconds: int | None
    seed: int
    output: Path | None
    as_json: bool


def _question(whole: Plan, pool: str, pools: int, asked: _Asked) -> Question:
    """The question about one of so many pools; raises PlanError."""
    from idle_harbor.core.plan.declare import FREEDOMS
    from idle_harbor.core.tuner import Question
    from idle_harbor.core.tuner.asking import checked_question, freedoms_of

    presets: dict[str, list[str]] = {**_PRESETS, "everything": [*FREEDOMS]}
    names = [name.strip() for name in asked.free.split(",") if name.strip()]
    question = Question(
        pool,
        _counted(whole, pool, asked.week),
        freedoms_of(presets.get(asked.free.strip(), names)),
        asked.lock,
        tuple(map(_bound, asked.within)),
        asked.axis,
        asked.weeks,
        asked.seed,
        None if asked.seconds is None else max(asked.seconds // pools, 1),
        together=asked.together,
    )
    return checked_question(whole, question)


def _searched(whole: Plan, question: Question) -> Answer:
    """Search, and say how far the search is whenever a stage begins."""
    from idle_harbor.core.tuner import tune as search

    seen, began = "", time.monotonic()

    def progress(study: Study) -> None:
        nonlocal seen
        study.took(time.monotonic() - began)
        if study.stage != seen:
            seen, now = study.stage, study.so_far()
            left = f", about {now.seconds_left:,.0f} s left" if now.seconds_left else ""
            click.echo(f"{now.used:>7,} of {question.budget:,} weeks: {seen}{left}", err=True)

    return search(whole, question, told=progress)


def _write(output: Path | None, whole: Plan, tuned: Plan) -> None:
    from idle_harbor.formats.plan.codec import to_values

    if output is None:
        return
    if tuned == whole:
        click.echo(f"{output} is not written: the plan of today is the answer", err=True)
        return
    text = json.dumps(to_values(tuned), indent=2, ensure_ascii=False)
    output.write_text(text + "\n", "utf-8")


def _all_pools(plan: Plan) -> list[str]:
    """The pools to tune with --all; those that are left out are named."""
    from idle_harbor.core.tuner.asking import pools_with_people

    found = pools_with_people(plan)
    for pool in plan.pools:
        if pool.id not in found:
            click.echo(f"{pool.id} is left out: nobody comes to it", err=True)
    return found


def _bound(text: str) -> tuple[str, float, float]:
    field, _, span = text.partition("=")
    low, _, high = span.partition("..")
    try:
        return field, float(low), float(high)
    except ValueError:
        raise click.BadParameter("give FIELD=LOW..HIGH", param_hint="'--within'") from None
