"""Where the parts of a job are worked out: in the worker itself, or on other machines.

Either gives the same, bit for bit: a part depends on its input and its number alone.
"""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import FIRST_COMPLETED, CancelledError, Future, wait
from typing import Any, Protocol, TypeAlias

import orjson

from idle_harbor.core.base.stopping import go_on
from idle_harbor.jobs.elsewhere import work_out
from idle_harbor.jobs.kind import Input, Kind, Part
from idle_harbor.runtime import engine_version
from idle_harbor.store.database import Database

_log = logging.getLogger("idle_harbor.jobs")
#: Seconds between two looks whether the work is still wanted.
_LOOK_UP = 0.1
#: So many pieces of what is claimed for each thread elsewhere: the last ones end at about one time.
_PIECES = 4
_CONNECT = "5s"
#: What is raised where the machines, and not the part, are at fault.
_GONE = (CancelledError, OSError, TimeoutError)

_WITHOUT = "the machines have gone, parts are worked out here"

#: A part that is done: its number, or (number, piece), and what came of it.
Done: TypeAlias = tuple[Any, Any]


class Work(Protocol):
    """Work on one job whose input has been read."""

    def run(self, numbers: Sequence[Any]) -> Iterator[Done]:
        """The parts of these numbers as they get done, in any order; raises what a part raises,
        and NotWantedError."""


class Executor(Protocol):
    """Somewhere where parts are worked out: ``room`` parts at once, of which so many are taken as
    keep it at work for so many seconds."""

    seconds: float

    @property
    def room(self) -> int:
        """How many parts are worked out at once."""

    def begin(self, database: Database, kind: Kind, key: str, given: Input) -> Work:
        """Work on a job: its kind, a name of its input, the input."""


class _OneByOne:
    def __init__(self, part: Part) -> None:
        self._part = part

    def run(self, numbers: Sequence[Any]) -> Iterator[Done]:
        for number in numbers:
            go_on()
            yield number, self._part(number)


class Here:
    """In this process, one part after the other."""

    seconds = 0.5
    room = 1

    def begin(self, database: Database, kind: Kind, key: str, given: Input) -> Work:
        """Work on a job in this process."""
        return _OneByOne(kind.part(database, given))


HERE = Here()


def _connected(address: str, **how: Any) -> Any:
    """A client of a scheduler; one that cannot connect is closed before the error is raised.

    The library closes a client when it is collected as garbage, under a lock that the start of
    another client holds as well. A collection during that start would wait for itself.
    """
    import distributed

    base: Any = distributed.Client

    class Client(base):  # type: ignore[misc]
        def start(self, **kwargs: Any) -> None:
            try:
                super().start(**kwargs)
            except BaseException:
                self.close()
                self._loop_runner.stop()
                raise

    return Client(address, **how)


class Machines:
    """The executor that sends parts to the machines of a dask.distributed scheduler.

    Both sides prove who they are by the key in one shared file. Parts that need the database run
    here. Every part runs here once the scheduler has gone. A scheduler that does not answer within
    ``wait`` (as ``"5s"``) raises OSError.
    """

    #: The last of what is taken is waited for while the others have nothing to do.
    seconds = 2.0

    def __init__(self, address: str, key: str = "", wait: str = _CONNECT) -> None:
        trusted = None
        if key:
            import distributed

            shared = {"tls_client_cert": key, "tls_client_key": key, "tls_ca_file": key}
            security: Any = distributed.Security
            trusted = security(require_encryption=True, **shared)
        self._client = _connected(address, timeout=wait, set_as_default=False, security=trusted)
        self._executor = self._client.get_executor()

    def close(self) -> None:
        """Leave the machines."""
        self._client.close()

    def _threads(self) -> int:
        if self._client.status != "running":
            return 0
        try:
            threads: list[int] = list(self._client.nthreads().values())
        except _GONE:
            return 0
        return sum(threads)

    @property
    def room(self) -> int:
        """As many parts at once as the machines have threads."""
        return max(1, self._threads())

    def begin(self, database: Database, kind: Kind, key: str, given: Input) -> Work:
        """Send a job's input to every machine, once."""
        if kind.open is None or not self._threads():
            return HERE.begin(database, kind, key, given)
        engine = engine_version()
        try:
            sent = self._client.scatter(orjson.dumps(given), broadcast=True, hash=True)
        except _GONE as error:
            _log.warning("%s: %r", _WITHOUT, error)
            return HERE.begin(database, kind, key, given)

        def submit(numbers: Sequence[Any]) -> Future[list[Done]]:
            found: Future[list[Done]] = self._executor.submit(
                work_out, engine, kind.name, key, sent, list(numbers)
            )
            return found

        return _Spread(submit, self._threads, lambda: HERE.begin(database, kind, key, given))


class _Spread:
    """Work on a job whose input the machines have; ``instead`` goes on with it without them."""

    def __init__(
        self,
        submit: Callable[[Sequence[int]], Future[list[Done]]],
        threads: Callable[[], int],
        instead: Callable[[], Work],
    ) -> None:
        self._submit, self._threads, self._instead = submit, threads, instead

    def run(self, numbers: Sequence[Any]) -> Iterator[Done]:
        left = set(numbers)
        try:
            for number, found in self._spread(numbers):
                left.discard(number)
                yield number, found
        except _GONE as error:
            _log.warning("%s: %r", _WITHOUT, error)
            yield from self._instead().run([each for each in numbers if each in left])

    def _spread(self, numbers: Sequence[Any]) -> Iterator[Done]:
        size = max(1, len(numbers) // (_PIECES * max(1, self._threads())))
        left = {self._submit(numbers[at : at + size]) for at in range(0, len(numbers), size)}
        try:
            while left:
                go_on()
                done, left = wait(left, _LOOK_UP, FIRST_COMPLETED)
                if not done and not self._threads():
                    # A scheduler alone would keep what it was given for whoever comes.
                    raise ConnectionError("no machine is left")
                for future in done:
                    yield from future.result()
        finally:
            for future in left:
                future.cancel()


def executor_at(address: str, key: str = "") -> Executor:
    """The executor that a configuration names: empty for this process, else the address of a
    dask.distributed scheduler, and the file of its key. What does not answer is done without."""
    if not address:
        return HERE
    try:
        return Machines(address, key)
    except (OSError, TimeoutError) as error:
        _log.warning("no machines answer at %s, parts are worked out here: %s", address, error)
        return HERE
