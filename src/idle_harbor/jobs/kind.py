"""What a kind of long work is: parts that any process may work out, and what becomes of them.

A part is worked out of the job's input and its number alone, so that any process may do it, and
doing it twice gives the same. Input, parts and result are values that JSON can hold.
"""

from __future__ import annotations

from collections.abc import Callable, Generator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal, Protocol, TypeAlias

from idle_harbor.store.database import Database

Input: TypeAlias = Mapping[str, Any]
#: What works out one part by its number; of work in rounds by (number, piece).
Part: TypeAlias = Callable[[Any], Any]
#: Work whose next parts follow from those that are done: it gives the pieces of a round, is given
#: what came of them in their order, and ends with the whole.
Round: TypeAlias = Generator[list[Any], list[Any], Any]


class Rounds(Protocol):
    """Work in rounds, from its beginning."""

    def run(self) -> Round:
        """The rounds; the same input gives the same ones."""

    def took(self, seconds: float) -> None:
        """How long after its beginning a round was over: the same for all who follow it."""

    def so_far(self) -> Any:
        """What is known by now, as values that JSON holds."""


#: Simulations take turns with each other; files, which take long and mostly wait for the database,
#: go on beside them.
Queue: TypeAlias = Literal["simulations", "files"]
QUEUES: tuple[Queue, ...] = ("simulations", "files")


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of job: what works out a part once the input is read, and, where there is more to say
    than the parts do, the result of all of them in order.

    ``open`` needs nothing but the input, so that its parts may be worked out anywhere; ``at`` needs
    the database too. Where parts follow from each other, ``rounds`` says which come next.
    """

    name: str
    open: Callable[[Input], Part] | None = None
    at: Callable[[Database, Input], Part] | None = None
    whole: Callable[[Input, Sequence[Any]], Any] | None = None
    rounds: Callable[[Input], Rounds] | None = None
    queue: Queue = "simulations"

    def part(self, database: Database, given: Input) -> Part:
        """What works out the parts of an input in this process."""
        if self.at is not None:
            return self.at(database, given)
        assert self.open is not None
        return self.open(given)
