"""Room on the disk: whether there is some, and what is said where there is none."""

from __future__ import annotations

import errno
import shutil
import tempfile
from pathlib import Path

from idle_harbor.launch.tools import LaunchError

#: Bytes that a start needs: what it writes before anybody has saved anything.
_LEAST = 64_000_000
_REMEDY = "make room there, or name another folder with IDLE_HARBOR_VAR"
_SAID = {
    errno.ENOSPC: f"no space is left in {{folder}}; {_REMEDY}",
    errno.EDQUOT: f"no space is left to this user in {{folder}}; {_REMEDY}",
    errno.EROFS: "{folder} may only be read; name another folder with IDLE_HARBOR_VAR",
    errno.EACCES: "this user may not write in {folder}; name another folder with IDLE_HARBOR_VAR",
}
#: What the system calls these, as other programs print it.
_CALLED = {"No space left on device": errno.ENOSPC, "Read-only file system": errno.EROFS}


def said_of(error: OSError, folder: Path) -> str | None:
    """What an error of the system means for a folder; None where it is not about room."""
    said = _SAID.get(errno.EACCES if error.errno == errno.EPERM else error.errno or 0)
    return None if said is None else said.format(folder=Path(error.filename or folder))


def said_in(text: str, folder: Path) -> str | None:
    """The same of what another program has printed."""
    for called, number in _CALLED.items():
        if called in text:
            return _SAID[number].format(folder=folder)
    return None


def check_room(folder: Path) -> None:
    """Raise LaunchError where a start cannot write in a folder, which is made if need be."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryFile(dir=folder) as file:
            file.write(bytes(100_000))
    except OSError as error:
        error.filename = None
        raise LaunchError(said_of(error, folder) or f"{folder}: {error.strerror}") from error
    free = shutil.disk_usage(folder).free
    if free < _LEAST:
        left = f"{free / 1e6:.0f} MB of the {_LEAST / 1e6:.0f} MB that a start needs"
        raise LaunchError(f"no space: {left} are left in {folder}; {_REMEDY}")
