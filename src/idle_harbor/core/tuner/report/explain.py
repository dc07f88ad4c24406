"""From today's plan to the tuned one, change by change.

Each change is evaluated on top of the changes before it; these savings add up to the whole. Each is
also undone alone, with all others in place; these losses need not add up, since two changes may do
the same work, or one may pay only together with another.
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


@dataclass(frozen=True, slots=True)
class Step:
    """One change.

    ``saves`` is the money of a month on top of the changes before it. ``adds`` is what it adds to
    each figure of the promise, by field; None where the figure has no bound before or after.
    ``alone_saves`` and ``alone_keeps`` are the extra money and the promise where this change alone
    is undone. ``keeps`` says whether the promise is kept once the change is made.
    """

    change: Change
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


def explained(
    between: Between, slots: Sequence[Slot], weeks: Sequence[Counted], promise: Promise, most: int
) -> Finding[Explained]:
    """Order the changes greedily and evaluate them; see the module.

    Each place takes the change with the best objective there. Where ``most`` candidate-weeks do not
    allow to try all changes at each place, the likeliest are tried.
    """
    book = _Weeks(slots, weeks)
    kinds = len(weeks)
    left = [change.number for change in between.changes]
    # Each change is evaluated on the path and undone alone; the path begins with no change. All
    # weeks are used where the budget allows it, one of each kind where even a few are too many.
    measured = 2 * len(left) + 1
    few, least = min(_ORDERED_BY * kinds, len(slots)), _TRIED
    if few * (measured + (least - 1) * len(left)) > most:
        few = kinds
    if few * (measured + (least - 1) * len(left)) > most:
        least = 1
    affordable = (most - (least - 1) * few * len(left)) // measured
    slots = slots[: max(affordable // kinds * kinds, few)]
    over = most - measured * len(slots)
    tried = max(1 + over // max(len(left) * few, 1), least)
    made: list[int] = []
    order: list[int] = []
    ranked = left
    while left:
        asked = ranked[:tried]
        designs = [fitted(between.made([*made, number])) for number in asked]
        found = yield from book.measure(designs, few)
        worths = {
            number: worth(measured, weeks, promise)
            for number, measured in zip(asked, found, strict=True)
        }
        best = min(asked, key=lambda number: (worths[number], number))
        made.append(best)
        order.append(best)
        left = [number for number in left if number != best]
        beyond = [number for number in ranked if number in left and number not in worths]
        ranked = sorted(
            (number for number in worths if number in left), key=lambda number: worths[number]
        )
        ranked = [*ranked[: tried // 2], *beyond, *ranked[tried // 2 :]]

    many = len(slots)
    path = [fitted(between.made(order[:k])) for k in range(len(order) + 1)]
    path[-1] = between.after
    on_path = yield from book.measure(path, many)
    without = [fitted(between.made([each for each in order if each != number])) for number in order]
    undone = yield from book.measure(without, many)

    def more(one: Measured, two: Measured, figure: Figure) -> float | None:
        change = weighted(two, weeks, figure) - weighted(one, weeks, figure)
        return change if isfinite(change) else None

    steps = []
    whole = on_path[-1]
    for k, number in enumerate(order):
        one, two, less = on_path[k], on_path[k + 1], undone[k]
        steps.append(
            Step(
                change=between.changes[number],
                saves=-(weighted(two, weeks, MONEY) - weighted(one, weeks, MONEY)),
                adds={part.field: more(one, two, figure_of(part)) for part in PARTS},
                alone_saves=weighted(less, weeks, MONEY) - weighted(whole, weeks, MONEY),
                alone_keeps=missed(less, weeks, promise) == 0.0,
                keeps=missed(two, weeks, promise) == 0.0,
            )
        )
    return Explained(
        tuple(steps), weighted(on_path[0], weeks, MONEY), weighted(whole, weeks, MONEY)
    )
