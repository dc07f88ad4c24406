"""Studies of the Tuner as long work: candidates are worked out in rounds, where there is room."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from idle_harbor.core.plan import Plan
from idle_harbor.core.tuner import Question, Study
from idle_harbor.core.tuner.scoring.scores import Score, Tried
from idle_harbor.core.tuner.scoring.trials import Trial, parted, put_together
from idle_harbor.formats.plan.codec import plan_of, to_values
from idle_harbor.formats.reports.studies import (
    answer_values,
    question_of,
    question_values,
    score_of,
    score_values,
    so_far_values,
)
from idle_harbor.jobs.asking import LOOKED_AT, NOBODY, Asker, wish_of
from idle_harbor.jobs.kind import Input, Kind, Part, Round, Rounds
from idle_harbor.store.jobs import Wish

#: Pieces of a round at most: so many can be worked on at once.
_PIECES = 24


def pieces_of(trials: Sequence[Trial]) -> list[tuple[Trial, ...]]:
    """Trials in pieces of about as many weeks each: of one design too, where that is for long."""
    weeks = sum(len(trial.slots) for trial in trials)
    size = max(weeks // _PIECES, 1)
    found: list[tuple[Trial, ...]] = []
    now: list[Trial] = []
    for trial in parted(trials, _PIECES):
        now.append(trial)
        if sum(len(each.slots) for each in now) >= size:
            found.append(tuple(now))
            now = []
    return [*found, tuple(now)] if now else found


class _Rounds:
    """The rounds of one study."""

    def __init__(self, given: Input) -> None:
        self._plan, self._question = plan_of(given["plan"]), question_of(given["question"])
        self._study = Study(self._plan, self._question)

    def run(self) -> Round:
        """Ask for pieces until there is an answer."""
        asking = self._study.run()
        scores: list[list[Score]] | None = None
        while True:
            try:
                trials = asking.send(scores)  # type: ignore[arg-type]
            except StopIteration as over:
                return answer_values(self._plan, self._question, over.value)
            done = yield [*pieces_of(trials)]
            parts = [[score_of(each) for each in part] for piece in done for part in piece]
            scores = put_together(trials, parts)

    def took(self, seconds: float) -> None:
        """How long it has taken so far."""
        self._study.took(seconds)

    def so_far(self) -> Any:
        """What is known before the answer."""
        return {"so_far": so_far_values(self._plan, self._study.so_far())}


def _rounds(given: Input) -> Rounds:
    return _Rounds(given)


def _open(given: Input) -> Part:
    tried = Tried(plan_of(given["plan"]), question_of(given["question"]).simulated)

    def part(item: tuple[int, tuple[Trial, ...]]) -> Any:
        return [[score_values(s) for s in tried.scores(t.design, t.slots)] for t in item[1]]

    return part


STUDY = Kind("study", _open, rounds=_rounds)


def study_wish(
    plan: Plan, question: Question, by: Asker = NOBODY, plan_id: int | None = None
) -> Wish:
    """The job that finds the best settings of a pool of a checked plan."""
    given = {"plan": to_values(plan), "question": question_values(question), "plan_id": plan_id}
    title = f"{plan.name}: the best settings of {question.pool}"
    # As many parts as it turns out to have; until then about so many.
    return wish_of("study", title, by, LOOKED_AT, max(question.budget // 12, 8), given)
