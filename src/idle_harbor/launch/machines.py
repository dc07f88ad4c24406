"""Machines that work out parts of long work: a scheduler, and processes that compute for it."""

from __future__ import annotations

import os
import sys
from typing import NoReturn

from idle_harbor.runtime import prepare_engine, var_folder


def dispatch_at(host: str, port: int) -> NoReturn:
    """Become the scheduler that listens there."""
    _become("scheduler", "--host", host, "--port", str(port), "--no-dashboard", "--no-show")


def compute_for(scheduler: str, number: int, host: str = "") -> NoReturn:
    """Become so many processes that compute for a scheduler, one part at a time each."""
    prepare_engine()
    folder = var_folder() / "machines"
    folder.mkdir(parents=True, exist_ok=True)
    _become(
        "worker",
        scheduler,
        "--nworkers",
        str(number),
        "--nthreads",
        "1",
        "--no-dashboard",
        "--local-directory",
        str(folder),
        *(["--host", host] if host else []),
    )


def _become(*command: str) -> NoReturn:
    os.execv(
        sys.executable, [sys.executable, "-m", "distributed.cli.dask_" + command[0], *command[1:]]
    )
