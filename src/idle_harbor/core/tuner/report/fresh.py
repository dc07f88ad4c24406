"""Weeks that nobody has searched with, each used once, for what a search has found."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from idle_harbor.core.plan import Promise
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.report.answer import Point, Question
from idle_harbor.core.tuner.scoring.judge import Measured, report_on
from idle_harbor.core.tuner.scoring.scores import Score, Slot
from idle_harbor.core.tuner.scoring.trials import Finding, T, Trial
from idle_harbor.core.tuner.search.effort import Effort
from idle_harbor.core.tuner.search.search import Search

#: Seeds by what they are for; none is used for two things, nor by a search.
FRESH_FROM, SURE_FROM = 2_000_001, 3_000_001


@dataclass
class Fresh:
    """Fresh weeks for what a search has found, as far as the budget goes; ``used`` counts them."""

    question: Question
    promise: Promise
    effort: Effort
    search: Search
    used: int = field(default=0, init=False)

    @property
    def left(self) -> int:
        """Weeks that may still be used."""
        return self.question.budget - self.search.used - self.used

    def slots(self, first: int, rounds: int) -> tuple[Slot, ...]:
        """So many rounds of the weeks that count, from a seed on."""
        return tuple(
            Slot(week, first + turn)
            for turn in range(rounds)
            for week in range(len(self.question.weeks))
        )

    def measured(
        self, designs: Sequence[Design], first: int, rounds: int
    ) -> Finding[list[Measured]]:
        """Designs on so many rounds of weeks from a seed on."""
        slots = self.slots(first, rounds)
        scores = yield from self.scored([Trial(design, slots) for design in designs])
        return [Measured(slots, tuple(found)) for found in scores]

    def scored(self, trials: list[Trial]) -> Finding[list[list[Score]]]:
        """The scores of trials, their weeks counted."""
        self.used += sum(len(trial.slots) for trial in trials)
        return (yield trials)

    def told(self, named: Sequence[tuple[str, Design]]) -> Finding[list[Point]]:
        """Designs with their names and what fresh weeks say of them."""
        measured = yield from self.measured(
            [design for _, design in named], FRESH_FROM, self.effort.fresh
        )
        return [
            Point(name, design, report_on(each, self.question.weeks, self.promise))
            for (name, design), each in zip(named, measured, strict=True)
        ]

    def counted(self, asking: Finding[T]) -> Finding[T]:
        """The same, with its weeks counted."""
        scores: list[list[Score]] | None = None
        while True:
            try:
                trials = asking.send(scores)  # type: ignore[arg-type]
            except StopIteration as over:
                found: T = over.value
                return found
            scores = yield from self.scored(trials)
