"""What a stricter and a looser promise would cost, in sentences."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from idle_harbor.core.figures.promise import BY_FIELD, PARTS, Part
from idle_harbor.core.money.words import money_text
from idle_harbor.core.tuner.report.answer import Answer
from idle_harbor.core.tuner.report.axis import MAIN, apart
from idle_harbor.core.tuner.scoring.judge import Report

#: Steps that are told, and money that is not worth a number.
_TOLD, _LITTLE = 4, 0.5


@dataclass(frozen=True, slots=True)
class _Beside:
    """What is beside the tuned plan on the axis: its figure, its money, and its report."""

    across: float
    money: float
    report: Report


def next_second(answer: Answer, currency: str) -> str:
    """What a stricter and a looser promise would cost on the axis, in its own unit, read off the
    points and rules beside the tuned plan."""
    axis = answer.axis
    part = BY_FIELD[axis]
    if answer.tuned is None or part.least:
        return ""
    tuned = next((p for p in answer.front if p.design == answer.tuned.design), answer.tuned)
    here, money = tuned.report.promised[axis].mean, tuned.report.money.mean or 0.0
    if not here:
        return ""
    at = _Beside(here, money, tuned.report)
    others = [
        _Beside(across, point.report.money.mean or 0.0, point.report)
        for point in (*answer.front, *answer.rules, answer.current)
        if (across := point.report.promised[axis].mean) is not None
    ]
    stricter, looser = _steps(part, at, others, currency), _more(part, at, others, currency)
    if not stricter and not looser and _is_best(answer, PARTS):
        return (
            "One plan is best in everything that is promised: nothing that was tried is better in "
            "any part of it."
        )
    best = _is_best(answer, [BY_FIELD[field] for field in MAIN])
    one = "One plan is best in all waits and in refusals"
    if not stricter and not looser and best:
        return f"{one}: nothing that was tried is better in any of them."
    told = [stricter or _nothing_below(part, at), looser]
    if axis not in MAIN and best:
        told.insert(0, f"{one}.")
    return " ".join(filter(None, told))


def _unit(part: Part) -> tuple[float, str]:
    return (1.0, "second") if part.timed else (0.001, "0.1%")


def _steps(part: Part, at: _Beside, others: Sequence[_Beside], currency: str) -> str:
    """What each step to a stricter promise costs, from one plan of the Pareto front to the next."""
    stricter = sorted(
        (o for o in others if o.across < at.across and o.report.standing != "broken"),
        key=lambda other: (other.money, other.across),
    )
    told, now = [], at
    for other in stricter:
        if other.across >= now.across - apart(part, now.across):
            continue
        more = max(other.money - now.money, 0.0)
        price = more / (now.across - other.across) * _unit(part)[0]
        cost = "hardly more"
        if more >= _LITTLE:
            each = f"{money_text(price, currency, 2)} each {_unit(part)[1]}"
            cost = f"{money_text(more, currency)} a month more ({each})"
        told.append(f"{part.text(other.across)} costs {cost}")
        now = other
    if not told:
        return ""
    return f"From {part.text(at.across)} for {part.spoken}, {', then '.join(told[:_TOLD])}."


def _nothing_below(part: Part, at: _Beside) -> str:
    return (
        f"Nothing that was tried brings {part.spoken} clearly below {part.text(at.across)} and "
        "keeps the rest of the promise."
    )


def _is_best(answer: Answer, parts: Sequence[Part]) -> bool:
    """Whether no other point of the front is better in any of some parts by more than can be told
    apart."""
    tuned = answer.tuned
    assert tuned is not None
    for point in answer.front:
        if point.report.standing == "broken" or point.design == tuned.design:
            continue
        for part in parts:
            here = tuned.report.promised[part.field].mean
            there = point.report.promised[part.field].mean
            if here is None or there is None or part.least:
                continue
            if here - there >= apart(part, here):
                return False
    return True


def _more(part: Part, at: _Beside, others: Sequence[_Beside], currency: str) -> str:
    """What the next step to a looser promise saves, where it saves most."""
    found = [
        other
        for other in others
        if other.across > at.across + apart(part, at.across)
        and other.money < at.money
        and all(s == "kept" for field, s in other.report.standings.items() if field != part.field)
    ]
    if not found:
        return ""

    def price(other: _Beside) -> float:
        return (at.money - other.money) / (other.across - at.across)

    best = max(found, key=price)
    unit, each = _unit(part)
    saves, to = money_text(price(best) * unit, currency, 2), part.text(best.across)
    return f"Each {each} more would save about {saves} a month, up to {to}."
