"""What stands in the way of a start is said in a clear sentence."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
from pathlib import Path

CHECKOUT = Path(__file__).parent.parent.parent


def demo(*arguments: str, **environment: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "idle_harbor.cli", "demo", *arguments],
        capture_output=True, text=True, check=False, timeout=60,
        env={**os.environ, "PYTHONPATH": str(CHECKOUT / "src"), **environment},
    )  # fmt: skip


def test_a_port_in_use():
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = str(taken.getsockname()[1])
        done = demo("--port", port)
    assert done.returncode == 2
    assert done.stderr.strip() == f"port {port} is in use; name another with --port"


def test_a_database_url_that_does_not_answer():
    done = demo(DATABASE_URL="postgresql://nobody@127.0.0.1:1/none")
    assert done.returncode == 2
    assert "DATABASE_URL is set but that database does not answer" in done.stderr
    assert "mend or unset it" in done.stderr


def test_the_command_alone_prints_its_verbs():
    done = subprocess.run(
        [CHECKOUT / "idle-harbor"], capture_output=True, text=True, check=False, timeout=60
    )
    assert done.returncode == 0
    for verb in ("demo", "test", "bench", "simulate", "validate", "schema", "export"):
        assert f"./idle-harbor {verb}" in done.stdout
