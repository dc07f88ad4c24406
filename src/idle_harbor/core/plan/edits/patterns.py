"""Patterns of work: where a break has room, one more break, and ways of leaving that add up."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from itertools import pairwise
from math import ceil, floor
from typing import Annotated, Literal, TypeAlias

from annotated_types import Interval

from idle_harbor.core.errors import Fault, PlanError, UnknownNameError
from idle_harbor.core.plan import Group, Headcount, Histogram, Pattern, Plan
from idle_harbor.core.plan.declare import DAY, Id, Share
from idle_harbor.core.plan.edits.finding import with_group
from idle_harbor.core.plan.patterns import MOST_BREAKS, Break, Leaving

#: Breaks and starts are moved in steps of five minutes.
STEP = 300
#: How far beyond a mean a spread is looked at, in standard deviations.
_STARTS_REACH, _STAYS_REACH = 3.0, 2.0
Way: TypeAlias = Literal["sign_off", "disconnect", "walk_away"]
_WAYS: tuple[Way, ...] = ("sign_off", "disconnect", "walk_away")


def reach_of(pattern: Pattern) -> tuple[float, float]:
    """From when to when anybody may well be there, in seconds of the day on which they start."""
    start, stay = pattern.start.spread, pattern.length.spread
    if isinstance(start, Histogram):
        first, latest = float(start.first), float(start.first + start.step * len(start.weights))
    else:
        first, latest = start.mean - _STARTS_REACH * start.sd, start.mean
    if isinstance(stay, Histogram):
        longest = float(stay.first + stay.step * len(stay.weights))
    else:
        longest = stay.mean + _STAYS_REACH * stay.sd
    return first, latest + longest


def end_of(pattern: Pattern) -> float:
    """When people leave on average, in seconds of the day on which they start."""
    return pattern.start.spread.mean + pattern.length.spread.mean


@dataclass(frozen=True, slots=True)
class BreakRoom:
    """A break of a pattern in seconds: when it begins on average, between which times it may do
    so, and how long it may last until the next one begins."""

    begins: float
    earliest: float
    latest: float
    longest: float


def breaks_of(pattern: Pattern) -> list[BreakRoom]:
    """Each break between the one before it and the one after it."""
    begins = [pattern.break_start(pause) for pause in pattern.breaks]
    lasts = [60.0 * pause.mean_minutes for pause in pattern.breaks]
    found: list[BreakRoom] = []
    for k, begin in enumerate(begins):
        low = begins[k - 1] + lasts[k - 1] if k else pattern.start.spread.mean
        last = k == len(begins) - 1
        high = (end_of(pattern) if last else begins[k + 1]) - lasts[k]
        earliest = ceil(low / STEP) * STEP
        room = DAY if last else begins[k + 1] - begin
        found.append(BreakRoom(begin, earliest, max(floor(high / STEP) * STEP, earliest), room))
    return found


def _with_pattern(
    plan: Plan, group: str, pattern: str, change: Callable[[Pattern], Pattern]
) -> Plan:
    def on_group(found: Group) -> Group:
        demand = found.demand
        if not isinstance(demand, Headcount):
            raise UnknownNameError("pattern", pattern, [])
        if pattern not in (names := [each.id for each in demand.patterns]):
            raise UnknownNameError("pattern", pattern, names)
        patterns = tuple(change(p) if p.id == pattern else p for p in demand.patterns)
        return replace(found, demand=replace(demand, patterns=patterns))

    return with_group(plan, group, on_group)


@dataclass(frozen=True, slots=True)
class AddBreak:
    """Put a break into the longest stretch of a pattern's day that has none."""

    verb: Literal["add-break"]
    group: Id
    pattern: Id

    def done(self, plan: Plan) -> Plan:
        """The plan with the break in the middle of that stretch."""
        return _with_pattern(plan, self.group, self.pattern, self._more)

    def _more(self, pattern: Pattern) -> Pattern:
        if len(pattern.breaks) >= MOST_BREAKS:
            raise PlanError(
                [
                    Fault(
                        "/groups",
                        f"'{pattern.id}' has {MOST_BREAKS} breaks already",
                        "take one of them away first",
                    )
                ]
            )
        begins = [pattern.break_start(pause) for pause in pattern.breaks]
        edges = [pattern.start.spread.mean, *begins, end_of(pattern)]
        gaps = [after - before for before, after in pairwise(edges)]
        place = gaps.index(max(gaps))
        middle = round((edges[place] + edges[place + 1]) / 2 / STEP) * STEP % DAY
        pause = Break(
            0.8, middle, None, 15.0, 30.0, 8.0, Leaving(sign_off=0.0, disconnect=0.3, walk_away=0.7)
        )
        return replace(pattern, breaks=(*pattern.breaks[:place], pause, *pattern.breaks[place:]))


@dataclass(frozen=True, slots=True)
class SetLeaving:
    """Let a share of people leave in one way, at the end of a pattern's day or for a break of it
    (counted from 1); the other ways share the rest as they did before."""

    verb: Literal["set-leaving"]
    group: Id
    pattern: Id
    way: Way
    share: Share
    pause: Annotated[int | None, Interval(ge=1, le=MOST_BREAKS)] = None

    def done(self, plan: Plan) -> Plan:
        """The plan with ways of leaving that add up to 1."""
        return _with_pattern(plan, self.group, self.pattern, self._left)

    def _left(self, pattern: Pattern) -> Pattern:
        if self.pause is None:
            return replace(pattern, leaving=self._shared(pattern.leaving))
        if self.pause > len(pattern.breaks):
            numbers = [str(k) for k in range(1, len(pattern.breaks) + 1)]
            raise UnknownNameError("break", str(self.pause), numbers)
        breaks = list(pattern.breaks)
        pause = breaks[self.pause - 1]
        breaks[self.pause - 1] = replace(pause, leaving=self._shared(pause.leaving))
        return replace(pattern, breaks=tuple(breaks))

    def _shared(self, leaving: Leaving) -> Leaving:
        others = [way for way in _WAYS if way != self.way]
        rest = sum(getattr(leaving, way) for way in others)
        first, second = others
        part = getattr(leaving, first) / rest if rest > 0 else 0.5
        left = round(1.0 - self.share, 6)
        one = round(left * part, 6)
        return replace(leaving, **{self.way: self.share, first: one, second: round(left - one, 6)})
