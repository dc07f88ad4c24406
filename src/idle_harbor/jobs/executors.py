"""Where the parts of a job are computed: in the worker itself, or on other machines.

Both give the same results, bit for bit, since a part depends on its input and number alone.
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
#: Seconds between two checks whether the work is still wanted.
_LOOK_UP = 0.1
#: Pieces of a claim for each thread elsewhere, so that all threads end at about the same time.
_PIECES = 4
_CONNECT = "5s"
#: Errors of the machines, as opposed to errors of a part.
_GONE = (CancelledError, OSError, TimeoutError)

_WITHOUT = "the machines have gone, parts are computed here"

#: A finished part: its number, or (number, piece), and its result.
Done: TypeAlias = tuple[Any, Any]


class Work(Protocol):
    """One job whose input has been read."""

    def run(self, numbers: Sequence[Any]) -> Iterator[Done]:
        """Compute parts and yield each when it is done, in any order. Raises what a part raises,
        and NotWantedError."""


class Executor(Protocol):
    """A place where parts are computed. ``seconds`` is how long a claim should keep it busy."""

    seconds: float

    @property
    def room(self) -> int:
        """How many parts are computed at once."""

    def begin(self, database: Database, kind: Kind, key: str, given: Input) -> Work:
        """Begin a job, given by its kind, the key of its input, and the input."""


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
        """Begin a job in this process."""
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
    """Sends parts to the machines of a dask.distributed scheduler.

    Both sides authenticate with the key in one shared file. Parts that need the database run here.
    So does every part once the scheduler has gone.

    Args:
        address: the scheduler's address, such as ``tls://127.0.0.1:8786``.
        key: the file of the shared key; empty for none.
        wait: how long the scheduler may take to answer, such as ``"5s"``.

    Raises:
        OSError: the scheduler does not answer, or takes another key.
    """

    #: Longer than in a worker: while the last piece of a claim runs, the other machines are idle.
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
        """As many parts as the machines have threads."""
        return max(1, self._threads())

    def begin(self, database: Database, kind: Kind, key: str, given: Input) -> Work:
        """Send the input of a job to every machine, once."""
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
    """A job whose input the machines have. ``instead`` takes over when the machines go."""

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
                    # A scheduler without machines would hold the parts for the next machine.
                    raise ConnectionError("no machine is left")
                for future in done:
                    yield from future.result()
        finally:
            for future in left:
                future.cancel()


def executor_at(address: str, key: str = "") -> Executor:
    """The executor of a configuration.

    Args:
        address: a dask.distributed scheduler; empty for this process.
        key: the file of the scheduler's key.

    Returns:
        The machines, or this process where the scheduler does not answer.
    """
    if not address:
        return HERE
    try:
        return Machines(address, key)
    except (OSError, TimeoutError) as error:
        _log.warning("no machines answer at %s, parts are computed here: %s", address, error)
        return HERE
