"""What stands in the way of a start is said in a clear sentence."""

import os
import socket
import subprocess
import sys
import time
from pathlib import Path

CHECKOUT = Path(__file__).parent.parent.parent


def demo(*arguments: str, **environment: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "idle_harbor.cli", "demo", *arguments],
        capture_output=True,
        text=True,
        check=False,
        timeout=60,
        env={**os.environ, "PYTHONPATH": str(CHECKOUT / "src"), **environment},
    )


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


def test_a_server_takes_the_compiled_engine_whoever_starts_it():
    """What it imports first must not compile into a folder of its own: it would do so for long."""
    script = (
        "import idle_harbor.web.server, numba\n"
        "from idle_harbor.runtime import compiled_folder\n"
        "assert numba.config.CACHE_DIR == str(compiled_folder(checked=False))\n"
    )
    environment = {k: v for k, v in os.environ.items() if not k.startswith("NUMBA_")}
    done = subprocess.run(
        [sys.executable, "-c", script],
        capture_output=True,
        text=True,
        check=False,
        env={**environment, "PYTHONPATH": str(CHECKOUT / "src")},
    )
    assert done.returncode == 0, done.stderr


def test_a_killed_start_leaves_no_server_behind(tmp_path):
    script = (
        "import sys, time\n"
        "from pathlib import Path\n"
        "from idle_harbor.launch.webserver import serve\n"
        "from idle_harbor.launch.tools import free_port\n"
        "child = serve(free_port(), 'postgresql://nobody@127.0.0.1:1/none', Path(sys.argv[1]))\n"
        "print(child.pid, flush=True)\n"
        "time.sleep(60)\n"
    )
    parent = subprocess.Popen(
        [sys.executable, "-c", script, str(tmp_path / "server.log")],
        stdout=subprocess.PIPE,
        text=True,
        env={**os.environ, "PYTHONPATH": str(CHECKOUT / "src")},
    )
    assert parent.stdout is not None
    server = int(parent.stdout.readline())
    parent.kill()
    parent.wait(10)
    deadline = time.monotonic() + 15
    while Path(f"/proc/{server}/cmdline").exists() and time.monotonic() < deadline:
        if not Path(f"/proc/{server}/cmdline").read_bytes():
            break  # ended, not yet reaped
        time.sleep(0.1)
    else:
        assert not Path(f"/proc/{server}").exists()
