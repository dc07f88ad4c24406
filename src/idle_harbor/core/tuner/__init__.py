"""The search for the best settings of a pool under its promise, and what the next second costs."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from idle_harbor.core.base.stopping import go_on, in_threads
from idle_harbor.core.calendar.clock import week_start
from idle_harbor.core.plan import Plan
from idle_harbor.core.tuner.designs.design import in_plan
from idle_harbor.core.tuner.report.answer import Answer, Question
from idle_harbor.core.tuner.scoring.scores import Counted, Score
from idle_harbor.core.tuner.scoring.trials import Trial, parted, put_together
from idle_harbor.core.tuner.study import Study

__all__ = ["Answer", "Counted", "Question", "Study", "in_plan", "tune"]

#: Parts of a round: enough for two threads to end at about one time.
_PARTS = 8

#: Works trials out, in their order.
Working = Callable[[Study, Sequence[Trial]], list[list[Score]]]


def on_threads(study: Study, trials: Sequence[Trial]) -> list[list[Score]]:
    """Work trials out on two threads."""
    parts = parted(trials, _PARTS)
    found = in_threads(lambda trial: study.tried.scores(trial.design, trial.slots), parts)
    return put_together(trials, found)


def tune(
    plan: Plan,
    question: Question,
    *,
    work: Working = on_threads,
    told: Callable[[Study], None] = lambda _: None,
) -> Answer:
    """Run a study of a checked plan to its answer.

    ``told`` is called after each round of trials, and may end the study early. Raises
    UnknownNameError for a pool that the plan lacks, NotWantedError once nobody waits for it.
    """
    study = Study(plan, question)
    asking = study.run()
    scores: list[list[Score]] | None = None
    while True:
        try:
            trials = asking.send(scores)  # type: ignore[arg-type]
        except StopIteration as over:
            answer: Answer = over.value
            return answer
        go_on()
        scores = work(study, trials)
        told(study)


def ordinary(plan: Plan) -> tuple[Counted, ...]:
    """The plan's own week alone."""
    return (Counted("ordinary", week_start(plan.week_of)),)
