"""From the plan of today to the tuned one, change by change.

In the order found each change is measured on top of those before it: these figures add up to the
whole. Undone alone, each is taken back from the tuned plan with all others left: these need not add
up, since two changes may do the same work, or one only pays with another.
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

#: Rounds of weeks on which the order is found; it is measured on all.
_ORDERED_BY = 2
#: Changes tried for each place, where weeks reach for that.
_TRIED = 2


@dataclass(frozen=True, slots=True)
class Step:
    """One change: what it saves a month on top of those before it, and what it adds to each figure
    of the promise, by its field (None where it has no bound before or after); what is lost where it
    alone is undone; and whether the promise is kept once it is made."""

    change: Change
    saves: float
    adds: dict[str, float | None]
    alone_saves: float
    alone_keeps: bool
    keeps: bool


@dataclass(frozen=True, slots=True)
class Explained:
    """The steps in order, and the money of a month before and after them all on the same weeks."""

    steps: tuple[Step, ...]
    before: float
    after: float


class _Weeks:
    """Designs on the weeks that an explanation goes by, each worked out once."""

    def __init__(self, slots: Sequence[Slot], weeks: Sequence[Counted]) -> None:
        self.slots, self.weeks = tuple(slots), weeks
        self.known: dict[Design, Measured] = {}

    def measure(self, designs: Sequence[Design], many: int) -> Finding[list[Measured]]:
        """Designs on the first of the weeks."""
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
    """Put the changes in the best order and measure them; see the module.

    At each place stands the change that is worth most there: money, and the promise nearer. Where
    so many weeks do not reach to try all of them at each place, the likeliest are.
    """
    book = _Weeks(slots, weeks)
    kinds = len(weeks)
    left = [change.number for change in between.changes]
    # Each change is on the path, which begins with none, and undone alone: by all weeks only where
    # these are enough, and by one of each kind where even a few are too many.
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
