"""What is wrong with the question of a study, before anything is simulated."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from difflib import get_close_matches
from math import isfinite

from idle_harbor.core.demand.spells import demand_of
from idle_harbor.core.errors import Fault, PlanError, some_of
from idle_harbor.core.figures.promise import BY_FIELD
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.declare import FREEDOMS, Freedom
from idle_harbor.core.plan.lookup import find_pool, promise_of
from idle_harbor.core.plan.table import Field, by_path
from idle_harbor.core.tuner.report.answer import Question
from idle_harbor.core.tuner.search.effort import LEAST_EACH
from idle_harbor.core.tuner.weeks.kinds import checked_weeks, weeks_by_itself


def turnable_paths() -> dict[str, Field]:
    """Every field that a search may vary, by its path in the plan document.

    Exceptions for a pool are left out: a search has them put into the pool's own schedule.
    """
    return {
        path: each
        for path, each in by_path().items()
        if each.about.tuned is not None and ".exceptions." not in path
    }


def pools_with_people(plan: Plan) -> list[str]:
    """The pools that a study can be about, in the plan's order: somebody comes to them."""
    return [pool.id for pool in plan.pools if demand_of(plan, pool.id).comers]


def checked_question(plan: Plan, question: Question) -> Question:
    """Return a question that can be asked, with whole paths in place of short names, and with the
    weeks that the study chooses by itself.

    A field may be named by the end of its path where only one field ends so: ``floor`` for
    ``schedules.day_types.bands.floor``.

    Args:
        plan: a checked plan.
        question: what is asked of the study.

    Raises:
        UnknownNameError: the plan lacks the pool.
        PlanError: with a fault for each thing that is wrong.
    """
    find_pool(plan, question.pool)
    if not question.weeks:
        weeks = weeks_by_itself(plan, question.pool, question.budget)
        question = replace(question, weeks=weeks)
    known = turnable_paths()
    locked, unknown_locks = _paths("locked", question.locked, known)
    bounded, unknown_bounds = _paths("within", [name for name, _, _ in question.within], known)
    within = [(bounded[name], low, high) for name, low, high in question.within if name in bounded]
    faults = [
        *_pool(plan, question),
        *_numbers(question),
        *unknown_locks,
        *unknown_bounds,
        *(fault for path, low, high in within for fault in _range(known[path], low, high)),
    ]
    if faults:
        raise PlanError(faults)
    return replace(
        question,
        locked=tuple(locked.values()),
        within=tuple(within),
        checked=checked_weeks(plan, question.pool, question.weeks),
    )


def _pool(plan: Plan, question: Question) -> Iterator[Fault]:
    """What is wrong with the pool of a question, and with its promise."""
    pool = find_pool(plan, question.pool)
    if not demand_of(plan, pool.id).comers:
        yield Fault(
            "/pool",
            f"nobody comes to {pool.id}, so any plan keeps its promise",
            "give a group access to it, or choose another pool",
        )
    shared = [each.id for each in plan.pools if each.schedule == pool.schedule]
    for k, name in enumerate(question.together):
        if name == pool.id or name not in shared or name in question.together[:k]:
            yield Fault(
                f"/together/{k}",
                f"'{name}' is no other pool with the schedule of {pool.id}",
                f"choose among {some_of([each for each in shared if each != pool.id])}",
            )
        elif not demand_of(plan, name).comers:
            yield Fault(f"/together/{k}", f"nobody comes to {name}", "leave it out")
    axis = BY_FIELD.get(question.axis)
    if axis is not None and axis.limit(promise_of(plan, pool.id)) is None:
        yield Fault(
            "/axis",
            f"{axis.spoken} is not promised, so nothing is weighed against it",
            "promise it, or choose another part",
        )


def _paths(
    where: str, names: Sequence[str], known: Mapping[str, Field]
) -> tuple[dict[str, str], list[Fault]]:
    """The whole path of each named field, and a fault for each name that fits none or several."""
    paths: dict[str, str] = {}
    faults = []
    for name in names:
        fits = [name] if name in known else [p for p in known if p.endswith(f".{name}")]
        if len(fits) == 1:
            paths[name] = fits[0]
        else:
            faults.append(_unknown(where, name, fits, list(known)))
    return paths, faults


def _unknown(where: str, name: str, fits: list[str], known: list[str]) -> Fault:
    if fits:
        return Fault(
            f"/{where}", f"several fields are called '{name}'", f"name one of {some_of(fits)}"
        )
    ends = {path.rsplit(".", 1)[-1]: path for path in known} | {path: path for path in known}
    near = [ends[each] for each in get_close_matches(name, ends, 3)]
    remedy = f"did you mean {some_of(near)}?" if near else f"name one of {some_of(known, name)}"
    return Fault(f"/{where}", f"no field that a study may change is called '{name}'", remedy)


def _range(field: Field, low: float, high: float) -> Iterator[Fault]:
    """What is wrong with bounds of a field."""
    about = field.about
    if field.whole is None:
        yield Fault("/within", f"{field.path} is no number", "lock it, or leave it free")
        return
    if not (isfinite(low) and isfinite(high)):
        yield Fault("/within", f"{field.path} needs two numbers", "give LOW..HIGH")
        return
    if low > high:
        yield Fault(
            "/within",
            f"{field.path} from {low:g} to {high:g} is the wrong way round",
            f"give {high:g}..{low:g}",
        )
    if field.whole and (low % 1 or high % 1):
        yield Fault("/within", f"{field.path} takes whole numbers", "leave the fraction out")
    least = about.low if about.low is not None else low
    most = about.high if about.high is not None else high
    if low < least or high > most:
        span = f"from {least:g}" if about.high is None else f"from {least:g} to {most:g}"
        yield Fault(
            "/within",
            f"{field.path} from {low:g} to {high:g} is beyond what the field may be",
            f"stay within {span}",
        )


def _numbers(question: Question) -> Iterator[Fault]:
    """What is wrong with the names and numbers of a question."""
    if question.axis and question.axis not in BY_FIELD:
        yield Fault(
            "/axis",
            f"'{question.axis}' is no part of the promise",
            f"choose among {', '.join(BY_FIELD)}",
        )
    yield from _free(question.free)
    least = LEAST_EACH * len(question.weeks)
    if question.budget < least:
        yield Fault(
            "/budget",
            f"{question.budget:,} weeks of candidates are too few",
            f"give {least:,} at least",
        )
    if not any(week.weight for week in question.weeks):
        yield Fault(
            "/weeks",
            "no week has a weight, so there is no money to compare",
            "give one of them a weight above 0",
        )
    if question.seed < 0:
        yield Fault(
            "/seed",
            f"{question.seed} cannot be the number of a search",
            "give a whole number from 0 on",
        )


def _free(names: Sequence[str]) -> Iterator[Fault]:
    """What is wrong with what may change."""
    choose = f"choose among {', '.join(FREEDOMS)}"
    for name in names:
        if name not in FREEDOMS:
            yield Fault("/free", f"'{name}' cannot be given free", choose)
    if not names:
        yield Fault("/free", "nothing may change", choose)


def freedoms_of(names: Sequence[str]) -> tuple[Freedom, ...]:
    """Return freedoms by their names, in their order; raises PlanError for another word."""
    faults = [*_free(names)]
    if faults:
        raise PlanError(faults)
    return tuple(name for name in FREEDOMS if name in names)
