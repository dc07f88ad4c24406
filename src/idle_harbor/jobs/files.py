"""Long work on files: an import of the directory is read and judged, or applied, each a part."""

from __future__ import annotations

from idle_harbor.core.errors import HarborError
from idle_harbor.jobs.kind import Input, Kind, Part
from idle_harbor.store.database import Database
from idle_harbor.store.directory import Directory, NotReady


class ImportFailed(HarborError):
    """An import has come to its end without what it was for."""


def _part(database: Database, given: Input) -> Part:
    directory, import_id = Directory(database), given["import"]
    work = directory.read if given["what"] == "read" else directory.apply

    def part(_: int) -> str:
        work(import_id)
        try:
            state, problem = directory.state(import_id)
        except NotReady as error:
            raise ImportFailed(f"import {import_id}: {error}") from error
        if state == "failed":
            raise ImportFailed(problem)
        return state

    return part


IMPORT = Kind("import", at=_part, queue="files")
