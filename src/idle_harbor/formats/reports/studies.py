"""A study as JSON: its question, what it has found so far, and its answer."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from math import inf, isinf
from typing import Any

from idle_harbor.core.figures.promise import PARTS
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.lookup import promise_of
from idle_harbor.core.sentences.cheaper import cheaper
from idle_harbor.core.sentences.next_limit import next_limit
from idle_harbor.core.sentences.next_step import next_second
from idle_harbor.core.sentences.sharing import leaves_shared
from idle_harbor.core.sentences.study import change_text, step_text, verdict
from idle_harbor.core.sentences.unseen import rests_on
from idle_harbor.core.sentences.worse_off import worse_off
from idle_harbor.core.sentences.year import broken_weeks, over_the_year, week_text
from idle_harbor.core.tuner.designs.changes import between_of
from idle_harbor.core.tuner.designs.design import Design, design_of, in_plan
from idle_harbor.core.tuner.report.answer import Answer, PlacedSoFar, Point, Question, SoFar
from idle_harbor.core.tuner.report.told import nearest_of
from idle_harbor.core.tuner.report.year import CheckedWeek
from idle_harbor.core.tuner.scoring.scores import Counted, Score
from idle_harbor.formats.plan.codec import plan_of, to_values
from idle_harbor.formats.reports.figures import values_of
from idle_harbor.formats.reports.together import told_in

_UNBOUNDED = "no bound"
#: Fields of an answer that have a shape of their own here.
_TOLD_APART = ("current", "rules", "front", "tuned", "explained", "year", "by_limit")


def question_values(question: Question) -> dict[str, Any]:
    """A question as values that :func:`question_of` reads."""
    return {
        "pool": question.pool,
        "weeks": [values_of(week) for week in question.weeks],
        "checked": [values_of(week) for week in question.checked],
        "free": list(question.free),
        "locked": list(question.locked),
        "within": [{"path": path, "low": low, "high": high} for path, low, high in question.within],
        "axis": question.axis,
        "budget": question.budget,
        "seed": question.seed,
        "seconds": question.seconds,
        "together": list(question.together),
    }


def _week_of(values: Mapping[str, Any]) -> Counted:
    return Counted(**{**values, "monday": date.fromisoformat(values["monday"])})


def question_of(values: Any) -> Question:
    """What :func:`question_values` gave."""
    return Question(
        pool=values["pool"],
        weeks=tuple(map(_week_of, values["weeks"])),
        checked=tuple(map(_week_of, values.get("checked", ()))),
        free=tuple(values["free"]),
        locked=tuple(values["locked"]),
        within=tuple((w["path"], w["low"], w["high"]) for w in values["within"]),
        axis=values["axis"],
        budget=values["budget"],
        seed=values["seed"],
        seconds=values.get("seconds"),
        together=tuple(values.get("together", ())),
    )


def _each(value: Any, found: Any, instead: Any) -> Any:
    """A value, or each of several, with another in place of what is found."""
    if isinstance(value, list | tuple):
        return tuple(_each(one, found, instead) for one in value)
    return instead if value == found else value


def score_values(found: Score) -> list[Any]:
    """A score as values that :func:`score_of` reads; JSON knows no number without bound."""
    return [_each(value, inf, _UNBOUNDED) for value in found]


def score_of(values: list[Any]) -> Score:
    """What :func:`score_values` gave."""
    return Score(*(_each(value, _UNBOUNDED, inf) for value in values))


def design_values(plan: Plan, design: Design) -> dict[str, Any]:
    """The pool and the schedule of a design as a document has them, to be put into the plan."""
    changed = to_values(in_plan(plan, design))
    pool = next(each for each in changed["pools"] if each["id"] == design.pool.id)
    schedule = next(each for each in changed["schedules"] if each["id"] == pool["schedule"])
    return {"pool": pool, "schedule": schedule}


def _point(plan: Plan, point: Point) -> dict[str, Any]:
    report = point.report
    return {
        "name": point.name,
        **values_of(report),
        "standing": report.standing,
        **design_values(plan, point.design),
    }


def _explained(plan: Plan, pool: str, answer: Answer) -> dict[str, Any] | None:
    found = answer.explained
    if found is None or answer.tuned is None:
        return None
    limit = answer.tuned.design.pool.session_limit
    return {
        **values_of(found, without=("steps",)),
        "steps": [
            {
                **values_of(step, without=("changes", "adds")),
                "change": "; ".join(change_text(change, limit) for change in step.changes),
                "text": " ".join(
                    filter(
                        None,
                        (step_text(step, plan.currency), rests_on(plan, pool, step.changes)),
                    )
                ),
            }
            for step in found.steps
        ],
    }


def _week(row: CheckedWeek, currency: str) -> dict[str, Any]:
    """A kind of week of the year, with today's and the tuned plan in it."""
    plans = {
        name: {**values_of(report), "standing": report.standing}
        for name, report in (("today", row.today), ("tuned", row.tuned))
    }
    return {
        "week": values_of(row.week),
        **plans,
        "broken": row.broken,
        "worse": row.worse,
        "text": week_text(row, currency),
    }


def answer_values(plan: Plan, question: Question, answer: Answer) -> dict[str, Any]:
    """The answer of a study with its sentences."""
    currency = plan.currency
    nearest = answer.nearest
    near = [k for k, each in enumerate(answer.front) if each is nearest]
    promise = promise_of(plan, question.pool)
    return {
        **values_of(answer, without=_TOLD_APART),
        "verdict": " ".join(filter(None, (broken_weeks(answer), verdict(answer, currency)))),
        "next_second": next_second(answer, currency),
        "next_limit": next_limit(answer, currency),
        "over_the_year": over_the_year(answer),
        "worse_off": worse_off(answer),
        "leaves": leaves_shared(plan, answer.nearest.design),
        "limits": {part.field: part.limit(promise) for part in PARTS},
        "year": [_week(each, currency) for each in answer.year],
        "cheaper": cheaper(answer, currency),
        "current": _point(plan, answer.current),
        "rules": [_point(plan, each) for each in answer.rules],
        "front": [_point(plan, each) for each in answer.front],
        "tuned": None if answer.tuned is None else _point(plan, answer.tuned),
        "nearest": near[0] if near else None,
        "explained": _explained(plan, question.pool, answer),
    }


def so_far_values(plan: Plan, found: SoFar) -> dict[str, Any]:
    """What is known of a study before its answer."""
    return {
        **values_of(found, without=("points", "today", "rules", "best")),
        "points": [_placed(each) for each in found.points],
        "today": None if found.today is None else _placed(found.today),
        "rules": [{"name": name, **_placed(each)} for name, each in found.rules],
        "best": None if found.best is None else design_values(plan, found.best),
    }


def _placed(each: PlacedSoFar) -> dict[str, Any]:
    """A place in the picture; one without bound on the axis has None there."""
    money, axis, keeps = each
    return {"money": money, "axis": None if isinf(axis) else axis, "keeps": keeps}


def design_in(
    document: Mapping[str, Any], point: Mapping[str, Any], together: Sequence[str] = ()
) -> Design:
    """The design of a point of an answer, in the plan that the study was of, with the pools that
    were tuned with it."""
    pool, schedule = point["pool"], point["schedule"]
    pools = [pool if each["id"] == pool["id"] else each for each in document["pools"]]
    others = [each for each in document["schedules"] if each["id"] != schedule["id"]]
    plan = plan_of({**document, "pools": pools, "schedules": [*others, schedule]})
    return design_of(plan, pool["id"], tuple(together))


def told_point(answer: Mapping[str, Any]) -> Mapping[str, Any]:
    """What a study would have taken: what it tuned, or the cheapest of what comes nearest."""
    tuned: Mapping[str, Any] | None = answer["tuned"]
    if tuned is not None:
        return tuned
    told = [*answer["front"], *answer["rules"], answer["current"]]
    found: Mapping[str, Any] = told[nearest_of(told_in(told))[0]]
    return found


def differences(
    one: tuple[Mapping[str, Any], Mapping[str, Any]],
    two: tuple[Mapping[str, Any], Mapping[str, Any]],
) -> dict[str, list[str]]:
    """What the plan of one study, given as its input and its answer, has otherwise than that of
    another, in sentences; and what was asked otherwise."""
    (asked, answer), (other, against) = one, two
    changes = between_of(
        design_in(other["plan"], told_point(against)),
        design_in(asked["plan"], told_point(answer)),
    ).changes
    mine, theirs = asked["question"], other["question"]
    differ = [
        f"{name.replace('_', ' ')}: {_listed(mine.get(name))} instead of "
        f"{_listed(theirs.get(name))}"
        for name in (
            "free",
            "locked",
            "within",
            "weeks",
            "axis",
            "budget",
            "seed",
            "seconds",
            "together",
        )
        if mine.get(name) != theirs.get(name)
    ]
    if asked["plan"] != other["plan"]:
        differ.append("the plan was another one by then")
    return {"changes": [change_text(change) for change in changes], "asked": differ}


def _listed(value: Any) -> str:
    if value is None:
        return "none"
    if not isinstance(value, list):
        return f"{value:,}" if isinstance(value, int) else str(value).replace("_", " ")
    words = [
        each if isinstance(each, str) else each.get("name", each.get("path", "")) for each in value
    ]
    return ", ".join(words) or "none"
