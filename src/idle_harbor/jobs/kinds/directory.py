"""Imports of the directory: a file is read and judged, and then applied, a job of one part each."""

from __future__ import annotations

from collections.abc import Iterable

import psycopg
from psycopg.rows import DictRow

from idle_harbor.core.errors import HarborError
from idle_harbor.jobs.kind import Input, Kind, Part
from idle_harbor.store.database import Database, queries
from idle_harbor.store.directories import Directories
from idle_harbor.store.directory import Directory, Format, NotReady
from idle_harbor.store.jobs import Wish

_PRIORITY = 1


class ImportFailed(HarborError):
    """An import has come to its end without what it was for."""


def _of_import(database: Database, import_id: int) -> Directory:
    found = Directories(database).of_import(import_id)
    if found is None:
        raise NotReady("there is no such import")
    return Directory(database, found)


def _part(database: Database, given: Input) -> Part:
    import_id = given["import"]

    def part(_: int) -> str:
        try:
            directory = _of_import(database, import_id)
            work = directory.read if given["what"] == "read" else directory.apply
            work(import_id)
            state, problem = directory.state(import_id)
        except NotReady as error:
            raise ImportFailed(f"import {import_id}: {error}") from error
        if state == "failed":
            raise ImportFailed(problem)
        return state

    return part


IMPORT = Kind("import", at=_part, queue="files")


def begin_import(
    directory: Directory, source: str, form: Format, pieces: Iterable[bytes], owner: str = ""
) -> int:
    """Take a file and have it read; returns the import's number. Raises ImportUnderWay."""

    def ask(connection: psycopg.Connection[DictRow], import_id: int) -> int:
        return _ask(connection, import_id, "read", f"Read {source}", owner)

    return directory.take(source, form, pieces, ask)


def begin_apply(database: Database, import_id: int) -> Directory:
    """Have a read import put in the place of its directory, which is returned, for whom it was
    read. Raises NotReady."""
    directory = _of_import(database, import_id)

    def ask(connection: psycopg.Connection[DictRow], import_id: int) -> int:
        owner = queries.import_owner(connection, import_id=import_id) or ""
        return _ask(connection, import_id, "apply", "Take it into the directory", owner)

    directory.claim(import_id, ask)
    return directory


def _ask(
    connection: psycopg.Connection[DictRow], import_id: int, what: str, title: str, owner: str
) -> int:
    from idle_harbor.jobs.queue import ask_on

    given = {"import": import_id, "what": what}
    wish = Wish("import", f"import {import_id} {what}", title, owner, _PRIORITY, given, 1)
    return int(ask_on(connection, wish)["id"])
