"""What one session more or fewer on a host would do to a tuned plan, in a sentence."""

from __future__ import annotations

from idle_harbor.core.figures.promise import PARTS, Part
from idle_harbor.core.money.words import money_text
from idle_harbor.core.sentences.listed import listed
from idle_harbor.core.tuner.report.answer import Answer, Point
from idle_harbor.core.tuner.report.axis import apart

#: Money of a month that is not worth a number.
_LITTLE = 0.5


def next_limit(answer: Answer, currency: str) -> str:
    """Say what the tuned plan costs, and what becomes of its promise, with one session more and one
    fewer on a host; empty where that was not tried."""
    if answer.tuned is None:
        return ""
    own = str(answer.tuned.design.pool.session_limit)
    here = next((each for each in answer.by_limit if each.name == own), None)
    others = [each for each in reversed(answer.by_limit) if each.name != own]
    if here is None or not others:
        return ""
    told = "; ".join(_told(here, each, currency) for each in others)
    return f"{told[0].upper()}{told[1:]}."


def _told(here: Point, there: Point, currency: str) -> str:
    many = f"{there.name} {'session' if there.name == '1' else 'sessions'}"
    more = (there.report.money.mean or 0.0) - (here.report.money.mean or 0.0)
    way = "more" if more > 0 else "less"
    many_more = f"{money_text(abs(more), currency)} a month {way}"
    cost = many_more if abs(more) >= _LITTLE else "as much"
    felt = [text for part in PARTS if (text := _changed(part, here, there))]
    broken = ", which breaks the promise" if there.report.standing == "broken" else ""
    with_ = f", with {listed(felt)}" if felt else ""
    return f"with {many} on a host instead of {here.name} it costs {cost}{with_}{broken}"


def _changed(part: Part, here: Point, there: Point) -> str:
    """A figure that can be told apart from that of the tuned plan."""
    before, after = here.report.promised[part.field].mean, there.report.promised[part.field].mean
    if before is None or after is None or abs(after - before) < apart(part, before):
        return ""
    return f"{part.spoken} {part.text(after)} instead of {part.text(before)}"
