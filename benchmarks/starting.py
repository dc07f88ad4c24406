"""How long ``./idle-harbor demo`` takes, first and again, with a var/ folder of its own.

Python and npm packages are installed by then: what a fresh machine adds is the downloads.
"""

from __future__ import annotations

import os
import signal
import subprocess
from dataclasses import dataclass
from tempfile import TemporaryDirectory
from time import monotonic

from idle_harbor.launch.tools import free_port
from idle_harbor.runtime import CHECKOUT


@dataclass(frozen=True, slots=True)
class Start:
    """Seconds until the address is printed, and what the parts of it took."""

    seconds: float
    parts: str


def _start(folder: str) -> Start:
    environment = {
        k: v for k, v in os.environ.items() if k not in ("DATABASE_URL", "NUMBA_CACHE_DIR")
    }
    begun = monotonic()
    child = subprocess.Popen(
        [CHECKOUT / "idle-harbor", "demo", "--port", str(free_port())],
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        start_new_session=True,
        env={**environment, "IDLE_HARBOR_VAR": folder},
    )
    assert child.stdout is not None
    parts = ""
    try:
        for line in child.stdout:
            if line.startswith("started: "):
                parts = line.removeprefix("started: ").strip()
            if line.startswith("Idle Harbor is at"):
                return Start(monotonic() - begun, parts)
        raise RuntimeError("the demo did not start")
    finally:
        child.send_signal(signal.SIGINT)
        child.wait(30)


def measure_starts() -> tuple[Start, Start]:
    """The first start and the next one."""
    with TemporaryDirectory(prefix="ih-bench-") as folder:
        os.chmod(folder, 0o755)
        return _start(folder), _start(folder)
