"""The web server as a child process: begun, told its database, watched, started again, ended."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from pathlib import Path

from idle_harbor.launch.tools import LaunchError
from idle_harbor.processes import end_with_parent
from idle_harbor.runtime import var_folder

#: A server that dies more often than so many times within so many seconds is not started again.
_MOST_DEATHS, _DEATHS_WITHIN = 3, 60.0


def begin(
    port: int, log: Path, user: str | None = None, *, shared: bool = False
) -> subprocess.Popen[bytes]:
    """Start a web server that reads itself and then waits to be told its database: see
    :func:`answering`. Started by root it goes on as ``user`` once it has read everything.
    Several that are ``shared`` serve one port together."""
    environment = {k: v for k, v in os.environ.items() if k != "DATABASE_URL"}
    command = [sys.executable, "-m", "idle_harbor.web.server", "--port", str(port)]
    command += ["--user", user] if user else []
    command += ["--shared"] if shared else []
    log.parent.mkdir(parents=True, exist_ok=True)
    with log.open("ab") as output:
        return subprocess.Popen(
            command,
            env={**environment, "PYTHONUNBUFFERED": "1"},
            stdin=subprocess.PIPE,
            stdout=output,
            stderr=output,
            start_new_session=True,
            preexec_fn=end_with_parent,
        )


def answering(
    child: subprocess.Popen[bytes], address: str, port: int, log: Path
) -> subprocess.Popen[bytes]:
    """Tell a server its database and wait until it answers on loopback.

    Raises LaunchError where it ends instead, or does not answer within a minute.
    """
    assert child.stdin is not None
    try:
        child.stdin.write(f"{address}\n".encode())
        child.stdin.close()
    except BrokenPipeError:
        pass  # It has ended; its log says why.
    deadline = time.monotonic() + 60
    while time.monotonic() < deadline:
        if child.poll() is not None:
            tail = "\n".join(log.read_text(errors="replace").splitlines()[-12:])
            raise LaunchError(f"the server did not start:\n{tail}")
        try:
            # Where several share the port, another may answer.
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/health", timeout=5) as answer:
                if json.load(answer)["process"] == child.pid:
                    return child
        except (urllib.error.URLError, OSError, ValueError):
            pass
        time.sleep(0.05)
    end(child)
    raise LaunchError("the server did not answer within a minute")


def serve(
    port: int, address: str, log: Path, user: str | None = None, *, shared: bool = False
) -> subprocess.Popen[bytes]:
    """Start the web server on a database and wait until it answers."""
    return answering(begin(port, log, user, shared=shared), address, port, log)


def end(child: subprocess.Popen[bytes]) -> None:
    """End a child and its workers by process id."""
    if child.poll() is None:
        child.terminate()
        try:
            child.wait(10)
        except subprocess.TimeoutExpired:
            os.killpg(child.pid, signal.SIGKILL)
            child.wait()


class Server:
    """The web server as it is started, and started again where it died."""

    def __init__(self, start: Callable[[], subprocess.Popen[bytes]]) -> None:
        self._start = start
        self._child = start()
        self._deaths: list[float] = []

    def look(self) -> None:
        """Start it again where it has died; raises LaunchError where it does so again and again."""
        if self._child.poll() is None:
            return
        now = time.monotonic()
        self._deaths = [*(at for at in self._deaths if now - at < _DEATHS_WITHIN), now]
        if len(self._deaths) > _MOST_DEATHS:
            raise LaunchError(f"the server keeps ending; see {var_folder() / 'server.log'}")
        print("the web server has died; starting it again …", flush=True)
        self._child = self._start()

    def end(self) -> None:
        """End it for good."""
        end(self._child)
