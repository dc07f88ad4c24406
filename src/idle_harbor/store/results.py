"""Results of saved revisions, by the hash of what was asked."""

from __future__ import annotations

from itertools import count

from idle_harbor.store.database import Database, queries

#: After how many results the oldest are looked for.
TRIM_EVERY = 32
#: Results that are kept: bytes of all together, and for how many days.
MOST_RESULTS = 64_000_000
MOST_DAYS_OF_RESULTS = 90


class Results:
    """The kept results of a database."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._stored = count()

    def find(self, input_hash: str, engine: str, kind: str) -> str | None:
        """A stored result as JSON text."""
        with self._database.connection() as connection:
            row = queries.get_result(
                connection, input_hash=input_hash, engine_version=engine, kind=kind
            )
        return None if row is None else str(row["body"])

    def keep(self, input_hash: str, engine: str, kind: str, body: str) -> None:
        """Keep a result of a saved revision; of all results the newest stay, within bounds
        that are looked at now and then.

        A page says itself whether what it asks about is saved: the bounds hold whatever it says.
        """
        with self._database.connection() as connection:
            queries.put_result(
                connection, input_hash=input_hash, engine_version=engine, kind=kind, body=body
            )
            # Trimming looks through all of them: the first one and every so many do it.
            if next(self._stored) % TRIM_EVERY == 0:
                queries.trim_results(
                    connection, most_bytes=MOST_RESULTS, most_days=MOST_DAYS_OF_RESULTS
                )

    def drop_old(self, engine: str) -> None:
        """Forget results of other engine versions."""
        with self._database.connection() as connection:
            queries.drop_old_results(connection, engine_version=engine)
