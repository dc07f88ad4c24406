"""What a search asks for: designs with the weeks that they are to go through."""

from __future__ import annotations

from collections.abc import Generator, Sequence
from dataclasses import dataclass
from itertools import chain
from typing import TypeAlias, TypeVar

from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.scoring.scores import Score, Slot


@dataclass(frozen=True, slots=True)
class Trial:
    """A design and the weeks that it is to go through."""

    design: Design
    slots: tuple[Slot, ...]


T = TypeVar("T")
#: Asks for trials and is given their scores; ends with what it has found.
Finding: TypeAlias = Generator[list[Trial], list[list[Score]], T]
#: The same, where what it has found is known elsewhere.
Asking: TypeAlias = Finding[None]


def parted(trials: Sequence[Trial], parts: int) -> list[Trial]:
    """The same in about so many parts of as many weeks, where trials are longer than that: several
    can work on one design."""
    most = max(-(-sum(len(trial.slots) for trial in trials) // parts), 1)
    return [
        Trial(trial.design, trial.slots[k : k + most])
        for trial in trials
        for k in range(0, len(trial.slots), most)
    ]


def put_together(trials: Sequence[Trial], scores: Sequence[Sequence[Score]]) -> list[list[Score]]:
    """The scores of each trial, from those of its parts in their order."""
    found = chain.from_iterable(scores)
    return [[next(found) for _ in trial.slots] for trial in trials]
