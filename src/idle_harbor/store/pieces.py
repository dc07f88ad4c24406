"""Files of imports as they wait in the database: taken, and read again, piece by piece."""

from __future__ import annotations

import io
import time
from collections.abc import Callable, Iterable
from typing import Any

import psycopg
from psycopg.rows import DictRow

from idle_harbor.store.database import Database, queries

#: Bytes of a file that are read at once.
_PIECE = 1 << 20
#: Seconds after which whoever reads looks up whether to go on.
LOOK_SECONDS = 0.3


def copy_pieces(
    connection: psycopg.Connection[DictRow], import_id: int, pieces: Iterable[bytes]
) -> int:
    """COPY a file, piece by piece; returns its size."""
    size = 0
    with connection.cursor() as cursor, cursor.copy(queries.copy_pieces.sql) as copy:
        copy.set_types(["int8", "int4", "bytea"])
        for place, piece in enumerate(piece for piece in pieces if piece):
            copy.write_row((import_id, place, piece))
            size += len(piece)
    return size


class _Pieces(io.RawIOBase):
    """A file that was taken, read from the database piece by piece."""

    def __init__(self, database: Database, import_id: int) -> None:
        self._database, self._import_id = database, import_id
        self._place, self._piece, self._at = 0, b"", 0

    def readable(self) -> bool:
        """It is."""
        return True

    def readinto(self, buffer: Any) -> int:
        """Fill a buffer with what comes next of one piece; 0 at the end."""
        if self._at == len(self._piece):
            with self._database.connection() as connection:
                piece = queries.import_piece(
                    connection, import_id=self._import_id, place=self._place
                )
            if piece is None:
                return 0
            self._place, self._piece, self._at = self._place + 1, piece, 0
        room = min(len(buffer), len(self._piece) - self._at)
        buffer[:room] = self._piece[self._at : self._at + room]
        self._at += room
        return room


class Watched:
    """A file that looks up now and then, while it is read, whether to go on."""

    def __init__(self, file: io.BufferedReader[_Pieces], look: Callable[[], None]) -> None:
        self._file, self._look = file, look
        self._read = 0
        self._next = time.monotonic() + LOOK_SECONDS

    def _now_and_then(self) -> None:
        if time.monotonic() > self._next:
            self._look()
            self._next = time.monotonic() + LOOK_SECONDS

    def read(self, size: int = -1) -> bytes:
        """The next bytes."""
        self._now_and_then()
        found = self._file.read(size)
        self._read += len(found)
        return found

    def readline(self, size: int = -1) -> bytes:
        """The next line, or as much of it as ``size`` allows."""
        self._now_and_then()
        found = self._file.readline(size)
        self._read += len(found)
        return found

    def tell(self) -> int:
        """How far it has been read."""
        return self._read


def kept_file(database: Database, import_id: int, look: Callable[[], None]) -> Watched:
    """The file of an import, read from its beginning."""
    return Watched(io.BufferedReader(_Pieces(database, import_id), _PIECE), look)
