"""The directory over HTTP: what it holds, and imports with a preview."""

from __future__ import annotations

import logging
import tempfile
import threading
from collections.abc import Callable
from pathlib import Path
from typing import IO, Any

from flask import Response, current_app, make_response, request
from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.models import RawModel
from flask_openapi3.models.tag import Tag
from pydantic_core import to_json

from idle_harbor.demo.directory import demo_directory
from idle_harbor.runtime import spool_folder
from idle_harbor.store.database import StoreError
from idle_harbor.store.directory import Directory, Format
from idle_harbor.web.directory_models import (
    ClassesAnswer,
    ClassesBody,
    DirectoryAnswer,
    ImportAnswer,
    ImportPath,
    ImportQuery,
    StandInBody,
)
from idle_harbor.web.plans import database
from idle_harbor.web.problems import described

directory = APIBlueprint(
    "directory", __name__, url_prefix="/api/directory", abp_tags=[Tag(name="directory")]
)

#: Ten million people are about a gigabyte.
MOST_BYTES = 8_000_000_000
_CHUNK = 1 << 20
_log = logging.getLogger("idle_harbor.web")


class ImportDesk:
    """Reads and applies imports beside the requests, one at a time."""

    def __init__(self) -> None:
        self._working = 0
        self._lock = threading.Lock()

    def busy(self) -> bool:
        """Whether this process is about to work on an import, or does."""
        return self._working > 0

    def read(self, held: Directory, name: str, form: Format, path: Path) -> None:
        """Begin an import and read its file in a thread of its own; the file is removed."""

        def work(import_id: int) -> None:
            try:
                held.read(import_id, form, path)
            finally:
                path.unlink(missing_ok=True)

        self._start(lambda: held.begin(name, form, path.stat().st_size), work)

    def apply(self, held: Directory, import_id: int) -> None:
        """Claim a read import and apply it in a thread of its own."""

        def claim() -> int:
            held.claim(import_id)
            return import_id

        self._start(claim, held.apply)

    def _start(self, begin: Callable[[], int], work: Callable[[int], None]) -> None:
        """Begin at once, raising what that raises, and work on beside the request."""
        self._count(1)
        try:
            import_id = begin()
        except BaseException:
            self._count(-1)
            raise

        def run() -> None:
            try:
                work(import_id)
            except StoreError:
                # The import is found without a worker, and marked, once the database is back.
                _log.warning("import %d ended: the database does not answer", import_id)
            finally:
                self._count(-1)

        threading.Thread(target=run, name="import", daemon=True).start()

    def _count(self, by: int) -> None:
        with self._lock:
            self._working += by


def _spool() -> IO[bytes]:
    """A file of its own for what comes in; who reads it removes it."""
    folder = spool_folder()
    folder.mkdir(parents=True, exist_ok=True)
    return tempfile.NamedTemporaryFile(dir=folder, prefix="import-", delete=False)


def _desk() -> ImportDesk:
    found = current_app.extensions["imports"]
    assert isinstance(found, ImportDesk)
    return found


def _held() -> Directory:
    return Directory(database())


def _json(values: object, status: int = 200) -> Response:
    response = make_response(to_json(values), status)
    response.mimetype = "application/json"
    return response


def _latest() -> dict[str, Any]:
    """The newest import; one that no process works on any more has failed."""
    held = _held()
    row = held.latest_import()
    working = ("reading", "judging", "applying")
    if row is not None and row["state"] in working and not _desk().busy():
        held.fail_left_imports()
        row = held.latest_import()
    return {"latest": row}


@directory.get("", responses={200: DirectoryAnswer, **described(503)})
def read_directory() -> Response:
    """Totals, and every group with how many people are in it."""
    return _json(_held().summary())


@directory.post("/classes", responses={200: ClassesAnswer, **described(503)})
def read_classes(body: ClassesBody) -> Response:
    """People by exactly which of some groups they are in: what a plan's overlaps are."""
    return _json({"classes": _held().classes(body.groups)})


@directory.get("/import", responses={200: ImportAnswer, **described(503)})
def read_import() -> Response:
    """The newest import: how far it is, or what it would change."""
    return _json(_latest())


class FileBody(RawModel):
    """A file of people and groups, as it is."""

    mimetypes: list[str] = ["application/octet-stream"]  # noqa: RUF012


@directory.post("/import", responses={202: ImportAnswer, **described(409, 413, 415, 503)})
def begin_import(query: ImportQuery, raw: FileBody) -> Response:
    """Take a file, the request's body, and begin to read it."""
    request.max_content_length = MOST_BYTES
    _latest()
    with _spool() as spool:
        path = Path(spool.name)
        try:
            while chunk := raw.stream.read(_CHUNK):
                spool.write(chunk)
        except BaseException:
            path.unlink(missing_ok=True)
            raise
    return _begin(query.format, query.name, path)


@directory.post("/stand-in", responses={202: ImportAnswer, **described(409, 503)})
def ask_stand_in(body: StandInBody) -> Response:
    """Read the simulated directory as it stands on a day, as SCIM."""
    _latest()
    with _spool() as spool:
        spool.write(demo_directory().as_scim(body.day))
        path = Path(spool.name)
    return _begin("scim", f"simulated directory, day {body.day}", path)


def _begin(form: Format, name: str, path: Path) -> Response:
    held = _held()
    try:
        _desk().read(held, name, form, path)
    except StoreError:
        path.unlink(missing_ok=True)
        raise
    return _json({"latest": held.latest_import()}, 202)


@directory.post("/import/<int:import_id>/apply", responses={202: ImportAnswer, **described(409)})
def apply_import(path: ImportPath) -> Response:
    """Put a read import in the directory's place: all of it or nothing."""
    held = _held()
    _desk().apply(held, path.import_id)
    return _json({"latest": held.latest_import()}, 202)


@directory.post("/import/<int:import_id>/drop", responses={200: ImportAnswer, **described(409)})
def drop_import(path: ImportPath) -> Response:
    """Let a read import go, or stop one that is being read."""
    held = _held()
    held.drop(path.import_id)
    return _json({"latest": held.latest_import()})
