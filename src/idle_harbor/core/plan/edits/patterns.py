"""Patterns of work: bounds of breaks, further breaks, and ways of leaving that add up to 1."""

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
from idle_harbor.core.plan.edits.finding import must_be_free, with_group
from idle_harbor.core.plan.patterns import MOST_BREAKS, Break, Leaving, Length, Start

#: Breaks and starts are moved in steps of five minutes.
STEP = 300
#: How far beyond a mean a spread is looked at, in standard deviations.
_STARTS_REACH, _STAYS_REACH = 3.0, 2.0
Way: TypeAlias = Literal["sign_off", "disconnect", "walk_away"]
_WAYS: tuple[Way, ...] = ("sign_off", "disconnect", "walk_away")


def reach_of(pattern: Pattern) -> tuple[float, float]:
    """Return the earliest and the latest time at which anybody is likely to be there, in seconds of
    the day on which they start."""
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
    """Return when people leave on average, in seconds of the day on which they start."""
    return pattern.start.spread.mean + pattern.length.spread.mean


@dataclass(frozen=True, slots=True)
class BreakRoom:
    """A break in seconds: its mean start, the bounds of its start, and the longest it may last
    before the next break."""

    begins: float
    earliest: float
    latest: float
    longest: float


def breaks_of(pattern: Pattern) -> list[BreakRoom]:
    """Return each break with its bounds between the break before and the one after it."""
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


def _with_patterns(
    plan: Plan,
    group: str,
    pattern: str,
    change: Callable[[tuple[Pattern, ...], Pattern], tuple[Pattern, ...]],
) -> Plan:
    def on_group(found: Group) -> Group:
        demand = found.demand
        if not isinstance(demand, Headcount):
            raise UnknownNameError("pattern", pattern, [])
        if pattern not in (names := [each.id for each in demand.patterns]):
            raise UnknownNameError("pattern", pattern, names)
        named = demand.patterns[names.index(pattern)]
        return replace(found, demand=replace(demand, patterns=change(demand.patterns, named)))

    return with_group(plan, group, on_group)


def _with_pattern(
    plan: Plan, group: str, pattern: str, change: Callable[[Pattern], Pattern]
) -> Plan:
    return _with_patterns(
        plan,
        group,
        pattern,
        lambda patterns, named: tuple(change(each) if each is named else each for each in patterns),
    )


def _break_at(pattern: Pattern, pause: int) -> Break:
    """Return a break by its number, counted from 1; raises UnknownNameError if there are fewer."""
    if pause > len(pattern.breaks):
        numbers = [str(k) for k in range(1, len(pattern.breaks) + 1)]
        raise UnknownNameError("break", str(pause), numbers)
    return pattern.breaks[pause - 1]


@dataclass(frozen=True, slots=True)
class AddBreak:
    """Add a break in the longest stretch of a pattern's day without one."""

    verb: Literal["add-break"]
    group: Id
    pattern: Id

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the break in the middle of that stretch."""
        return _with_pattern(plan, self.group, self.pattern, self._more)

    def _more(self, pattern: Pattern) -> Pattern:
        if len(pattern.breaks) >= MOST_BREAKS:
            raise PlanError(
                [
                    Fault(
                        "/groups",
                        f"'{pattern.called}' has {MOST_BREAKS} breaks already",
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
    """Set the share of one way of leaving, at the end of the day or for a break (counted from 1).

    The other ways keep their proportions.
    """

    verb: Literal["set-leaving"]
    group: Id
    pattern: Id
    way: Way
    share: Share
    pause: Annotated[int | None, Interval(ge=1, le=MOST_BREAKS)] = None

    def done(self, plan: Plan) -> Plan:
        """Return the plan with shares of leaving that add up to 1."""
        return _with_pattern(plan, self.group, self.pattern, self._left)

    def _left(self, pattern: Pattern) -> Pattern:
        if self.pause is None:
            return replace(pattern, leaving=self._shared(pattern.leaving))
        pause = _break_at(pattern, self.pause)
        breaks = list(pattern.breaks)
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


@dataclass(frozen=True, slots=True)
class CopyPattern:
    """Copy a pattern; nobody follows the copy yet."""

    verb: Literal["copy-pattern"]
    group: Id
    pattern: Id
    new: Id

    def done(self, plan: Plan) -> Plan:
        """Return the plan with both patterns."""

        def more(patterns: tuple[Pattern, ...], like: Pattern) -> tuple[Pattern, ...]:
            taken = [each.id for each in patterns]
            must_be_free(self.new, taken, "/groups", "a pattern")
            return (*patterns, replace(like, id=self.new, share=0.0))

        return _with_patterns(plan, self.group, self.pattern, more)


@dataclass(frozen=True, slots=True)
class RemovePattern:
    """Remove a pattern; a group keeps at least one."""

    verb: Literal["remove-pattern"]
    group: Id
    pattern: Id

    def done(self, plan: Plan) -> Plan:
        """Return the plan without it; the last pattern applies to everyone, other shares do not
        change."""

        def left(patterns: tuple[Pattern, ...], gone: Pattern) -> tuple[Pattern, ...]:
            others = tuple(each for each in patterns if each is not gone)
            if not others:
                what = f"'{self.group}' has no other pattern"
                raise PlanError([Fault("/groups", what, "add another one first")])
            return (replace(others[0], share=1.0),) if len(others) == 1 else others

        return _with_patterns(plan, self.group, self.pattern, left)


@dataclass(frozen=True, slots=True)
class PlainPattern:
    """Replace an observed distribution of starts or stays by a spread around a mean."""

    verb: Literal["plain-pattern"]
    group: Id
    pattern: Id
    which: Literal["start", "length"]

    def done(self, plan: Plan) -> Plan:
        """Return the plan with a spread of the same mean and standard deviation, in whole
        minutes."""
        return _with_pattern(plan, self.group, self.pattern, self._plain)

    def _plain(self, pattern: Pattern) -> Pattern:
        spread = (pattern.start if self.which == "start" else pattern.length).spread
        minutes = max(round(spread.sd / 60.0), 1)
        if self.which == "start":
            return replace(pattern, start=Start(round(spread.mean / 60.0) * 60 % DAY, minutes))
        return replace(pattern, length=Length(round(spread.mean / 60.0), minutes))


@dataclass(frozen=True, slots=True)
class SetBreakTime:
    """Let a break (counted from 1) begin at a time of day, or some time after people start."""

    verb: Literal["set-break-time"]
    group: Id
    pattern: Id
    pause: Annotated[int, Interval(ge=1, le=MOST_BREAKS)]
    by: Literal["at", "after"]

    def done(self, plan: Plan) -> Plan:
        """Return the plan in which the break keeps its mean start."""
        return _with_pattern(plan, self.group, self.pattern, self._timed)

    def _timed(self, pattern: Pattern) -> Pattern:
        pause = _break_at(pattern, self.pause)
        begins = round(pattern.break_start(pause) / STEP) * STEP
        if self.by == "at":
            timed = replace(pause, at=begins % DAY, after_minutes=None)
        else:
            worked = max(begins - pattern.start.spread.mean, 0.0) / 60.0
            timed = replace(pause, at=None, after_minutes=float(round(worked)))
        breaks = tuple(timed if each is pause else each for each in pattern.breaks)
        return replace(pattern, breaks=breaks)
