"""The database as a handful of functions; SQL lives in ``queries`` and ``migrations``.

StoreError
├── StoreGone      the server does not answer
├── StoreBusy      it answers, but not in time: something is locked, or takes too long
├── StoreFull      it has no room, or may not write
├── NameTaken      another plan has that name
├── NoSuchPlan     no plan or revision of that number
├── StaleSave      somebody saved in between
├── ImportUnderWay another import is being read (directory.py)
└── NotReady       an import that cannot be applied (directory.py)
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import contextmanager
from itertools import count
from pathlib import Path
from typing import Any, Self

import aiosql
import psycopg
from psycopg.rows import DictRow, dict_row
from psycopg_pool import ConnectionPool, PoolTimeout
from yoyo import get_backend, read_migrations

from idle_harbor.formats.plan.codec import canonical, plan_shape, text_hash

_HERE = Path(__file__).parent
#: A query of ours takes milliseconds; longer means that something is wrong.
_LONG_READS = 2
_OPTIONS = "-c statement_timeout=5000 -c lock_timeout=3000"
queries = aiosql.from_path(_HERE / "queries", "psycopg")

#: After how many results the oldest are looked for.
TRIM_EVERY = 32
#: Results that are kept: bytes of all together, and for how many days.
MOST_RESULTS = 64_000_000
MOST_DAYS_OF_RESULTS = 90


class StoreError(Exception):
    """Something that the store could not do; the message says what and why."""


class StoreGone(StoreError):
    """The database does not answer."""


class StoreBusy(StoreError):
    """The database answers, and could not do this now; the same may go well a little later."""


class StoreFull(StoreError):
    """The database has no room left, or may not write."""


class NameTaken(StoreError):
    """Another plan has that name."""


class NoSuchPlan(StoreError):
    """There is no such plan or revision."""


class StaleSave(StoreError):
    """The plan was saved by somebody else since ``base``; ``latest`` is the newest revision."""

    def __init__(self, latest: int) -> None:
        self.latest = latest
        super().__init__(f"revision {latest} was saved in the meantime")


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


@contextmanager
def _beside(check: Callable[[], object]) -> Iterator[Future[object]]:
    """A check that goes on in a thread of its own, done at the end of the block."""
    with ThreadPoolExecutor(1) as side:
        yield side.submit(check)


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
        self._stored = count()
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

    def list_plans(self) -> list[dict[str, Any]]:
        """Every plan with its latest revision, the last saved first."""
        with self.connection() as connection:
            return list(queries.list_plans(connection))

    def count_plans(self) -> int:
        """How many plans there are."""
        with self.connection() as connection:
            row = queries.count_plans(connection)
            return int(row)

    def create_plan(
        self,
        document: dict[str, Any],
        words: str,
        author: str,
        check: Callable[[], object] = bool,
    ) -> dict[str, Any]:
        """Store a new plan; returns its revision 1 with its canonical text.

        Nothing is stored where ``check`` raises, as :meth:`save` says. Raises NameTaken.
        """
        text = canonical(document)
        try:
            with _beside(check) as checked, self.connection() as connection:
                plan_id = int(queries.insert_plan(connection, name=document["name"])["id"])
                row = self._insert(connection, plan_id, 1, document["name"], text, words, author)
                checked.result()
                return row
        except psycopg.errors.UniqueViolation as error:
            raise NameTaken(f"another plan is called '{document['name']}'") from error

    def save(
        self,
        plan_id: int,
        base: int,
        document: dict[str, Any],
        words: str,
        author: str,
        check: Callable[[], object] = bool,
    ) -> dict[str, Any]:
        """Store the next revision of a plan, based on revision ``base``, and return it.

        ``check`` looks at the plan while the server takes it in, and nothing is stored where it
        raises: for a large plan each takes half a second. Raises StaleSave where ``base`` is no
        longer the latest, NoSuchPlan, NameTaken.
        """
        # Written out before the plan is locked: others wait for the lock, not for this.
        text, name = canonical(document), document["name"]
        try:
            with _beside(check) as checked, self.connection() as connection:
                row = queries.lock_plan(connection, plan_id=plan_id)
                if row is None:
                    raise NoSuchPlan(f"there is no plan {plan_id}")
                if row["latest"] != base:
                    raise StaleSave(row["latest"])
                saved = self._insert(connection, plan_id, base + 1, name, text, words, author)
                queries.advance_plan(connection, plan_id=plan_id, number=base + 1, name=name)
                checked.result()
                return saved
        except psycopg.errors.UniqueViolation as error:
            raise NameTaken(f"another plan is called '{name}'") from error

    @staticmethod
    def _insert(
        connection: psycopg.Connection[DictRow],
        plan_id: int,
        number: int,
        name: str,
        text: str,
        words: str,
        author: str,
    ) -> dict[str, Any]:
        """Store a revision; returns what reading it would."""
        values = {
            "author": author,
            "words": words,
            "content_hash": text_hash(text),
            "canonical": text,
            "shape": plan_shape(),
        }
        row = queries.insert_revision(connection, plan_id=plan_id, number=number, **values)
        return {
            "id": plan_id,
            "name": name,
            "number": number,
            "latest": number,
            **values,
            "saved_at": row["saved_at"],
        }

    def revision(self, plan_id: int, number: int | None = None) -> dict[str, Any]:
        """One revision with its canonical text, the latest by default; raises NoSuchPlan."""
        with self.connection() as connection:
            row = queries.get_revision(connection, plan_id=plan_id, number=number)
        if row is None:
            which = f"plan {plan_id}" if number is None else f"revision {number} of plan {plan_id}"
            raise NoSuchPlan(f"there is no {which}")
        return dict(row)

    def revisions(self, plan_id: int) -> list[dict[str, Any]]:
        """Every revision of a plan without its document, newest first; raises NoSuchPlan."""
        with self.connection() as connection:
            rows = list(queries.list_revisions(connection, plan_id=plan_id))
        if not rows:
            raise NoSuchPlan(f"there is no plan {plan_id}")
        return rows

    def find_document(self, name: str) -> dict[str, Any] | None:
        """The latest document of the plan of that name (or number)."""
        with self.connection() as connection:
            row = queries.find_document(connection, name=name)
        return None if row is None else dict(row["document"])

    def result(self, input_hash: str, engine: str, kind: str) -> str | None:
        """A stored result as JSON text."""
        with self.connection() as connection:
            row = queries.get_result(
                connection, input_hash=input_hash, engine_version=engine, kind=kind
            )
        return None if row is None else str(row["body"])

    def store_result(self, input_hash: str, engine: str, kind: str, body: str) -> None:
        """Keep a result of a saved revision; of all results the newest stay, within bounds
        that are looked at now and then.

        A page says itself whether what it asks about is saved: the bounds hold whatever it says.
        """
        with self.connection() as connection:
            queries.put_result(
                connection, input_hash=input_hash, engine_version=engine, kind=kind, body=body
            )
            # Trimming looks through all of them: the first one and every so many do it.
            if next(self._stored) % TRIM_EVERY == 0:
                queries.trim_results(
                    connection, most_bytes=MOST_RESULTS, most_days=MOST_DAYS_OF_RESULTS
                )

    def drop_old_results(self, engine: str) -> None:
        """Forget results of other engine versions."""
        with self.connection() as connection:
            queries.drop_old_results(connection, engine_version=engine)
