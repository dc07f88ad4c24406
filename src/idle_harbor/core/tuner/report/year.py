"""The tuned plan in every kind of week of the year, beside today's plan."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from idle_harbor.core.plan import Promise
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.scoring.judge import Measured, Report, report_on
from idle_harbor.core.tuner.scoring.scores import Counted, Slot
from idle_harbor.core.tuner.scoring.trials import Finding, Trial

#: The first seed of these weeks: the search and its report have others.
_YEAR_FROM = 4_000_001
#: Seeds of each week: at first so many at most, and so many in all where a plan keeps the promise
#: there by little or not at all.
_FIRST, _TIGHT = 8, 32
#: The share of the budget that the first seeds take at most.
_SHARE = 0.1
#: A plan keeps the promise easily where all limits could be tightened by this factor.
_EASILY = 1.3
#: A plan misses the promise by more where its slack is below this share of the other's.
_BY_MORE = 0.7


@dataclass(frozen=True, slots=True)
class CheckedWeek:
    """A kind of week with the reports on today's and on the tuned plan, on the same seeds."""

    week: Counted
    today: Report
    tuned: Report

    @property
    def today_keeps(self) -> bool:
        """Whether today's plan keeps the promise in the mean of its weeks."""
        return not _misses(self.today)

    @property
    def broken(self) -> bool:
        """Whether the tuned plan misses the promise in the mean of its weeks."""
        return _misses(self.tuned)

    @property
    def worse(self) -> bool:
        """Whether the tuned plan misses the promise where today's plan keeps it, or misses it by
        less."""
        if not self.broken or self.today_keeps:
            return self.broken
        return (self.tuned.slack or 0.0) < _BY_MORE * (self.today.slack or 0.0)


def _misses(report: Report) -> bool:
    return report.slack is not None and report.slack < 1.0


def first_seeds(weeks: int, designs: int, budget: int) -> int:
    """Return the seeds that each design gets at first in each week, by the budget of the study."""
    return min(max(int(_SHARE * budget) // (weeks * designs), 2), _FIRST)


def checked_year(
    today: Design,
    tuned: Design,
    weeks: Sequence[Counted],
    promise: Promise,
    budget: int,
    *,
    early: bool,
) -> Finding[tuple[CheckedWeek, ...]]:
    """Evaluate two designs in each kind of week.

    Weeks in which a design keeps the promise by little get more seeds.

    Args:
        today: the plan of today.
        tuned: the plan to be checked.
        weeks: all kinds of week; a slot names them by their place.
        promise: the limits.
        budget: candidate-weeks of the study; the first seeds take a tenth of it at most.
        early: whether the study ends early: then there are no further seeds.

    Returns:
        A row for each kind of week, those that break the promise first.
    """
    designs = list(dict.fromkeys((today, tuned)))
    rounds = first_seeds(len(weeks), len(designs), budget)
    found = yield from _more({}, designs, range(len(weeks)), 0, rounds)
    if not early:
        tight = [k for k, week in enumerate(weeks) if _tight(found[tuned, k], week, promise)]
        found = yield from _more(found, designs, tight, rounds, _TIGHT - rounds)
    rows = [
        CheckedWeek(
            week, _report(found[today, k], week, promise), _report(found[tuned, k], week, promise)
        )
        for k, week in enumerate(weeks)
    ]
    return tuple(sorted(rows, key=lambda row: (not row.worse, not row.broken)))


#: The scores of a design in a kind of week.
_Known = dict[tuple[Design, int], Measured]


def _more(
    known: _Known, designs: Sequence[Design], weeks: Sequence[int], first: int, rounds: int
) -> Finding[_Known]:
    """Add so many seeds of some weeks, from the ``first`` one on."""
    asked = [(design, week) for design in designs for week in weeks]
    slots = {
        week: tuple(Slot(week, _YEAR_FROM + first + turn) for turn in range(rounds))
        for week in weeks
    }
    scores = (yield [Trial(design, slots[week]) for design, week in asked]) if asked else []
    found = dict(known)
    for (design, week), each in zip(asked, scores, strict=True):
        before = found.get((design, week), Measured((), ()))
        found[design, week] = before.more(slots[week], each)
    return found


def _report(measured: Measured, week: Counted, promise: Promise) -> Report:
    alone = Measured(tuple(Slot(0, slot.seed) for slot in measured.slots), measured.scores)
    return report_on(alone, [_counting(week)], promise)


def _counting(week: Counted) -> Counted:
    """The week by itself: one with weight 0 would have no mean."""
    return Counted(week.name, week.monday)


def _tight(measured: Measured, week: Counted, promise: Promise) -> bool:
    report = _report(measured, week, promise)
    return report.standing != "kept" or (report.slack is not None and report.slack < _EASILY)
