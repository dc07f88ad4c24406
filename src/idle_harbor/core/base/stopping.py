"""Work that ends when nobody waits for it any more.

Whoever asks for long work says how to find out whether it is still wanted; the work looks up
between its steps, however deep inside it they are, and on every thread it uses.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from contextvars import ContextVar, copy_context
from typing import TypeVar

from idle_harbor.core.errors import NotWantedError

T = TypeVar("T")
A = TypeVar("A")

#: Two cores: more threads would only wait for each other.
THREADS = 2
_wanted: ContextVar[Callable[[], bool] | None] = ContextVar("wanted", default=None)
_threaded: ContextVar[bool] = ContextVar("threaded", default=False)


@contextmanager
def while_wanted(wanted: Callable[[], bool]) -> Iterator[None]:
    """What is done inside raises NotWantedError soon after ``wanted`` says no."""
    token = _wanted.set(wanted)
    try:
        yield
    finally:
        _wanted.reset(token)


@contextmanager
def on_one_thread() -> Iterator[None]:
    """What is done inside is done on this thread: where other processes use the other cores."""
    token = _threaded.set(True)
    try:
        yield
    finally:
        _threaded.reset(token)


def stoppable() -> bool:
    """Whether anybody may say that the work is no longer wanted."""
    return _wanted.get() is not None


def go_on() -> None:
    """Raise NotWantedError where the work is no longer wanted; cheap, for use between steps."""
    wanted = _wanted.get()
    if wanted is not None and not wanted():
        raise NotWantedError("nobody waits for this any more")


def in_threads(work: Callable[[A], T], items: Iterable[A]) -> list[T]:
    """The work on every item, in order, on two threads; each may be told to stop.

    Work that is on one of those threads already goes on there, one item after the other.
    """

    def one(item: A) -> T:
        go_on()
        return work(item)

    def threaded(item: A) -> T:
        _threaded.set(True)
        return one(item)

    contexts = [(copy_context(), item) for item in items]
    if len(contexts) < 2 or _threaded.get():
        return [one(item) for _, item in contexts]
    with ThreadPoolExecutor(min(THREADS, len(contexts))) as pool:
        return list(pool.map(lambda pair: pair[0].run(threaded, pair[1]), contexts))
