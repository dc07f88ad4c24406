"""Plans with less room to their promise, and what they would save, in sentences."""

from __future__ import annotations

from idle_harbor.core.money.words import money_text
from idle_harbor.core.tuner.report.answer import Answer, Point

#: A plan that is cheaper by less than this share is not named.
_LEAST = 0.005
_WEEKS_A_YEAR = 365.25 / 7


def cheaper(answer: Answer, currency: str) -> str:
    """What is cheaper than the tuned plan and keeps the promise likely or on average, each with how
    often it breaks the promise in a year; empty where there is nothing.

    The tuned plan keeps its promise *surely*: on fresh weeks of its own, with room to spare. A plan
    keeps it *likely* where the whole confidence interval of its fresh weeks does, and *on average*
    where their mean does.
    """
    points = [*answer.front, *answer.rules]
    likely = [each for each in points if each.report.standing == "kept"]
    average = [each for each in points if each.report.slack is not None and each.report.slack >= 1]
    most = _money(answer.tuned) if answer.tuned is not None else None
    told = []
    for room, among in (("is likely kept", likely), ("keeps it on average", average)):
        best = min(among, key=_money, default=None)
        if best is None or (most is not None and _money(best) > (1.0 - _LEAST) * most):
            continue
        most = _money(best)
        month = f"{money_text(most, currency)} a month"
        name = f"{best.name}, {month}" if best.name else month
        told.append(f"{name} {room} ({_breaks(best)})")
    if not told:
        return ""
    ours = "" if answer.tuned is None else f" The tuned plan: {_breaks(answer.tuned)}."
    return f"With less room to the promise: {'; '.join(told)}.{ours}"


def _money(point: Point) -> float:
    return point.report.money.mean or 0.0


def _breaks(point: Point) -> str:
    """How often a plan breaks its promise, as a number of weeks of a year."""
    weeks = point.report.broken_share * _WEEKS_A_YEAR
    if weeks == 0.0:
        return "none of its weeks broke it"
    many = max(round(weeks), 1)
    return f"broken in some {many} week{'s' * (many != 1)} of a year"
