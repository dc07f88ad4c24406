"""Where simulations run for pages: two at a time, the newest edit of each page first."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from typing import Generic, TypeVar

from idle_harbor.core.simulate import Case, Week

T = TypeVar("T")

#: Weeks kept for lanes, causes and undo; about 3 MB each for 5,000 people.
_WEEKS_KEPT = 16
_ANSWERS_KEPT = 64
_TABS_KEPT = 512
_AT_ONCE = 2


class Superseded(Exception):
    """A newer edit of the same page has arrived."""


class Bounded(Generic[T]):
    """A small cache that forgets what was used longest ago; safe between threads."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._items: OrderedDict[str, T] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: str) -> T | None:
        """The item, now the most recently used, or None."""
        with self._lock:
            if key in self._items:
                self._items.move_to_end(key)
                return self._items[key]
            return None

    def put(self, key: str, item: T) -> None:
        """Keep an item."""
        with self._lock:
            self._items[key] = item
            self._items.move_to_end(key)
            while len(self._items) > self._most:
                self._items.popitem(last=False)


@dataclass(frozen=True, slots=True)
class Kept:
    """A simulated week with the case it came from."""

    case: Case
    week: Week


class Desk:
    """Runs simulations for pages and keeps recent results in memory."""

    def __init__(self) -> None:
        self.weeks: Bounded[Kept] = Bounded(_WEEKS_KEPT)
        self.answers: Bounded[str] = Bounded(_ANSWERS_KEPT)
        self._newest: Bounded[int] = Bounded(_TABS_KEPT)
        self._lock = threading.Lock()
        self._places = threading.Semaphore(_AT_ONCE)

    def announce(self, tab: str, edit: int) -> None:
        """A page has sent this edit; older ones of the same page are no longer wanted."""
        with self._lock:
            if tab and edit > (self._newest.get(tab) or 0):
                self._newest.put(tab, edit)

    def wanted(self, tab: str, edit: int) -> bool:
        """Whether no newer edit of the page has arrived."""
        return not tab or edit >= (self._newest.get(tab) or 0)

    def run(self, tab: str, edit: int, work: Callable[[], T]) -> T:
        """Do the work when it is its turn; raises Superseded if it is no longer wanted then."""
        self.announce(tab, edit)
        with self._places:
            if not self.wanted(tab, edit):
                raise Superseded
            return work()
