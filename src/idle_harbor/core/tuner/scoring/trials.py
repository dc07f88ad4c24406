"""What the search asks to have evaluated: designs, each with its slots."""

from __future__ import annotations

from collections.abc import Generator, Sequence
from dataclasses import dataclass
from itertools import chain
from typing import TypeAlias, TypeVar

from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.scoring.scores import Score, Slot


@dataclass(frozen=True, slots=True)
class Trial:
    """A design, and the slots on which it is to be evaluated."""

    design: Design
    slots: tuple[Slot, ...]


T = TypeVar("T")
#: A generator that yields trials, receives their scores, and returns a result.
Finding: TypeAlias = Generator[list[Trial], list[list[Score]], T]
#: The same without a result.
Asking: TypeAlias = Finding[None]


def parted(trials: Sequence[Trial], parts: int) -> list[Trial]:
    """Split long trials, so that all of them fall into about ``parts`` pieces of equal length and
    several processes can evaluate one design."""
    most = max(-(-sum(len(trial.slots) for trial in trials) // parts), 1)
    return [
        Trial(trial.design, trial.slots[k : k + most])
        for trial in trials
        for k in range(0, len(trial.slots), most)
    ]


def renumbered(asking: Finding[T], order: Sequence[int]) -> Finding[T]:
    """Run a generator whose slots name the weeks by their places in ``order``, and ask for the
    weeks at the places that it holds."""
    scores: list[list[Score]] | None = None
    while True:
        try:
            trials = asking.send(scores)  # type: ignore[arg-type]
        except StopIteration as over:
            found: T = over.value
            return found
        scores = yield [
            Trial(each.design, tuple(Slot(order[slot.week], slot.seed) for slot in each.slots))
            for each in trials
        ]


def put_together(trials: Sequence[Trial], scores: Sequence[Sequence[Score]]) -> list[list[Score]]:
    """The scores of each trial, from the scores of its pieces in their order."""
    found = chain.from_iterable(scores)
    return [[next(found) for _ in trial.slots] for trial in trials]
