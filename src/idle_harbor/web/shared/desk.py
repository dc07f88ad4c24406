"""Where simulations run for pages: two at a time, in the order they came, the newest of each page.

A picture that a hand waits for goes before what follows it (the whole week, other weeks, checks,
all pools), which gives way between its steps.

Small questions never stand in these lines: only so many requests may wait in each of the two, so
that threads are left for the others, and slow work shuts no hand out. Who finds their line full is
told to come again.
"""

from __future__ import annotations

import threading
import time
from collections import deque
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import TypeVar

from idle_harbor.core.base.caches import ByteCache
from idle_harbor.core.base.stopping import while_wanted
from idle_harbor.core.weeks.case import Case
from idle_harbor.core.weeks.week import Week

T = TypeVar("T")

#: Weeks kept for lanes, causes and undo; about 3 MB each for 5,000 people.
_WEEK_BYTES = 256_000_000
_ANSWER_BYTES = 64_000_000
#: Pages whose newest edit is known; of others every edit counts as the newest.
_MOST_TABS = 4_096
_AT_ONCE = 2
#: Requests that may wait for urgent places, and as many for others: fewer than the server has
#: threads.
MOST_WAITING = 8
#: Seconds after which somebody who waits looks up whether they are still wanted.
_LOOK_UP = 0.2
#: Seconds for which work gives way at a time: it is slower then, and never stands still.
_GIVES_WAY = 0.5


class Superseded(Exception):
    """A newer edit of the same page has arrived."""


class Busy(Exception):
    """Too many requests wait already."""


@dataclass(frozen=True, slots=True)
class KeptWeek:
    """A simulated week with the case it came from."""

    case: Case
    week: Week


class Turns:
    """So many places to work at, given in the order of asking, with a bound on who may wait in each
    line.

    Urgent work has as many places of its own, and whoever else has one gives way to it.
    """

    def __init__(self, at_once: int, most_waiting: int) -> None:
        self._at_once = at_once
        self._most_waiting = most_waiting
        self._free = {True: at_once, False: at_once}
        self._lines: dict[bool, deque[object]] = {True: deque(), False: deque()}
        self._turn = threading.Condition()

    @property
    def waiting(self) -> int:
        """How many wait for a place."""
        return sum(map(len, self._lines.values()))

    @property
    def _urgent(self) -> bool:
        """Whether urgent work is done or waits."""
        return self._free[True] < self._at_once or bool(self._lines[True])

    @contextmanager
    def turn(self, wanted: Callable[[], bool], *, urgent: bool = False) -> Iterator[None]:
        """A place once it is one's turn; raises Busy, or Superseded where no longer wanted."""
        ticket = object()
        line = self._lines[urgent]
        with self._turn:
            if len(line) >= self._most_waiting:
                raise Busy("too many already wait for their turn")
            line.append(ticket)
            try:
                while self._free[urgent] == 0 or line[0] is not ticket:
                    self._turn.wait(_LOOK_UP)
                    if not wanted():
                        raise Superseded
                self._free[urgent] -= 1
            finally:
                line.remove(ticket)
                self._turn.notify_all()
        try:
            yield
        finally:
            with self._turn:
                self._free[urgent] += 1
                self._turn.notify_all()

    def give_way(self, wanted: Callable[[], bool]) -> bool:
        """Wait for as long as urgent work is there, a while at most; whether one is still
        wanted."""
        if self._urgent:
            until = time.monotonic() + _GIVES_WAY
            with self._turn:
                while self._urgent and wanted() and (left := until - time.monotonic()) > 0:
                    self._turn.wait(min(left, _LOOK_UP))
        return wanted()


class Desk:
    """Runs simulations for pages and keeps recent results in memory, bounded in bytes."""

    def __init__(self) -> None:
        self._weeks = ByteCache(_WEEK_BYTES, lambda kept: int(kept.week.nbytes))
        self._answers = ByteCache(_ANSWER_BYTES, len)
        self._newest: dict[str, int] = {}
        self._lock = threading.Lock()
        self._turns = Turns(_AT_ONCE, MOST_WAITING)

    def announce(self, tab: str, edit: int) -> None:
        """A page has sent this edit; older ones of the same page are no longer wanted."""
        with self._lock:
            if tab and edit > self._newest.get(tab, 0):
                # The page that was heard longest ago comes first.
                self._newest.pop(tab, None)
                self._newest[tab] = edit
                if len(self._newest) > _MOST_TABS:
                    del self._newest[next(iter(self._newest))]

    def wanted(self, tab: str, edit: int) -> bool:
        """Whether no newer edit of the page has arrived."""
        return not tab or edit >= self._newest.get(tab, 0)

    def run(self, wanted: Callable[[], bool], work: Callable[[], T], *, urgent: bool = False) -> T:
        """Do the work when it is its turn, and for as long as it is wanted.

        Raises Busy where too many wait, Superseded or NotWantedError where nobody does any more.
        """

        def goes_on() -> bool:
            return wanted() if urgent else self._turns.give_way(wanted)

        with self._turns.turn(wanted, urgent=urgent), while_wanted(goes_on):
            if not wanted():
                raise Superseded
            return work()

    def week(self, key: str) -> KeptWeek | None:
        """A week that was simulated a while ago."""
        found = self._weeks.get(key)
        return found if isinstance(found, KeptWeek) else None

    def keep_week(self, key: str, case: Case, week: Week) -> None:
        """Keep a week for its lanes and waits."""
        self._weeks.put(key, KeptWeek(case, week))

    def answer(self, key: str) -> bytes | None:
        """An answer given a while ago."""
        found = self._answers.get(key)
        return found if isinstance(found, bytes) else None

    def keep_answer(self, key: str, text: bytes) -> None:
        """Keep an answer."""
        self._answers.put(key, text)
