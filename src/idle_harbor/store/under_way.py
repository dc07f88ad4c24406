"""Imports that somebody works on: the database knows, whichever process it is.

Who works on an import keeps a session open that holds a lock of that import's number. It ends with
the process, however that ends; an import in work without such a lock has been left behind.
"""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress

import psycopg
from psycopg.rows import DictRow

from idle_harbor.store.database import Database, queries, store_errors


class UnderWay:
    """An import that is worked on from when it is made until ``end``; use as a context manager."""

    def __init__(
        self, database: Database, begin: Callable[[psycopg.Connection[DictRow]], int]
    ) -> None:
        """Run ``begin``, which makes or claims an import and returns its number, and lock that
        before anybody else can see it; raises what ``begin`` raises, and StoreError."""
        self._session = database.session()
        try:
            with store_errors(), self._session.transaction():
                self.import_id = begin(self._session)
                queries.lock_under_way(self._session, import_id=self.import_id)
        except BaseException:
            self.end()
            raise

    def __enter__(self) -> UnderWay:
        return self

    def __exit__(self, *_: object) -> None:
        self.end()

    def end(self) -> None:
        """Nobody works on it any more."""
        with suppress(psycopg.Error):
            # A session that is closed gives its locks back soon; this gives them back now.
            queries.unlock_under_way(self._session)
        self._session.close()
