"""Fresh weeks: weeks that the search has not seen, each used for one purpose."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from idle_harbor.core.plan import Promise
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.report.answer import Point, Question
from idle_harbor.core.tuner.report.year import first_seeds
from idle_harbor.core.tuner.scoring.judge import Measured, report_on
from idle_harbor.core.tuner.scoring.scores import Score, Slot
from idle_harbor.core.tuner.scoring.trials import Finding, T, Trial
from idle_harbor.core.tuner.search.effort import Effort
from idle_harbor.core.tuner.search.search import Search

#: First seeds by purpose. No seed serves two purposes or the search.
FRESH_FROM, SURE_FROM = 2_000_001, 3_000_001

_BEYOND = 0.1


def weeks_of_study(question: Question) -> int:
    """Return the candidate-weeks that a study simulates at most, up to the last seeds of the
    year."""
    weeks = question.simulated
    year = 2 * first_seeds(len(weeks), 2, question.budget) * len(weeks) if len(weeks) > 1 else 0
    return question.budget + int(2 * _BEYOND * question.budget) + year


@dataclass
class Fresh:
    """Evaluates designs on fresh weeks; ``used`` counts candidate-weeks.

    ``budget`` is that of the whole study: smaller than the question's where it ends early.
    """

    question: Question
    promise: Promise
    effort: Effort
    search: Search
    budget: int
    used: int = field(default=0, init=False)

    @property
    def left_to_explain(self) -> int:
        """Candidate-weeks left for the explanation, which may take a tenth of the budget more."""
        return self.left + int(_BEYOND * self.budget)

    @property
    def left_to_simplify(self) -> int:
        """Candidate-weeks left for the removal of needless changes, which may take as many more as
        the explanation."""
        return self.left + int(2 * _BEYOND * self.budget)

    @property
    def left(self) -> int:
        """Candidate-weeks left."""
        return self.budget - self.search.used - self.used

    def slots(self, first: int, rounds: int) -> tuple[Slot, ...]:
        """Slots of so many rounds of the kinds of week, from a seed on."""
        return tuple(
            Slot(week, first + turn)
            for turn in range(rounds)
            for week in range(len(self.question.weeks))
        )

    def measured(
        self, designs: Sequence[Design], first: int, rounds: int
    ) -> Finding[list[Measured]]:
        """Evaluate designs on so many rounds of weeks, from a seed on."""
        slots = self.slots(first, rounds)
        scores = yield from self.scored([Trial(design, slots) for design in designs])
        return [Measured(slots, tuple(found)) for found in scores]

    def scored(self, trials: list[Trial]) -> Finding[list[list[Score]]]:
        """Have trials evaluated, and count their weeks."""
        self.used += sum(len(trial.slots) for trial in trials)
        return (yield trials)

    def told(self, named: Sequence[tuple[str, Design]]) -> Finding[list[Point]]:
        """Points of designs: their names, and their reports on fresh weeks."""
        measured = yield from self.measured(
            [design for _, design in named], FRESH_FROM, self.effort.fresh
        )
        return [
            Point(name, design, report_on(each, self.question.weeks, self.promise))
            for (name, design), each in zip(named, measured, strict=True)
        ]

    def counted(self, asking: Finding[T]) -> Finding[T]:
        """Run a generator of trials, and count their weeks."""
        scores: list[list[Score]] | None = None
        while True:
            try:
                trials = asking.send(scores)  # type: ignore[arg-type]
            except StopIteration as over:
                found: T = over.value
                return found
            scores = yield from self.scored(trials)
