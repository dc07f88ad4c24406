"""What a kind of long work is: parts that any process may work out, and what becomes of them.

A part is worked out of the job's input and its number alone, so that any process may do it, and
doing it twice gives the same. Input, parts and result are values that JSON can hold.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal, TypeAlias

from idle_harbor.store.database import Database

Input: TypeAlias = Mapping[str, Any]
#: What works out one part by its number.
Part: TypeAlias = Callable[[int], Any]
#: Simulations take turns with each other; files, which take long and mostly wait for the database,
#: go on beside them.
Queue: TypeAlias = Literal["simulations", "files"]
QUEUES: tuple[Queue, ...] = ("simulations", "files")


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of job: what works out a part once the input is read, and, where there is more to say
    than the parts do, the result of all of them in order.

    ``open`` needs nothing but the input, so that its parts may be worked out anywhere; ``at`` needs
    the database too.
    """

    name: str
    open: Callable[[Input], Part] | None = None
    at: Callable[[Database, Input], Part] | None = None
    whole: Callable[[Input, Sequence[Any]], Any] | None = None
    queue: Queue = "simulations"

    def part(self, database: Database, given: Input) -> Part:
        """What works out the parts of an input in this process."""
        if self.at is not None:
            return self.at(database, given)
        assert self.open is not None
        return self.open(given)
