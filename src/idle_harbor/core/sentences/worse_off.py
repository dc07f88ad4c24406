"""Who is worse off with the tuned plan than with today's, in a sentence."""

from __future__ import annotations

from idle_harbor.core.figures.promise import PARTS, Part
from idle_harbor.core.sentences.listed import listed
from idle_harbor.core.tuner.report.answer import Answer
from idle_harbor.core.tuner.report.axis import apart
from idle_harbor.core.tuner.scoring.judge import Report


def worse_off(answer: Answer) -> str:
    """Name the parts of the promise in which people have it worse with the tuned plan than today;
    empty without a tuned plan."""
    if answer.tuned is None or answer.tuned.design == answer.current.design:
        return ""
    today, tuned = answer.current.report, answer.tuned.report
    told = [_told(part, today, tuned) for part in PARTS if _is_worse(part, today, tuned)]
    if not told:
        return "In no part of the promise do people have it worse than with the plan of today."
    return f"People have it worse than today in: {listed(told)}."


def _is_worse(part: Part, today: Report, tuned: Report) -> bool:
    """Whether a figure is worse by more than can be told apart."""
    before, after = today.promised[part.field], tuned.promised[part.field]
    if after.unbounded and not before.unbounded:
        return True
    if before.mean is None or after.mean is None:
        return False
    more = (after.mean - before.mean) * (-1.0 if part.least else 1.0)
    half = (before.half_width or 0.0) + (after.half_width or 0.0)
    return more >= max(apart(part, before.mean), half)


def _told(part: Part, today: Report, tuned: Report) -> str:
    before, after = today.promised[part.field].mean, tuned.promised[part.field].mean
    return f"{part.spoken} ({_figure(part, after)} instead of {_figure(part, before)})"


def _figure(part: Part, value: float | None) -> str:
    return "no bound" if value is None else part.text(value)
