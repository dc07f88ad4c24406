"""Workers as child processes: begun, told their database, watched, started again, ended."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from pathlib import Path

from idle_harbor.launch.webserver import end
from idle_harbor.processes import end_with_parent

#: Seconds before one that has ended is started again: its database may have to come back first.
_PAUSE = 1.0


def usual_workers() -> int:
    """As many as there are processors, less one for the web server; one at least."""
    return max(len(os.sched_getaffinity(0)) - 1, 1)


def begin_worker(
    address: str, log: Path, user: str | None = None, machines: str = "", key: str = ""
) -> subprocess.Popen[bytes]:
    """Start a worker for a database; started by root it goes on as ``user``. Parts are worked out
    by ``machines``, where their scheduler's address and the file of their ``key`` are given."""
    environment = {k: v for k, v in os.environ.items() if k != "DATABASE_URL"}
    command = [sys.executable, "-m", "idle_harbor.jobs.worker"]
    command += ["--user", user] if user else []
    command += ["--machines", machines] if machines else []
    command += ["--key", key] if key else []
    log.parent.mkdir(parents=True, exist_ok=True)
    with log.open("ab") as output:
        child = subprocess.Popen(
            command,
            env={**environment, "PYTHONUNBUFFERED": "1"},
            stdin=subprocess.PIPE,
            stdout=output,
            stderr=output,
            start_new_session=True,
            preexec_fn=end_with_parent,
        )
    assert child.stdin is not None
    try:
        child.stdin.write(f"{address}\n".encode())
        child.stdin.close()
    except BrokenPipeError:
        pass  # It has ended; its log says why.
    return child


class Workers:
    """So many workers, each started again where it has ended."""

    def __init__(
        self,
        many: int,
        address: str,
        log: Path,
        user: str | None = None,
        *,
        machines: str = "",
        key: str = "",
    ) -> None:
        self._address, self._log, self._user = address, log, user
        self._machines, self._key = machines, key
        self._children = [self._begin() for _ in range(many)]
        self._begun = [time.monotonic()] * many

    def _begin(self) -> subprocess.Popen[bytes]:
        return begin_worker(self._address, self._log, self._user, self._machines, self._key)

    @property
    def pids(self) -> list[int]:
        """Their process ids."""
        return [child.pid for child in self._children]

    def look(self) -> None:
        """Start those again that have ended, though not at once."""
        now = time.monotonic()
        for k, child in enumerate(self._children):
            if child.poll() is not None and now - self._begun[k] > _PAUSE:
                self._children[k], self._begun[k] = self._begin(), now

    def end(self) -> None:
        """End them for good."""
        for child in self._children:
            if child.poll() is None:
                child.terminate()
        for child in self._children:
            end(child)
