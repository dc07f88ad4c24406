"""The directory in the database: reading a file beside it, judging it, and putting it in its place.

A file is first copied into tables of its own and judged there; the directory changes in one
transaction or not at all.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager
from itertools import islice
from pathlib import Path
from typing import Any, BinaryIO, Literal

import psycopg
from psycopg.rows import DictRow
from psycopg.types.json import Jsonb

from idle_harbor.core.demand.nesting import circle_among
from idle_harbor.formats.directory.csv_people import read_csv
from idle_harbor.formats.directory.ldif_people import read_ldif
from idle_harbor.formats.directory.records import (
    GroupRow,
    MemberRow,
    NotReadable,
    PersonRow,
    Row,
    WrongRow,
)
from idle_harbor.formats.directory.scim_people import read_scim
from idle_harbor.store.database import Database, StoreBusy, StoreError, StoreGone, queries
from idle_harbor.store.under_way import UnderWay

Format = Literal["csv", "ldif", "scim"]
READERS: dict[Format, Callable[[Any], Iterator[Row]]] = {
    "csv": read_csv,
    "ldif": read_ldif,
    "scim": read_scim,
}
_BATCH = 20_000
#: Wrong rows kept; a file with more of them is wrong as a whole.
_MOST_FAULTS = 1000
_MOST_SAMPLES = 20
#: Long enough for tens of millions of rows, so that nothing runs for ever.
_LONG = "SET LOCAL statement_timeout = '30min'"
#: A look at the directory, and how long to wait where others are at it.
_READ_LIMIT = "SET LOCAL statement_timeout = '2min'"
_READ_WAIT = 5.0
#: Seconds after which work looks up whether it has been asked to stop.
_LOOK_SECONDS = 0.3
_IN_WORK = ("reading", "judging", "applying")
_STOPPED = "stopped on request; the directory is as it was"


class ImportUnderWay(StoreError):
    """Another import is being read or applied."""


class NotReady(StoreError):
    """The import cannot be applied: it is wrong, or no longer there."""


class Stopped(Exception):
    """The import was stopped on request."""


class Directory:
    """The directory's tables, on a database's connections."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def summary(self) -> dict[str, Any]:
        """Totals and groups: people, in none, in several, and each group with its people.

        They are counted when the directory changes, and here only where nobody has yet.
        """
        with self.database.connection() as connection:
            row = queries.directory_counts(connection)
        if row is None:
            with self._reading() as connection:
                row = _count(connection)
        return dict(row)

    def classes(self, keys: Sequence[str]) -> list[dict[str, Any]]:
        """People by exactly which of the given groups they are in."""
        with self._reading() as connection:
            return list(queries.directory_classes(connection, keys=list(keys)))

    def keys(self, group: str) -> list[str]:
        """Keys of a group's people in order: the k-th is the plan group's k-th person."""
        with self._reading() as connection:
            return [row["key"] for row in queries.directory_keys(connection, group_key=group)]

    def latest_import(self) -> dict[str, Any] | None:
        """The newest import; one that no process works on any more has failed."""
        with self.database.connection() as connection:
            row = queries.latest_import(connection)
            if row is not None and row["state"] in _IN_WORK:
                queries.fail_left_imports(connection)
                row = queries.latest_import(connection)
        return None if row is None else dict(row)

    def begin(self, source: str, form: Format, size: int) -> UnderWay:
        """A new import; raises ImportUnderWay. A file read but not decided on is dropped, and one
        that a stopped server left behind has failed."""

        def first(connection: psycopg.Connection[DictRow]) -> int:
            queries.fail_left_imports(connection)
            queries.end_undecided_imports(connection)
            row = queries.begin_import(
                connection,
                source=source.replace("\x00", "")[:200],
                format=form,
                bytes_total=size,
            )
            return int(row["id"])

        try:
            return UnderWay(self.database, first)
        except psycopg.errors.UniqueViolation as error:
            raise ImportUnderWay("another import is being read; stop it or wait for it") from error

    def read(self, under_way: UnderWay, form: Format, path: Path) -> None:
        """Copy a file into the tables beside the directory and judge it there.

        What is wrong ends up in the import's state; nothing is raised but StoreGone.
        """
        import_id = under_way.import_id
        try:
            with path.open("rb") as file:
                watched = Watched(file, lambda: self._look(import_id))
                self._copy(import_id, READERS[form](watched), watched.tell)
            self._judge(import_id)
        except StoreGone:
            raise
        except (NotReadable, Stopped, OSError, psycopg.Error, StoreError) as error:
            self._ended(import_id, error)

    def _look(self, import_id: int) -> None:
        """Raise Stopped where somebody has asked for it."""
        with self.database.connection() as connection:
            if queries.stop_asked(connection, import_id=import_id):
                raise Stopped(_STOPPED)

    def _ended(self, import_id: int, error: Exception, said: str = "") -> None:
        """Note why an import has ended: stopped on request, or failed and why."""
        stopped = isinstance(error, Stopped)
        self._state(import_id, "dropped" if stopped else "failed",
                    str(error) if stopped else f"{said}{error}")  # fmt: skip

    def _copy(self, import_id: int, rows: Iterator[Row], tell: Callable[[], int]) -> None:
        with self._patient(_LONG) as connection:
            queries.empty_import(connection)
        done = faults = 0
        while batch := list(islice(rows, _BATCH)):
            with self._patient(_LONG) as connection:
                faults += _copy_batch(connection, batch, _MOST_FAULTS - faults)
                done += len(batch)
                row = queries.import_progress(
                    connection, rows_read=done, bytes_read=tell(), import_id=import_id
                )
            if row["stop_asked"]:
                raise Stopped(_STOPPED)
            if faults >= _MOST_FAULTS:
                break

    def _judge(self, import_id: int) -> None:
        self._state(import_id, "judging", "")
        with self._stoppable(import_id) as connection:
            queries.analyze_import(connection)
            queries.find_repeated_people(connection, most=_MOST_FAULTS)
            queries.find_repeated_groups(connection, most=_MOST_FAULTS)
            queries.find_unknown_members(connection, most=_MOST_FAULTS)
            _find_circle(connection)
            wrong = int(queries.count_faults(connection))
            queries.keep_preview(
                connection, preview=Jsonb(_preview(connection, wrong)), import_id=import_id
            )
        self._state(import_id, "wrong" if wrong else "ready", "")

    def claim(self, import_id: int) -> UnderWay:
        """Mark a read import as being applied; raises NotReady where it does not wait for that."""

        def first(connection: psycopg.Connection[DictRow]) -> int:
            row = queries.lock_import(connection, import_id=import_id)
            if row is None or row["state"] != "ready":
                state = "gone" if row is None else row["state"]
                raise NotReady(f"this import is {state}; read the file again")
            queries.set_import_state(connection, state="applying", problem="", import_id=import_id)
            return import_id

        return UnderWay(self.database, first)

    def apply(self, under_way: UnderWay) -> None:
        """Put a claimed import in the directory's place, in one transaction.

        Where that fails the directory is as it was, and the import says why.
        """
        import_id = under_way.import_id
        try:
            with self._stoppable(import_id) as connection:
                queries.apply_people(connection)
                queries.apply_groups(connection)
                queries.apply_members(connection)
                _count(connection)
                queries.empty_import(connection)
                queries.set_import_state(
                    connection, state="applied", problem="", import_id=import_id
                )
        except StoreGone:
            raise
        except (Stopped, psycopg.Error, StoreError) as error:
            self._ended(import_id, error, "nothing was changed: ")

    def drop(self, import_id: int) -> None:
        """Let a read import go, or ask one that is being read to stop."""
        with self.database.connection() as connection:
            row = queries.lock_import(connection, import_id=import_id)
            if row is None:
                raise NotReady("there is no such import")
            if row["state"] in ("ready", "wrong"):
                queries.set_import_state(
                    connection, state="dropped", problem="", import_id=import_id
                )
            else:
                queries.ask_stop(connection, import_id=import_id)

    def _state(self, import_id: int, state: str, problem: str) -> None:
        with self.database.connection() as connection:
            queries.set_import_state(
                connection, state=state, problem=problem[:1000], import_id=import_id
            )

    @contextmanager
    def _patient(self, limit: str) -> Iterator[psycopg.Connection[DictRow]]:
        with self.database.connection() as connection:
            connection.execute(limit)
            yield connection

    @contextmanager
    def _reading(self) -> Iterator[psycopg.Connection[DictRow]]:
        """A connection for a long look at the directory: only so many at once, so that saves
        find one; raises StoreBusy."""
        places = self.database.long_reads
        if not places.acquire(timeout=_READ_WAIT):
            raise StoreBusy("others look at the directory at present")
        try:
            with self._patient(_READ_LIMIT) as connection:
                yield connection
        finally:
            places.release()

    @contextmanager
    def _stoppable(self, import_id: int) -> Iterator[psycopg.Connection[DictRow]]:
        """A connection whose statement, however long, ends soon after a stop is asked for."""
        ended = threading.Event()
        stopped = False

        def watch(connection: psycopg.Connection[DictRow]) -> None:
            nonlocal stopped
            while not ended.wait(_LOOK_SECONDS):
                try:
                    self._look(import_id)
                except Stopped:
                    stopped = True
                    connection.cancel_safe()
                except StoreError:
                    continue

        try:
            with self._patient(_LONG) as connection:
                watcher = threading.Thread(target=watch, args=(connection,), daemon=True)
                watcher.start()
                try:
                    yield connection
                finally:
                    ended.set()
                    watcher.join()
        except (psycopg.Error, StoreError) as error:
            if stopped:
                raise Stopped(_STOPPED) from error
            raise


class Watched:
    """A file that looks up now and then, while it is read, whether to go on."""

    def __init__(self, file: BinaryIO, look: Callable[[], None]) -> None:
        self._file, self._look = file, look
        self._next = time.monotonic() + _LOOK_SECONDS

    def _now_and_then(self) -> None:
        if time.monotonic() > self._next:
            self._look()
            self._next = time.monotonic() + _LOOK_SECONDS

    def read(self, size: int = -1) -> bytes:
        """The next bytes."""
        self._now_and_then()
        return self._file.read(size)

    def readline(self, size: int = -1) -> bytes:
        """The next line, or as much of it as ``size`` allows."""
        self._now_and_then()
        return self._file.readline(size)

    def tell(self) -> int:
        """How far it has been read."""
        return self._file.tell()


def _count(connection: psycopg.Connection[DictRow]) -> dict[str, Any]:
    """Count the directory and keep what was counted."""
    totals = dict(queries.directory_totals(connection))
    found = {**totals, "groups": list(queries.directory_groups(connection))}
    queries.keep_directory_counts(connection, **{**found, "groups": Jsonb(found["groups"])})
    return found


def _copy_batch(connection: psycopg.Connection[DictRow], batch: Sequence[Row], room: int) -> int:
    """COPY a batch, each kind of row to its table; returns how many rows were wrong."""
    kinds: dict[type, list[tuple[Any, ...]]] = {
        PersonRow: [], GroupRow: [], MemberRow: [], WrongRow: []
    }  # fmt: skip
    for row in batch:
        match row:
            case PersonRow(line, ref, key, name, mail):
                kinds[PersonRow].append((line, ref, key, name, mail))
            case GroupRow(line, ref, key, name):
                kinds[GroupRow].append((line, ref, key, name))
            case MemberRow(line, group, member):
                kinds[MemberRow].append((line, group, member))
            case WrongRow(line, what, mend):
                # What is said of a row may show what is wrong with it, zero bytes too.
                kinds[WrongRow].append((line, what.replace("\x00", "␀"), mend.replace("\x00", "␀")))
    wrong = kinds[WrongRow][:room]
    _copy(connection, queries.copy_people.sql, kinds[PersonRow])
    _copy(connection, queries.copy_groups.sql, kinds[GroupRow])
    _copy(connection, queries.copy_members.sql, kinds[MemberRow])
    _copy(connection, queries.copy_faults.sql, wrong)
    return len(wrong)


def _copy(
    connection: psycopg.Connection[DictRow], statement: str, rows: Iterable[tuple[Any, ...]]
) -> None:
    with connection.cursor() as cursor, cursor.copy(statement) as copy:
        for row in rows:
            copy.write_row(row)


def _find_circle(connection: psycopg.Connection[DictRow]) -> None:
    """Note a circle among groups: at most one, since mending it may undo others."""
    nestings = list(queries.import_nestings(connection))
    circle = circle_among((row["parent"], row["child"]) for row in nestings)
    if circle is None:
        return
    lines = {(row["parent"], row["child"]): row["line"] for row in nestings}
    path = " holds ".join([*circle, circle[0]])
    line = lines[(circle[-1], circle[0])]
    _copy(
        connection, queries.copy_faults.sql,
        [(line, f"groups hold each other in a circle: {path}", "take one of them out")],
    )  # fmt: skip


def _preview(connection: psycopg.Connection[DictRow], wrong: int) -> dict[str, Any]:
    most = _MOST_SAMPLES
    return {
        "people": dict(queries.people_differences(connection)),
        "added": list(queries.sample_added_people(connection, most=most)),
        "changed": list(queries.sample_changed_people(connection, most=most)),
        "dropped": list(queries.sample_dropped_people(connection, most=most)),
        "groups": list(queries.groups_differences(connection)),
        "wrong": wrong,
        "faults": list(queries.list_faults(connection, most=200)),
    }
