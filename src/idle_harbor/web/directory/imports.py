"""Imports are read and applied beside the requests, each in a thread of its own."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable
from pathlib import Path

from idle_harbor.store.database import StoreError
from idle_harbor.store.directory import Directory, Format
from idle_harbor.store.under_way import UnderWay

_log = logging.getLogger("idle_harbor.web")


def read_beside(held: Directory, name: str, form: Format, path: Path) -> None:
    """Begin an import, raising what that raises, and read its file; the file is removed."""

    def work(import_: UnderWay) -> None:
        try:
            held.read(import_, form, path)
        finally:
            path.unlink(missing_ok=True)

    _go_on(held.begin(name, form, path.stat().st_size), work)


def apply_beside(held: Directory, import_id: int) -> None:
    """Claim a read import, raising what that raises, and apply it."""
    _go_on(held.claim(import_id), held.apply)


def _go_on(import_: UnderWay, work: Callable[[UnderWay], None]) -> None:
    def run() -> None:
        try:
            with import_:
                work(import_)
        except StoreError:
            # The import is found without a worker, and marked, once the database is back.
            _log.warning("import %d ended: the database does not answer", import_.import_id)

    threading.Thread(target=run, name="import", daemon=True).start()
