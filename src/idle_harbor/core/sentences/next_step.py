"""What a stricter and a looser promise would cost, in sentences."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from idle_harbor.core.figures.promise import BY_FIELD, Part
from idle_harbor.core.tuner.report.answer import Answer
from idle_harbor.core.tuner.scoring.judge import Report


def _figure(part: Part, value: float) -> str:
    return f"{value:,.0f} s" if part.timed else f"{value:.2%}"


@dataclass(frozen=True, slots=True)
class _Beside:
    """What is beside the tuned plan on the axis: its figure, its money, and its report."""

    across: float
    money: float
    report: Report


def next_second(answer: Answer, axis: str, currency: str) -> str:
    """What a stricter and a looser promise would cost on the axis, in its own unit, read off the
    points and rules beside the tuned plan."""
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
    told = [_less(part, at, others, currency), _more(part, at, others, currency)]
    return " ".join(filter(None, told))


def _apart(part: Part, at: _Beside) -> float:
    """Figures that are nearer than this cannot be told apart."""
    return max(2.0 if part.timed else 0.0005, 0.05 * at.across)


def _unit(part: Part) -> tuple[float, str]:
    return (1.0, "second") if part.timed else (0.001, "0.1%")


def _less(part: Part, at: _Beside, others: Sequence[_Beside], currency: str) -> str:
    """What the next step to a stricter promise costs, where it costs least."""
    found = [
        other
        for other in others
        if other.across < at.across - _apart(part, at) and other.report.standing != "broken"
    ]
    if not found:
        here = _figure(part, at.across)
        return (
            f"Nothing that was tried brings {part.spoken} clearly below {here} and keeps the rest "
            "of the promise."
        )

    def price(other: _Beside) -> float:
        return (other.money - at.money) / (at.across - other.across)

    best = min(found, key=price)
    unit, each = _unit(part)
    if price(best) * unit < 0.5:
        to, now = _figure(part, best.across), _figure(part, at.across)
        return f"To have {to} instead of {now} for {part.spoken} costs hardly more."
    costs = f"{max(price(best) * unit, 0.0):,.0f} {currency}"
    to = _figure(part, best.across)
    return f"Each {each} less of {part.spoken} costs about {costs} a month, down to {to}."


def _more(part: Part, at: _Beside, others: Sequence[_Beside], currency: str) -> str:
    """What the next step to a looser promise saves, where it saves most."""
    found = [
        other
        for other in others
        if other.across > at.across + _apart(part, at)
        and other.money < at.money
        and all(s == "kept" for field, s in other.report.standings.items() if field != part.field)
    ]
    if not found:
        return ""

    def price(other: _Beside) -> float:
        return (at.money - other.money) / (other.across - at.across)

    best = max(found, key=price)
    unit, each = _unit(part)
    saves, to = f"{price(best) * unit:,.1f} {currency}", _figure(part, best.across)
    return f"Each {each} more would save about {saves} a month, up to {to}."
