"""The directory in the database: reading a file beside it, judging it, and putting it in its place.

A file is first copied into tables of its own and judged there; the directory changes in one
transaction or not at all.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager
from contextvars import copy_context
from dataclasses import dataclass
from itertools import islice
from typing import Any, Literal, TypeAlias, cast

import psycopg
from psycopg.rows import DictRow
from psycopg.types.json import Jsonb

from idle_harbor.core.base.stopping import go_on
from idle_harbor.core.demand.nesting import circle_among
from idle_harbor.core.errors import NotWantedError
from idle_harbor.formats.directory.csv_people import read_csv
from idle_harbor.formats.directory.ldif_people import read_ldif
from idle_harbor.formats.directory.records import (
    DirectoryRow,
    GroupRow,
    MemberRow,
    NotReadable,
    PersonRow,
    WrongRow,
)
from idle_harbor.formats.directory.scim_people import read_scim
from idle_harbor.store.database import Database, StoreBusy, StoreError, StoreGone, queries
from idle_harbor.store.directory_rows import ImportLine, PeopleOfGroups, Totals
from idle_harbor.store.pieces import LOOK_SECONDS, copy_pieces, kept_file

Format = Literal["csv", "ldif", "scim"]
READERS: dict[Format, Callable[[Any], Iterator[DirectoryRow]]] = {
    "csv": read_csv,
    "ldif": read_ldif,
    "scim": read_scim,
}
#: What gives the number of the job that works on an import, on a connection, of its number.
Then: TypeAlias = Callable[[psycopg.Connection[DictRow], int], int]
_BATCH = 20_000
#: Wrong rows kept; a file with more of them is wrong as a whole.
_MOST_FAULTS = 1000
_MOST_SAMPLES = 20
#: Long enough for tens of millions of rows, so that nothing runs for ever.
_LONG = "SET LOCAL statement_timeout = '30min'"
#: A look at the directory, and how long to wait where others are at it.
_READ_LIMIT = "SET LOCAL statement_timeout = '2min'"
_READ_WAIT = 5.0
_IN_WORK = ("reading", "judging", "applying")
_STOPPED = "stopped on request; the directory is as it was"


class ImportUnderWay(StoreError):
    """Another import is being read or applied."""


class NotReady(StoreError):
    """The import cannot be applied: it is wrong, or no longer there."""


class Stopped(Exception):
    """The import was stopped on request."""


@dataclass(frozen=True, slots=True)
class _Turn:
    """Somebody's turn at an import: what a later one's has begun is not theirs any more."""

    import_id: int
    number: int
    form: Format

    @property
    def named(self) -> dict[str, int]:
        """What names it in a statement."""
        return {"import_id": self.import_id, "turn": self.number}


def _mine(row: object) -> None:
    """Raise NotWantedError where a statement found that another works on the import."""
    if row is None:
        raise NotWantedError("another works on this import")


class Directory:
    """The tables of one directory, on a database's connections."""

    def __init__(self, database: Database, directory_id: int) -> None:
        self.database, self.directory_id = database, directory_id

    @contextmanager
    def connection(self) -> Iterator[psycopg.Connection[DictRow]]:
        """A connection that finds the tables of this directory, and what all of them share."""
        with self.database.connection() as connection:
            place = f"directory_{self.directory_id:d}"
            connection.execute(f"SET LOCAL search_path TO {place}, public")
            yield connection

    def summary(self) -> Totals:
        """Return the totals of the directory, and each group with its people.

        They are counted when the directory changes, and here only if nobody has counted yet.
        """
        with self.connection() as connection:
            row = queries.directory_counts(connection)
        if row is None:
            with self._reading() as connection:
                row = self._count(connection)
        return cast(Totals, dict(row))

    def classes(self, keys: Sequence[str]) -> list[PeopleOfGroups]:
        """Return the number of people for each combination of the given groups."""
        with self._reading() as connection:
            rows = queries.directory_classes(connection, keys=list(keys))
            return cast(list[PeopleOfGroups], list(rows))

    def keys(self, group: str) -> list[str]:
        """Keys of a group's people in order: the k-th is the plan group's k-th person."""
        with self._reading() as connection:
            return [row["key"] for row in queries.directory_keys(connection, group_key=group)]

    def latest_import(self) -> ImportLine | None:
        """Return the newest import; it is ended here if its job has ended before it."""
        with self.connection() as connection:
            row = queries.latest_import(connection, directory_id=self.directory_id)
            if row is not None and row["state"] in _IN_WORK:
                queries.end_left_imports(connection, stopped=_STOPPED)
                row = queries.latest_import(connection, directory_id=self.directory_id)
        return None if row is None else cast(ImportLine, dict(row))

    def take(
        self, source: str, form: Format, pieces: Iterable[bytes], then: Then | None = None
    ) -> int:
        """A new import of a file, kept until it is over; returns its number.

        ``then`` gets the connection and that number, and gives the number of the job that works on
        it: all of it or nothing is kept. A file that was read and not decided on is dropped. Raises
        ImportUnderWay.
        """
        try:
            with self._patient(_LONG) as connection:
                queries.end_left_imports(connection, stopped=_STOPPED)
                queries.end_imports_without_jobs(connection)
                queries.end_undecided_imports(connection, directory_id=self.directory_id)
                queries.forget_pieces(connection)
                source = source.replace("\x00", "")[:200]
                begun = {"source": source, "format": form, "directory_id": self.directory_id}
                import_id = int(queries.begin_import(connection, **begun))
                size = copy_pieces(connection, import_id, pieces)
                queries.set_import_size(connection, import_id=import_id, bytes_total=size)
                if then is not None:
                    job = then(connection, import_id)
                    queries.give_import_job(connection, import_id=import_id, job_id=job)
        except psycopg.errors.UniqueViolation as error:
            raise ImportUnderWay("another import is being read; stop it or wait for it") from error
        return import_id

    def read(self, import_id: int) -> None:
        """Copy a file into the tables beside the directory and judge it there; done twice it is
        the same, and one that need not be read is left alone.

        What is wrong ends up in the import's state; raises StoreGone, and NotWantedError where
        this process is to end or another has taken its place.
        """
        turn = self._begin(import_id, "reading", "judging")
        if turn is None:
            return
        try:
            self._copy(turn)
            self._judge(turn)
        except StoreGone:
            raise
        except (NotReadable, Stopped, psycopg.Error, StoreError) as error:
            self._ended(turn, error)

    def _begin(self, import_id: int, *states: str) -> _Turn | None:
        """A turn at an import in one of these states, which then is in the first; else None."""
        with self._patient(_LONG) as connection:
            row = queries.begin_turn(
                connection, import_id=import_id, states=list(states), state=states[0]
            )
        return None if row is None else _Turn(import_id, row["turn"], row["format"])

    def _look(self, import_id: int) -> None:
        """Raise Stopped where somebody has asked for it, NotWantedError where this process ends."""
        go_on()
        with self.connection() as connection:
            if not queries.import_goes_on(connection, import_id=import_id):
                raise Stopped(_STOPPED)

    def _ended(self, turn: _Turn, error: Exception, said: str = "") -> None:
        """Note why an import has ended: stopped on request, or failed and why."""
        stopped = isinstance(error, Stopped)
        self._state(
            turn, "dropped" if stopped else "failed", str(error) if stopped else f"{said}{error}"
        )

    def _copy(self, turn: _Turn) -> None:
        with self._patient(_LONG) as connection:
            _mine(queries.import_progress(connection, rows_read=0, bytes_read=0, **turn.named))
            queries.empty_import(connection)
        watched = kept_file(self.database, turn.import_id, lambda: self._look(turn.import_id))
        rows = READERS[turn.form](watched)
        done = faults = 0
        while batch := list(islice(rows, _BATCH)):
            with self._patient(_LONG) as connection:
                faults += _copy_batch(connection, batch, _MOST_FAULTS - faults)
                done += len(batch)
                told = {"rows_read": done, "bytes_read": watched.tell()}
                _mine(queries.import_progress(connection, **told, **turn.named))
            self._look(turn.import_id)
            if faults >= _MOST_FAULTS:
                break

    def _judge(self, turn: _Turn) -> None:
        self._state(turn, "judging", "")
        with self._stoppable(turn.import_id) as connection:
            queries.analyze_import(connection)
            queries.find_repeated_people(connection, most=_MOST_FAULTS)
            queries.find_repeated_groups(connection, most=_MOST_FAULTS)
            queries.find_unknown_members(connection, most=_MOST_FAULTS)
            _find_circle(connection)
            wrong = int(queries.count_faults(connection))
            preview = Jsonb(_preview(connection, wrong))
            _mine(queries.keep_preview(connection, preview=preview, **turn.named))
        self._state(turn, "wrong" if wrong else "ready", "")

    def claim(self, import_id: int, then: Then | None = None) -> None:
        """Mark a read import as being applied, by the job that ``then`` gives; raises NotReady
        where it does not wait for that."""
        with self.connection() as connection:
            row = queries.lock_import(connection, import_id=import_id)
            if row is None or row["state"] != "ready":
                state = "gone" if row is None else row["state"]
                raise NotReady(f"this import is {state}; read the file again")
            queries.set_import_state(connection, state="applying", problem="", import_id=import_id)
            job = None if then is None else then(connection, import_id)
            queries.give_import_job(connection, import_id=import_id, job_id=job)

    def apply(self, import_id: int) -> None:
        """Put a claimed import in the directory's place, in one transaction; one that is applied
        is left alone.

        Where that fails the directory is as it was, and the import says why. Raises StoreGone, and
        NotWantedError where this process is to end or another has taken its place.
        """
        turn = self._begin(import_id, "applying")
        if turn is None:
            return
        try:
            with self.connection() as connection:
                lost = queries.import_is_lost(connection, import_id=import_id)
            if lost:
                self._copy(turn)
            with self._stoppable(import_id) as connection:
                queries.apply_people(connection)
                queries.apply_groups(connection)
                queries.apply_members(connection)
                self._count(connection)
                queries.empty_import(connection)
                _mine(
                    queries.set_my_import_state(
                        connection, state="applied", problem="", **turn.named
                    )
                )
            self._forget()
        except StoreGone:
            raise
        except (NotReadable, Stopped, psycopg.Error, StoreError) as error:
            self._ended(turn, error, "nothing was changed: ")

    def drop(self, import_id: int) -> None:
        """Let a read import go, or end one that is in work."""
        with self.connection() as connection:
            row = queries.lock_import(connection, import_id=import_id)
            if row is None:
                raise NotReady("there is no such import")
            said = _STOPPED if row["state"] in _IN_WORK else ""
            queries.set_import_state(connection, state="dropped", problem=said, import_id=import_id)
            queries.end_import_job(connection, import_id=import_id)
        self._forget()

    def state(self, import_id: int) -> tuple[str, str]:
        """The state of an import and its problem; raises NotReady where there is none."""
        with self.connection() as connection:
            row = queries.import_state(connection, import_id=import_id)
        if row is None:
            raise NotReady("there is no such import")
        return row["state"], row["problem"]

    def _count(self, connection: psycopg.Connection[DictRow]) -> dict[str, Any]:
        """Count the directory and keep what was counted."""
        totals = dict(queries.directory_totals(connection))
        found = {**totals, "groups": list(queries.directory_groups(connection))}
        queries.keep_directory_counts(connection, **{**found, "groups": Jsonb(found["groups"])})
        queries.note_directory_people(
            connection, directory_id=self.directory_id, people=totals["people"]
        )
        return found

    def _forget(self) -> None:
        with self._patient(_LONG) as connection:
            queries.forget_pieces(connection)

    def _state(self, turn: _Turn, state: str, problem: str) -> None:
        with self.connection() as connection:
            queries.set_my_import_state(
                connection, state=state, problem=problem[:1000], **turn.named
            )

    @contextmanager
    def _patient(self, limit: str) -> Iterator[psycopg.Connection[DictRow]]:
        with self.connection() as connection:
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
        why: list[Exception] = []

        def watch(connection: psycopg.Connection[DictRow]) -> None:
            while not ended.wait(LOOK_SECONDS):
                try:
                    self._look(import_id)
                except (Stopped, NotWantedError) as error:
                    why.append(error)
                    connection.cancel_safe()
                except StoreError:
                    continue

        try:
            with self._patient(_LONG) as connection:
                context = copy_context()
                watcher = threading.Thread(
                    target=context.run, args=(watch, connection), daemon=True
                )
                watcher.start()
                try:
                    yield connection
                finally:
                    ended.set()
                    watcher.join()
        except (psycopg.Error, StoreError) as error:
            if why:
                raise why[0] from error
            raise


def _copy_batch(
    connection: psycopg.Connection[DictRow], batch: Sequence[DirectoryRow], room: int
) -> int:
    """COPY a batch, each kind of row to its table; returns how many rows were wrong."""
    kinds: dict[type, list[tuple[Any, ...]]] = {
        PersonRow: [],
        GroupRow: [],
        MemberRow: [],
        WrongRow: [],
    }
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
        connection,
        queries.copy_faults.sql,
        [(line, f"groups hold each other in a circle: {path}", "take one of them out")],
    )


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
