"""What weeks of a candidate say of its money and of the promise."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import inf, isinf, sqrt
from operator import attrgetter
from typing import TypeAlias

from idle_harbor.core.figures.intervals import Estimate, estimate
from idle_harbor.core.figures.promise import (
    PARTS,
    STANDINGS,
    Part,
    Standing,
    Verdicts,
    verdicts_on,
    worst,
)
from idle_harbor.core.plan import Promise
from idle_harbor.core.tuner.scoring.scores import Counted, Score, Slot

#: After how many weeks of each kind a candidate may be given up; the last is how many there are.
RUNGS = (1, 2, 4, 8, 16)
#: How sure it has to be that a design keeps its promise, in standard errors: what is chosen among
#: many looks better on the weeks that it was chosen by than it is.
SURE, SURER = 1.5, 2.5
#: A promise of nothing at all is missed by these units.
_LEAST_UNIT = 1e-3
#: However much is missed, more counts as so many times the limit.
_MOST_OVER = 20.0
#: What the safest misses by less than this many times the limit, all may miss.
_BY_LITTLE = 1.0
#: What a candidate that misses its promise by as much as it promises is worth less, as a share.
_DEAR = 6.0
#: The part of what is usual in which it is counted at least.
_USUAL = 0.15

#: Of limits loosened by this part of what others need nobody can say that these need less.
_ABOUT = 0.95


@dataclass(frozen=True, slots=True)
class Measured:
    """The weeks of a candidate: in which slots, with what scores."""

    slots: tuple[Slot, ...]
    scores: tuple[Score, ...]

    def more(self, slots: Sequence[Slot], scores: Sequence[Score]) -> Measured:
        """These and some more."""
        return Measured((*self.slots, *slots), (*self.scores, *scores))

    def first(self, many: int) -> Measured:
        """The first of them."""
        return Measured(self.slots[:many], self.scores[:many])


#: A figure of one week of a candidate.
Figure: TypeAlias = Callable[[Score], float | None]
MONEY: Figure = attrgetter("money")


def figure_of(part: Part) -> Figure:
    """The figure of a part of the promise."""
    return lambda score: score.of(part)


def weighted(measured: Measured, weeks: Sequence[Counted], figure: Figure) -> float:
    """The mean of a figure over the weeks of each kind, by how often they come."""
    total = weight = 0.0
    for number, week in enumerate(weeks):
        found = [
            figure(score)
            for slot, score in zip(measured.slots, measured.scores, strict=True)
            if slot.week == number
        ]
        known = [value for value in found if value is not None]
        if known:
            total += week.weight * sum(known) / len(known)
            weight += week.weight
    return total / weight if weight else 0.0


def _values(measured: Measured, week: int, *, near: bool = False) -> list[tuple[Part, list[float]]]:
    """The values of each part of the promise in the weeks of one kind, where anybody felt it; with
    ``near`` of the figures that show how near the limits are."""
    rows = [
        score.near if near else score.promised
        for slot, score in zip(measured.slots, measured.scores, strict=True)
        if slot.week == week
    ]
    return [
        (part, [value for row in rows if (value := row[place]) is not None])
        for place, part in enumerate(PARTS)
    ]


def missed(
    measured: Measured,
    weeks: Sequence[Counted],
    promise: Promise,
    sure: float = 0.0,
    safest: Measured | None = None,
) -> float:
    """By how much the promise is missed: each part in units of its limit, the worst kind of week,
    all parts added. 0: it is kept, with each mean worse by ``sure`` standard errors, and that also
    by the wait just beyond: a quantile of few bad weeks jumps from seconds to minutes, and says
    nothing of how near it was before. What the ``safest`` misses by little on the same weeks is
    nobody's fault, and is not counted: no plan could do better."""
    near = bool(sure)
    anyway = None if safest is None else safest.first(len(measured.slots))
    worst = 0.0
    for number in range(len(weeks)):
        values = _values(measured, number, near=near)
        others = None if anyway is None else _values(anyway, number, near=near)
        total = 0.0
        for place, (part, found) in enumerate(values):
            limit, least = part.limit(promise), part.least
            over = _over(found, limit, least, sure)
            if over and others is not None:
                excused = _over(others[place][1], limit, least, sure)
                over = max(over - (excused if excused < _BY_LITTLE else 0.0), 0.0)
            total += over
        worst = max(worst, total)
    return worst


def without_room(
    measured: Measured, weeks: Sequence[Counted], promise: Promise, sure: float, worse: int
) -> set[str]:
    """The parts of a promise that are not kept with room to spare: by ``sure`` standard errors,
    though so many more weeks were as bad as the worst. Of bad weeks that are rare, as many came as
    luck had it."""
    found: set[str] = set()
    for number in range(len(weeks)):
        for part, values in _values(measured, number):
            bad = [min(values) if part.least else max(values)] * worse if values else []
            if _over([*values, *bad], part.limit(promise), part.least, sure):
                found.add(part.field)
    return found


def _over(found: Sequence[float], limit: float, least: bool, sure: float) -> float:
    if not found:
        return 0.0
    unit = max(1.0 - limit if least else limit, _LEAST_UNIT)
    if any(isinf(value) for value in found):
        return _MOST_OVER
    mean = sum(found) / len(found)
    if sure and len(found) > 1:
        variance = sum((value - mean) ** 2 for value in found) / (len(found) - 1)
        slip = sure * sqrt(variance / len(found))
        mean = mean - slip if least else mean + slip
    over = (limit - mean) / unit if least else (mean - limit) / unit
    return min(max(over, 0.0), _MOST_OVER) if over > 1e-9 else 0.0


def worth(
    measured: Measured,
    weeks: Sequence[Counted],
    promise: Promise,
    sure: float = 0.0,
    *,
    usual: float = 0.0,
    safest: Measured | None = None,
) -> float:
    """One number to search by, less is better: money, dearer the further the promise is missed.

    What is missed counts in the money of the plan itself, or in a part of what is ``usual``: a plan
    that serves nobody costs nothing.
    """
    money = weighted(measured, weeks, MONEY)
    unit = max(money, _USUAL * usual)
    return money + unit * _DEAR * missed(measured, weeks, promise, sure, safest) + 1e-6


def slack(measured: Measured, weeks: Sequence[Counted], promise: Promise) -> float:
    """The factor by which all limits could be tightened and still be kept: below 1 they have to be
    loosened."""
    least = inf
    for number in range(len(weeks)):
        for part, found in _values(measured, number):
            if not found:
                continue
            mean, limit = sum(found) / len(found), part.limit(promise)
            if part.least:
                mean, limit = 1.0 - mean, 1.0 - limit
            if mean > 0.0:
                least = min(least, limit / mean)
    return least


@dataclass(frozen=True, slots=True)
class Report:
    """What is told of a candidate: means over the weeks that count with 95 % intervals, and how
    each part of the promise stands in the kind of week where it stands worst. ``spoiled`` are hours
    of work a month; ``promised`` and ``standings`` go by the fields of the promise."""

    month: float
    money: Estimate
    billed: float
    spoiled: float
    promised: dict[str, Estimate]
    standings: dict[str, Standing]
    slack: float | None

    @property
    def standing(self) -> Standing:
        """How the worst part stands."""
        return worst(self.standings.values())


def _verdicts(measured: Measured, week: int, promise: Promise) -> Verdicts:
    figures = {
        part.field: estimate([None if isinf(value) else value for value in found])
        for part, found in _values(measured, week)
    }
    return verdicts_on(promise, figures)


def _all_weeks(measured: Measured, weeks: Sequence[Counted], figure: Figure) -> Estimate:
    """The mean by weight, with the interval of the kinds of week put together."""
    mean = square = total = 0.0
    unbounded = sure = False
    for number, week in enumerate(weeks):
        rows = zip(measured.slots, measured.scores, strict=True)
        found = [figure(score) for slot, score in rows if slot.week == number]
        known = [value for value in found if value is not None]
        if not known:
            continue
        unbounded = unbounded or any(isinf(value) for value in known)
        one = estimate([None if isinf(value) else value for value in known])
        mean += week.weight * (one.mean or 0.0)
        if one.half_width is not None:
            square, sure = square + (week.weight * one.half_width) ** 2, True
        total += week.weight
    if total == 0.0 or unbounded:
        return Estimate(None, None, unbounded=unbounded)
    return Estimate(mean / total, sqrt(square) / total if sure else None)


def report_on(measured: Measured, weeks: Sequence[Counted], promise: Promise) -> Report:
    """What is told of a candidate after its weeks."""
    found = [_verdicts(measured, number, promise) for number in range(len(weeks))]
    standings: dict[str, Standing] = {
        part.field: worst(each[part.field].standing for each in found) for part in PARTS
    }
    room = slack(measured, weeks, promise)
    return Report(
        month=weighted(measured, weeks, attrgetter("month")),
        money=_all_weeks(measured, weeks, MONEY),
        billed=weighted(measured, weeks, attrgetter("billed")),
        spoiled=weighted(measured, weeks, attrgetter("spoiled")),
        promised={part.field: _all_weeks(measured, weeks, figure_of(part)) for part in PARTS},
        standings=standings,
        slack=None if isinf(room) else room,
    )


def nearest(found: Sequence[tuple[Standing, float | None, float | None]]) -> list[int]:
    """The places of what comes nearest to a promise, the least money first, of how each stands, its
    slack and its money: of the best standing, those with limits that would have to be loosened
    least, about."""
    ranks = [(STANDINGS.index(each), inf if room is None else room) for each, room, _ in found]
    best = min((standing for standing, _ in ranks), default=0)
    bar = _ABOUT * max((room for standing, room in ranks if standing == best), default=0.0)
    near = [k for k, (standing, room) in enumerate(ranks) if standing == best and room >= bar]
    return sorted(near, key=lambda k: found[k][2] or 0.0)
