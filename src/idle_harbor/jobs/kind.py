"""A kind of job: its parts, which any process may compute, and its result.

A part depends on the job's input and its own number alone. Any process may compute it, and
computing it twice gives the same. Input, parts and result are JSON values.
"""

from __future__ import annotations

from collections.abc import Callable, Generator, Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Literal, Protocol, TypeAlias

if TYPE_CHECKING:
    from idle_harbor.store.database import Database

Input: TypeAlias = Mapping[str, Any]
#: Computes one part by its number; in work that goes in rounds, by (number, piece).
Part: TypeAlias = Callable[[Any], Any]
#: Work in rounds: the generator yields the pieces of a round, receives their results in order, and
#: returns the result of the job.
Round: TypeAlias = Generator[list[Any], list[Any], Any]


class Rounds(Protocol):
    """Work in which the next parts follow from the results of earlier ones."""

    def run(self) -> Round:
        """The rounds. The same input gives the same rounds."""

    def took(self, seconds: float) -> None:
        """Report the seconds from the start of the job to the end of the latest round: the same
        number in all processes that follow the job."""

    def so_far(self) -> Any:
        """Intermediate results, as JSON values."""


#: Queues of a worker. Simulations take turns. Files take long and mostly wait for the database, so
#: they have a queue of their own.
Queue: TypeAlias = Literal["simulations", "files"]
QUEUES: tuple[Queue, ...] = ("simulations", "files")


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of job.

    ``open`` reads the input and returns the function that computes a part; such parts can run on
    any machine. ``at`` does the same for parts that need the database. ``whole`` makes the stored
    result from all parts in order. ``rounds`` is set where parts follow from earlier ones.
    """

    name: str
    open: Callable[[Input], Part] | None = None
    at: Callable[[Database, Input], Part] | None = None
    whole: Callable[[Input, Sequence[Any]], Any] | None = None
    rounds: Callable[[Input], Rounds] | None = None
    queue: Queue = "simulations"

    def part(self, database: Database, given: Input) -> Part:
        """The function that computes the parts of an input in this process."""
        if self.at is not None:
            return self.at(database, given)
        assert self.open is not None
        return self.open(given)
