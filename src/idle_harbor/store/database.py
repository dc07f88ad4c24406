"""The database as a handful of functions; SQL lives in ``queries`` and ``migrations``.

StoreError
├── StoreGone      the server does not answer
├── NameTaken      another plan has that name
├── NoSuchPlan     no plan or revision of that number
├── StaleSave      somebody saved in between
├── ImportUnderWay another import is being read (directory.py)
└── NotReady       an import that cannot be applied (directory.py)
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, Self

import aiosql
import psycopg
from psycopg.rows import DictRow, dict_row
from psycopg.types.json import Jsonb
from psycopg_pool import ConnectionPool, PoolTimeout
from yoyo import get_backend, read_migrations

from idle_harbor.formats.plan_reading import canonical, content_hash

_HERE = Path(__file__).parent
#: A query of ours takes milliseconds; longer means that something is wrong.
_OPTIONS = "-c statement_timeout=5000 -c lock_timeout=3000"
queries = aiosql.from_path(_HERE / "queries", "psycopg")


class StoreError(Exception):
    """Something that the store could not do; the message says what and why."""


class StoreGone(StoreError):
    """The database does not answer."""


class NameTaken(StoreError):
    """Another plan has that name."""


class NoSuchPlan(StoreError):
    """There is no such plan or revision."""


class StaleSave(StoreError):
    """The plan was saved by somebody else since ``base``; ``latest`` is the newest revision."""

    def __init__(self, latest: int) -> None:
        self.latest = latest
        super().__init__(f"revision {latest} was saved in the meantime")


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
        """A connection in a transaction of its own; raises StoreGone."""
        try:
            with self._pool.connection() as connection:
                yield connection
        except (PoolTimeout, psycopg.OperationalError) as error:
            raise StoreGone("the database does not answer") from error

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

    def create_plan(self, document: dict[str, Any], words: str, author: str) -> dict[str, Any]:
        """Store a new plan as its revision 1; raises NameTaken."""
        try:
            with self.connection() as connection:
                plan_id = queries.insert_plan(connection, name=document["name"])["id"]
                self._insert(connection, plan_id, 1, document, words, author)
        except psycopg.errors.UniqueViolation as error:
            raise NameTaken(f"another plan is called '{document['name']}'") from error
        return self.revision(plan_id)

    def save(
        self, plan_id: int, base: int, document: dict[str, Any], words: str, author: str
    ) -> dict[str, Any]:
        """Store the next revision of a plan, based on revision ``base``.

        Raises StaleSave where ``base`` is no longer the latest, NoSuchPlan, NameTaken.
        """
        try:
            with self.connection() as connection:
                row = queries.lock_plan(connection, plan_id=plan_id)
                if row is None:
                    raise NoSuchPlan(f"there is no plan {plan_id}")
                if row["latest"] != base:
                    raise StaleSave(row["latest"])
                self._insert(connection, plan_id, base + 1, document, words, author)
                queries.advance_plan(
                    connection, plan_id=plan_id, number=base + 1, name=document["name"]
                )
        except psycopg.errors.UniqueViolation as error:
            raise NameTaken(f"another plan is called '{document['name']}'") from error
        return self.revision(plan_id, base + 1)

    @staticmethod
    def _insert(
        connection: psycopg.Connection[DictRow],
        plan_id: int,
        number: int,
        document: dict[str, Any],
        words: str,
        author: str,
    ) -> None:
        queries.insert_revision(
            connection,
            plan_id=plan_id,
            number=number,
            author=author,
            words=words,
            content_hash=content_hash(document),
            canonical=canonical(document),
            document=Jsonb(document),
        )

    def revision(self, plan_id: int, number: int | None = None) -> dict[str, Any]:
        """One revision with its document, the latest by default; raises NoSuchPlan."""
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
        """Keep a result of a saved revision."""
        with self.connection() as connection:
            queries.put_result(
                connection, input_hash=input_hash, engine_version=engine, kind=kind, body=body
            )

    def drop_old_results(self, engine: str) -> None:
        """Forget results of other engine versions."""
        with self.connection() as connection:
            queries.drop_old_results(connection, engine_version=engine)
