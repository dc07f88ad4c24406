"""From today's plan to the tuned one, change by change.

Each change is evaluated on top of the changes before it; these savings add up to the whole. The
next change is always the one that does most there: what mends the promise comes first, then what
saves most. A change that breaks the promise is one step with those after it up to the one that
mends it. Each step is also undone alone, with all others in place; these losses need not add up,
since two changes may do the same work, or one may pay only together with another.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import isfinite

from idle_harbor.core.figures.promise import PARTS
from idle_harbor.core.plan import Promise
from idle_harbor.core.tuner.designs.changes import Between, Change
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.designs.shapes import fitted
from idle_harbor.core.tuner.scoring.judge import (
    MONEY,
    Figure,
    Measured,
    figure_of,
    missed,
    weighted,
    worth,
)
from idle_harbor.core.tuner.scoring.scores import Counted, Slot
from idle_harbor.core.tuner.scoring.trials import Finding, Trial

#: Rounds of weeks on which the order is found. The changes are then evaluated on all weeks.
_ORDERED_BY = 2
#: Changes tried for each place, where the weeks allow it.
_TRIED = 2
#: So many changes at most are one step; where more of them lie between a break and its mend, each
#: is told by itself.
_TOGETHER = 3
#: A step that saves more than the one before it by this factor changes places with it.
_MORE = 1.05


@dataclass(frozen=True, slots=True)
class Step:
    """One change, or several of which one breaks the promise and another mends it.

    ``saves`` is the money of a month on top of the changes before it. ``adds`` is what it adds to
    each figure of the promise, by field; None where the figure has no bound before or after.
    ``alone_saves`` and ``alone_keeps`` are the extra money and the promise where this change alone
    is undone. ``keeps`` says whether the promise is kept once the change is made.
    """

    changes: tuple[Change, ...]
    saves: float
    adds: dict[str, float | None]
    alone_saves: float
    alone_keeps: bool
    keeps: bool


@dataclass(frozen=True, slots=True)
class Explained:
    """The changes in order, and the money of a month before and after all of them, on the same
    weeks."""

    steps: tuple[Step, ...]
    before: float
    after: float


class _Weeks:
    """Evaluates designs on the weeks of an explanation, each once."""

    def __init__(self, slots: Sequence[Slot], weeks: Sequence[Counted]) -> None:
        self.slots, self.weeks = tuple(slots), weeks
        self.known: dict[Design, Measured] = {}

    def measure(self, designs: Sequence[Design], many: int) -> Finding[list[Measured]]:
        """Evaluate designs on the first ``many`` weeks."""
        trials = []
        for design in dict.fromkeys(designs):
            have = len(self.known[design].slots) if design in self.known else 0
            if have < many:
                trials.append(Trial(design, self.slots[have:many]))
        if trials:
            found = yield trials
            for trial, scores in zip(trials, found, strict=True):
                known = self.known.get(trial.design, Measured((), ()))
                self.known[trial.design] = known.more(trial.slots, scores)
        return [self.known[design].first(many) for design in designs]


@dataclass(frozen=True, slots=True)
class _Amount:
    """How many weeks an explanation uses: ``few`` to try a change, ``many`` for the report, and how
    many changes it tries for each place."""

    few: int
    many: int
    tried: int


def _amount(changes: int, kinds: int, slots: int, most: int) -> _Amount:
    """All weeks are used where the budget of ``most`` candidate-weeks allows it, and one of each
    kind where even a few are too many."""
    # Each change is evaluated on the path, tried once at another place, and undone alone; the path
    # begins with no change.
    measured = 3 * changes + 1
    few, least = min(_ORDERED_BY * kinds, slots), _TRIED
    if few * (measured + (least - 1) * changes) > most:
        few = kinds
    if few * (measured + (least - 1) * changes) > most:
        least = 1
    affordable = (most - (least - 1) * few * changes) // measured
    many = max(min(affordable // kinds * kinds, slots), few)
    over = most - measured * many
    return _Amount(few, many, max(1 + over // max(changes * few, 1), least))


@dataclass
class _Explaining:
    """Finds the order of the changes between two designs, and evaluates them."""

    between: Between
    book: _Weeks
    promise: Promise
    amount: _Amount
    #: What all changes together miss on these weeks; no change is blamed for that.
    anyway: float = 0.0

    def made(self, numbers: Sequence[int]) -> Design:
        """The design with some of the changes."""
        if len(numbers) == len(self.between.changes):
            return self.between.after
        return fitted(self.between.made(numbers))

    def money(self, measured: Measured) -> float:
        """The money of a month."""
        return weighted(measured, self.book.weeks, MONEY)

    def keeps(self, measured: Measured) -> bool:
        """Whether the promise is kept."""
        return missed(measured, self.book.weeks, self.promise) <= self.anyway

    def order(self) -> Finding[list[int]]:
        """The changes, each place with the one that has the best objective there. Where the weeks
        do not allow to try all, the likeliest are tried."""
        order: list[int] = []
        ranked = [change.number for change in self.between.changes]
        while ranked:
            asked = ranked[: self.amount.tried]
            designs = [self.made([*order, number]) for number in asked]
            found = yield from self.book.measure(designs, self.amount.few)
            worths = {
                number: worth(measured, self.book.weeks, self.promise)
                for number, measured in zip(asked, found, strict=True)
            }
            best = min(asked, key=lambda number: (worths[number], number))
            order.append(best)
            beyond = ranked[len(asked) :]
            tried = sorted((n for n in asked if n != best), key=lambda n: worths[n])
            half = self.amount.tried // 2
            ranked = [*tried[:half], *beyond, *tried[half:]]
        return order

    def path(self, order: Sequence[int]) -> Finding[list[Measured]]:
        """The designs on the way from the first to the second, on all weeks."""
        designs = [self.made(order[:k]) for k in range(len(order) + 1)]
        found = yield from self.book.measure(designs, self.amount.many)
        self.anyway = missed(found[-1], self.book.weeks, self.promise)
        return found

    def by_savings(self, order: list[int]) -> Finding[list[int]]:
        """The order in which a step that saves more than the one before it has come first, where
        the promise is kept all the same. Each change is tried once."""
        on_path = yield from self.path(order)
        for k in range(1, len(order)):
            saves = [self.money(on_path[k + j - 1]) - self.money(on_path[k + j]) for j in (0, 1)]
            if not self.keeps(on_path[k - 1]) or saves[1] <= _MORE * max(saves[0], 0.0):
                continue
            design = self.made([*order[: k - 1], order[k]])
            (other,) = yield from self.book.measure([design], self.amount.many)
            first = self.money(on_path[k - 1]) - self.money(other)
            if self.keeps(other) and 2.0 * first > sum(saves):
                order[k - 1 : k + 1] = [order[k], order[k - 1]]
                on_path[k] = other
        return order

    def groups(self, order: Sequence[int], on_path: Sequence[Measured]) -> list[tuple[int, int]]:
        """The steps as ranges of the order."""
        keeps = [self.keeps(measured) for measured in on_path]
        found: list[tuple[int, int]] = []
        begin = 0
        while begin < len(order):
            end = begin + 1
            if keeps[begin] and not keeps[end]:
                near = range(end, min(begin + _TOGETHER, len(order)) + 1)
                end = next((k for k in near if keeps[k]), end)
            found.append((begin, end))
            begin = end
        return found

    def explained(self, order: Sequence[int]) -> Finding[Explained]:
        """The steps with what they do, and what undoing each alone does."""
        on_path = yield from self.path(order)
        groups = self.groups(order, on_path)
        without = [self.made([*order[:begin], *order[end:]]) for begin, end in groups]
        undone = yield from self.book.measure(without, self.amount.many)
        whole = self.money(on_path[-1])
        steps = tuple(
            Step(
                changes=tuple(self.between.changes[number] for number in order[begin:end]),
                saves=self.money(on_path[begin]) - self.money(on_path[end]),
                adds={
                    part.field: self._more(on_path[begin], on_path[end], figure_of(part))
                    for part in PARTS
                },
                alone_saves=self.money(less) - whole,
                alone_keeps=self.keeps(less),
                keeps=self.keeps(on_path[end]),
            )
            for (begin, end), less in zip(groups, undone, strict=True)
        )
        return Explained(steps, self.money(on_path[0]), whole)

    def _more(self, one: Measured, two: Measured, figure: Figure) -> float | None:
        weeks = self.book.weeks
        change = weighted(two, weeks, figure) - weighted(one, weeks, figure)
        return change if isfinite(change) else None


def explained(
    between: Between, slots: Sequence[Slot], weeks: Sequence[Counted], promise: Promise, most: int
) -> Finding[Explained]:
    """Order the changes and evaluate them on ``most`` candidate-weeks; see the module."""
    amount = _amount(len(between.changes), len(weeks), len(slots), most)
    book = _Weeks(slots, weeks)
    explaining = _Explaining(between, book, promise, amount)
    order = yield from explaining.by_savings((yield from explaining.order()))
    return (yield from explaining.explained(order))
