"""Small helpers for starting things: commands, ports, Debian packages."""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
from collections.abc import Sequence
from pathlib import Path


class LaunchError(Exception):
    """Something could not be started; the message says what to do about it."""


def is_root() -> bool:
    """Whether this process may install packages."""
    return os.geteuid() == 0


def free_port() -> int:
    """A port on loopback that nobody listens on right now."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def port_taken(port: int) -> bool:
    """Whether somebody listens on a loopback port."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return True
    return False


def run(command: Sequence[str | Path], *, what: str, cwd: Path | None = None) -> str:
    """Run a command quietly; on failure raise LaunchError with its last lines."""
    done = subprocess.run(
        [str(part) for part in command], cwd=cwd, capture_output=True, text=True, check=False
    )
    if done.returncode != 0:
        tail = "\n".join((done.stdout + done.stderr).strip().splitlines()[-12:])
        raise LaunchError(f"{what} failed:\n{tail}")
    return done.stdout


def install_debian(packages: Sequence[str], *, what: str) -> None:
    """Install Debian packages as root; otherwise say which command would."""
    listed = " ".join(packages)
    if not is_root():
        raise LaunchError(
            f"{what} is missing and this user may not install it; "
            f"ask an administrator for: apt-get install {listed}"
        )
    if shutil.which("apt-get") is None:
        raise LaunchError(f"{what} is missing; install it with this system's packages ({listed})")
    print(f"installing {what} ({listed}) …", flush=True)
    environment = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    for arguments in (["update"], ["install", "-y", "--no-install-recommends", *packages]):
        done = subprocess.run(
            ["apt-get", "-q", *arguments],
            env=environment,
            capture_output=True,
            text=True,
            check=False,
        )
    if done.returncode != 0:
        tail = "\n".join((done.stdout + done.stderr).strip().splitlines()[-6:])
        raise LaunchError(f"installing {what} failed:\n{tail}")
