"""The database: connections and what goes wrong; SQL lives in ``queries`` and ``migrations``.

StoreError
├── StoreGone        the server does not answer
├── StoreBusy        it answers, but not in time: something is locked, or takes too long
├── StoreFull        it has no room, or may not write
├── NameTaken        another plan has that name (plans.py)
├── NoSuchPlan       no plan or revision of that number (plans.py)
├── StaleSave        somebody saved in between (plans.py)
├── NoSuchDirectory  no directory of that number (directories.py)
├── ImportUnderWay   another import is being read (directory.py)
└── NotReady         an import that cannot be applied (directory.py)
"""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Self

import aiosql
import psycopg
from psycopg.rows import DictRow, dict_row
from psycopg_pool import ConnectionPool, PoolTimeout
from yoyo import get_backend, read_migrations

_HERE = Path(__file__).parent
#: A query of ours takes milliseconds; longer means that something is wrong.
_LONG_READS = 2
_OPTIONS = "-c statement_timeout=5000 -c lock_timeout=3000"
queries = aiosql.from_path(_HERE / "queries", "psycopg")


class StoreError(Exception):
    """Something that the store could not do; the message says what and why."""


class StoreGone(StoreError):
    """The database does not answer."""


class StoreBusy(StoreError):
    """The database answers, and could not do this now; the same may go well a little later."""


class StoreFull(StoreError):
    """The database has no room left, or may not write."""


#: What the classes of errors of a server that answers mean (PostgreSQL, appendix A).
_BUSY = {
    "55P03": "something that this would change is locked by another change, for 3 seconds now",
    "57014": "this took longer than it may, or was stopped",
    "40P01": "this and another change waited for each other, and this one was given up",
    "40001": "another change came in between, and this one was given up",
    "53300": "the database server has as many connections as it takes",
}
_FULL = {
    "53100": "the disk of the database is full",
    "53200": "the database server is out of memory",
    "25006": "the database may only be read at present",
    "58030": "the database server could not write to its disk",
}


def _in_words(error: psycopg.OperationalError) -> StoreError:
    """What an error of the server means: only without a reason is it gone."""
    state = error.sqlstate or ""
    if state in _BUSY:
        return StoreBusy(_BUSY[state])
    if state in _FULL:
        return StoreFull(_FULL[state])
    return StoreGone("the database does not answer")


@contextmanager
def store_errors() -> Iterator[None]:
    """Errors of the server in this block are told as StoreGone, StoreBusy, StoreFull."""
    try:
        yield
    except psycopg.OperationalError as error:
        raise _in_words(error) from error


def migrate(address: str) -> None:
    """Bring a database up to date; safe to call from several processes at once."""
    scheme = address.replace("postgresql://", "postgresql+psycopg://", 1)
    backend = get_backend(scheme.replace("postgres://", "postgresql+psycopg://", 1))
    try:
        with backend.lock(timeout=30):
            migrations = read_migrations(str(_HERE / "migrations"))
            backend.apply_migrations(backend.to_apply(migrations))
    finally:
        backend.connection.close()


class Database:
    """A pool of connections; use as a context manager, or call ``close``."""

    def __init__(self, address: str, *, wait: float = 2.0) -> None:
        self._address = address
        #: Places for reads that take long; most connections are left for the others.
        self.long_reads = threading.BoundedSemaphore(_LONG_READS)
        self._pool: ConnectionPool[psycopg.Connection[DictRow]] = ConnectionPool(
            address,
            min_size=1,
            max_size=8,
            timeout=wait,
            open=True,
            check=ConnectionPool.check_connection,
            reconnect_timeout=30,
            connection_class=psycopg.Connection[DictRow],
            kwargs={"row_factory": dict_row, "options": _OPTIONS, "connect_timeout": 3},
        )

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()

    def close(self) -> None:
        """Close every connection."""
        self._pool.close()

    @contextmanager
    def connection(self) -> Iterator[psycopg.Connection[DictRow]]:
        """A connection in a transaction of its own; raises StoreGone, StoreBusy, StoreFull."""
        with store_errors():
            try:
                with self._pool.connection() as connection:
                    yield connection
            except PoolTimeout as error:
                if self._all_in_use():
                    raise StoreBusy("every connection to the database is in use") from error
                raise StoreGone("the database does not answer") from error

    def session(self) -> psycopg.Connection[DictRow]:
        """A connection beside the pool, to be kept and closed by who asks; raises StoreGone."""
        with store_errors():
            return psycopg.Connection[DictRow].connect(
                self._address,
                autocommit=True,
                row_factory=dict_row,
                options=_OPTIONS,
                connect_timeout=3,
            )

    def _all_in_use(self) -> bool:
        """Whether connections are there and others have them."""
        state = self._pool.get_stats()
        return state.get("pool_size", 0) >= self._pool.max_size and not state.get(
            "connections_lost", 0
        )

    def ping(self) -> None:
        """Raise StoreGone where the database does not answer."""
        with self.connection() as connection:
            connection.execute("SELECT 1")
