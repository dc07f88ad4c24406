"""Processes: whether one lives and is ours, ends with its parent, or gives up rights of root."""

from __future__ import annotations

import ctypes
import gc
import os
import pwd
import signal
import sys
from collections.abc import Sequence
from pathlib import Path

_PR_SET_PDEATHSIG = 1
_LIBC = ctypes.CDLL(None) if sys.platform == "linux" else None


def lives(pid: int, mark: str) -> bool:
    """Whether a process of that number runs and was started with ``mark`` in its command.

    One that has ended and waits for its parent to take note of it does not live, though signals
    to it succeed; and numbers are given again, so another program may have it by now.
    """
    folder = Path(f"/proc/{pid}")
    try:
        state = (folder / "stat").read_text().rpartition(")")[2].split()[0]
        command = (folder / "cmdline").read_bytes().replace(b"\0", b" ").decode(errors="replace")
    except (OSError, IndexError):
        return False
    return state not in ("Z", "X") and mark in command


def imports_begin() -> None:
    """Have the garbage collector look seldom: imports make a million objects that all stay."""
    gc.set_threshold(100_000, 20, 20)


def imports_done() -> None:
    """Have it look as often as usual again, but never at what is in memory now.

    That stays until the end of the process, which would take most of a second to look through it.
    """
    gc.freeze()
    gc.set_threshold(700, 10, 10)


def end_with_parent() -> None:
    """Be ended when the parent is killed (Linux; elsewhere nothing)."""
    if _LIBC is not None:
        _LIBC.prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)


def become(user: str) -> None:
    """Give up the rights of root for good, and go on as another user of this machine.

    Ending with the parent is asked for again, since it ends with the rights.
    """
    entry = pwd.getpwnam(user)
    parent = os.getppid()
    os.setgroups([])
    os.setresgid(entry.pw_gid, entry.pw_gid, entry.pw_gid)
    os.setresuid(entry.pw_uid, entry.pw_uid, entry.pw_uid)
    os.environ.update(HOME="/", USER=user, LOGNAME=user)
    end_with_parent()
    if os.getppid() != parent:
        sys.exit("the process that started this one has gone")


def may_read(user: str, folders: Sequence[Path]) -> bool:
    """Whether another user may read every file in some folders: it is tried, by a child that
    gives up the rights of root. False where that cannot be told."""
    child = os.fork()
    if child == 0:
        try:
            become(user)
            os._exit(0 if all(map(_readable, folders)) else 1)
        except BaseException:
            os._exit(2)
    _, status = os.waitpid(child, 0)
    return os.waitstatus_to_exitcode(status) == 0


def _readable(folder: Path) -> bool:
    def hidden(error: OSError) -> None:
        raise error

    try:
        return all(
            os.access(os.path.join(inside, name), os.R_OK)
            for inside, _, names in os.walk(folder, onerror=hidden)
            for name in names
        )
    except OSError:
        return False
