"""A long question: asked once, answered at once where it is short, and by a job where it is not.

Each kind of long question is one file of ``jobs.kinds``: what is asked, its parts, how long they
take, and what is made of them. Pages, the command line and workers go through it alike.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Generic, TypeVar

from idle_harbor.core.base.stopping import go_on, in_threads
from idle_harbor.formats.plan.codec import content_hash
from idle_harbor.formats.reports.outcomes import as_values, from_values
from idle_harbor.jobs.kind import Input, Kind, Part
from idle_harbor.runtime import engine_version

if TYPE_CHECKING:
    from idle_harbor.store.jobs import Wish

#: What is asked: a plan and what is to be known of it.
Q = TypeVar("Q")
#: What one part comes to, a value of the core.
V = TypeVar("V")


@dataclass(frozen=True, slots=True)
class Asker:
    """Who asks, and for what place of the application (a path of its pages) it is shown."""

    owner: str
    link: str = ""


#: Whoever asks on the command line or from a notebook.
NOBODY = Asker("")
#: Priorities of jobs: what somebody looks at goes before what goes on beside.
LOOKED_AT, BESIDE = 1, 0


def wish_of(
    kind: str, title: str, by: Asker, priority: int, parts: int, given: Mapping[str, Any]
) -> Wish:
    """A job as the queue takes it, alike for the same work."""
    # The command line asks without a database, and need not load what talks to one.
    from idle_harbor.store.jobs import Wish

    engine = engine_version()
    key = content_hash({"kind": kind, "engine": engine, **given})
    return Wish(kind, key, title, by.owner, priority, given, parts, by.link, engine)


@dataclass(frozen=True, slots=True)
class LongQuestion(Generic[Q, V]):
    """A kind of long question about a checked plan.

    ``write`` gives a question as JSON values, ``read`` has it back. ``parts`` says how many parts
    it has, ``open`` gives what works one out by its number; ``value`` is the type of what that
    gives. ``short`` says whether all of them take less than a second or so. ``result`` makes the
    values that are stored with a job that is done, where there are any.
    """

    name: str
    title: Callable[[Q], str]
    write: Callable[[Q], dict[str, Any]]
    read: Callable[[Input], Q]
    parts: Callable[[Q], int]
    open: Callable[[Q], Callable[[int], V]]
    value: Any
    short: Callable[[Q], bool]
    result: Callable[[Q, Sequence[V]], Any] | None = None
    priority: int = LOOKED_AT

    def wish(self, question: Q, by: Asker = NOBODY, priority: int | None = None) -> Wish:
        """The job that answers a question."""
        urgent = self.priority if priority is None else priority
        parts, title = self.parts(question), self.title(question)
        return wish_of(self.name, title, by, urgent, parts, self.write(question))

    def at_once(self, question: Q) -> Iterator[tuple[int, V]]:
        """The parts of a question by their numbers, worked out here one after the other; raises
        NotWantedError once nobody waits for them."""
        part = self.open(question)
        for number in range(self.parts(question)):
            go_on()
            yield number, part(number)

    def all_at_once(self, question: Q) -> list[V]:
        """All parts of a question in order, worked out here on two threads."""
        return in_threads(self.open(question), range(self.parts(question)))

    def values(self, bodies: Sequence[Any]) -> list[V]:
        """Parts as a job has stored them, as values of the core."""
        return [from_values(self.value, body) for body in bodies]

    def kind(self) -> Kind:
        """The same for workers, who are given and give JSON values."""

        def opened(given: Input) -> Part:
            part = self.open(self.read(given))
            return lambda number: as_values(part(number), self.value)

        def whole(given: Input, bodies: Sequence[Any]) -> Any:
            assert self.result is not None
            return self.result(self.read(given), self.values(bodies))

        return Kind(self.name, opened, whole=None if self.result is None else whole)
