"""Cost and promise of a candidate, estimated from its simulated weeks."""

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

#: Weeks of each kind after which a candidate may be dropped; the last number is all of them.
RUNGS = (1, 2, 4, 8, 16)
#: Standard errors by which a design has to keep its promise. A candidate that is chosen among many
#: looks better on the weeks of the choice than it is.
SURE, SURER = 1.5, 2.5
#: The unit of a limit of zero.
_LEAST_UNIT = 1e-3
#: Beyond so many times the limit a miss counts no further.
_MOST_OVER = 20.0
#: A miss of the safest candidate below so many times the limit is excused in all candidates.
_BY_LITTLE = 1.0
#: The penalty for a miss of one limit, in units of money.
_DEAR = 6.0
#: The share of the usual money that is the least unit of the penalty.
_USUAL = 0.15

#: Slacks within this factor of the best are not told apart.
_ABOUT = 0.95


@dataclass(frozen=True, slots=True)
class Measured:
    """The weeks of a candidate: its scores, and the slot of each."""

    slots: tuple[Slot, ...]
    scores: tuple[Score, ...]

    def more(self, slots: Sequence[Slot], scores: Sequence[Score]) -> Measured:
        """These weeks and some more."""
        return Measured((*self.slots, *slots), (*self.scores, *scores))

    def first(self, many: int) -> Measured:
        """The first ``many`` weeks."""
        return Measured(self.slots[:many], self.scores[:many])


#: A figure of one week of a candidate.
Figure: TypeAlias = Callable[[Score], float | None]
MONEY: Figure = attrgetter("money")


def figure_of(part: Part) -> Figure:
    """The figure of a part of the promise."""
    return lambda score: score.of(part)


def weighted(measured: Measured, weeks: Sequence[Counted], figure: Figure) -> float:
    """The mean of a figure over the kinds of week, weighted by how often each kind comes.

    Weeks in which the figure is None are left out; 0 where all are.
    """
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
    """The values of each part of the promise in the weeks of one kind. None is left out. With
    ``near``, the figures that show how near the limits are."""
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
    """By how much a candidate misses the promise.

    Each part counts in units of its limit; the parts are added, and the worst kind of week counts.

    Args:
        measured: the weeks of the candidate.
        weeks: the kinds of week.
        promise: the limits.
        sure: standard errors by which each mean is made worse before it is compared. With any, the
            figures ``near`` the limits are compared instead: a percentile of few bad weeks jumps
            from seconds to minutes, and does not show how near it was before.
        safest: weeks of the safest candidate. What it misses by little on the same weeks no plan
            could keep, so that is not counted.

    Returns:
        0 where the promise is kept.
    """
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
    """The fields of the promise that are not kept with room to spare.

    A part has room where its mean keeps the limit by ``sure`` standard errors after ``worse``
    further weeks as bad as the worst one are added: the number of rare bad weeks is a matter of
    luck.
    """
    found: set[str] = set()
    for number in range(len(weeks)):
        for part, values in _values(measured, number):
            bad = [min(values) if part.least else max(values)] * worse if values else []
            if _over([*values, *bad], part.limit(promise), part.least, sure):
                found.add(part.field)
    return found


def _over(found: Sequence[float], limit: float | None, least: bool, sure: float) -> float:
    if not found or limit is None:
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
    """The objective of the search, less is better: money plus a penalty for a missed promise.

    The penalty counts in units of the candidate's own money, or of a share of the ``usual`` money
    where that is more: a plan that serves nobody costs nothing. See :func:`missed` for the other
    arguments.
    """
    money = weighted(measured, weeks, MONEY)
    unit = max(money, _USUAL * usual)
    return money + unit * _DEAR * missed(measured, weeks, promise, sure, safest) + 1e-6


def slack(measured: Measured, weeks: Sequence[Counted], promise: Promise) -> float:
    """The factor by which all limits could be divided and still be kept.

    Above 1 the limits could be tighter, below 1 they have to be looser. Infinite where no figure is
    known.
    """
    least = inf
    for number in range(len(weeks)):
        for part, found in _values(measured, number):
            limit = part.limit(promise)
            if not found or limit is None:
                continue
            mean = sum(found) / len(found)
            if part.least:
                mean, limit = 1.0 - mean, 1.0 - limit
            if mean > 0.0:
                least = min(least, limit / mean)
    return least


@dataclass(frozen=True, slots=True)
class Report:
    """What is reported of a candidate: means over the kinds of week with 95 % intervals, and the
    standing of each part that is promised in its worst kind of week.

    ``month`` and ``money`` (what settings can change) are a month's; ``billed`` are host-hours of a
    week, ``spoiled`` hours of work of a month. ``promised`` and ``standings`` go by the fields of
    the promise. ``broken_share`` is the share of weeks that break the promise by themselves.
    """

    month: float
    money: Estimate
    billed: float
    spoiled: float
    promised: dict[str, Estimate]
    standings: dict[str, Standing]
    slack: float | None
    broken_share: float

    @property
    def standing(self) -> Standing:
        """The standing of the worst part."""
        return worst(self.standings.values())


def _verdicts(measured: Measured, week: int, promise: Promise) -> Verdicts:
    figures = {
        part.field: estimate([None if isinf(value) else value for value in found])
        for part, found in _values(measured, week)
    }
    return verdicts_on(promise, figures)


def _all_weeks(measured: Measured, weeks: Sequence[Counted], figure: Figure) -> Estimate:
    """The weighted mean over the kinds of week, with the interval of that mean."""
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
    """The report on a candidate, from its weeks."""
    found = [_verdicts(measured, number, promise) for number in range(len(weeks))]
    standings: dict[str, Standing] = {
        part.field: worst(each[part.field].standing for each in found)
        for part in PARTS
        if part.limit(promise) is not None
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
        broken_share=weighted(measured, weeks, lambda score: float(_breaks(score, promise))),
    )


def _breaks(score: Score, promise: Promise) -> bool:
    """Whether one week by itself breaks a promise."""
    values = zip(PARTS, score.promised, strict=True)
    return any(
        _over([value], part.limit(promise), part.least, 0.0) > 0.0
        for part, value in values
        if value is not None
    )


def nearest(found: Sequence[tuple[Standing, float | None, float | None]]) -> list[int]:
    """The places of the candidates that come nearest to the promise, the least money first.

    Args:
        found: standing, slack and money of each candidate.

    Returns:
        Of the candidates with the best standing, those whose slack is near the largest.
    """
    ranks = [(STANDINGS.index(each), inf if room is None else room) for each, room, _ in found]
    best = min((standing for standing, _ in ranks), default=0)
    bar = _ABOUT * max((room for standing, room in ranks if standing == best), default=0.0)
    near = [k for k, (standing, room) in enumerate(ranks) if standing == best and room >= bar]
    return sorted(near, key=lambda k: found[k][2] or 0.0)
