"""Processes: whether one lives and is ours, ends with its parent, or gives up rights of root."""

from __future__ import annotations

import ctypes
import os
import pwd
import signal
import sys
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
