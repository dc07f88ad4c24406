"""Processes that live, that only look so, and that give up their rights."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

import pytest

from idle_harbor.launch import start as module
from idle_harbor.launch.start import Server, end, serve
from idle_harbor.launch.tools import LaunchError, free_port, is_root
from idle_harbor.processes import lives
from idle_harbor.runtime import spool_folder, var_folder
from tests.core.plans import document


def test_only_a_running_process_with_the_mark_lives():
    child = subprocess.Popen([sys.executable, "-c", "import time; time.sleep(30)", "a-mark"])
    assert lives(child.pid, "a-mark") and not lives(child.pid, "another")
    child.kill()
    deadline = time.monotonic() + 5
    while lives(child.pid, "a-mark"):
        assert time.monotonic() < deadline
    os.kill(child.pid, 0)  # a zombie: signals still reach it
    child.wait()
    assert not lives(child.pid, "")


class Child:
    def __init__(self, code):
        self.code = code

    def poll(self):
        return self.code


def test_a_server_that_dies_is_started_again_but_not_for_ever(capsys):
    begun = []

    def begin():
        begun.append(Child(None))
        return begun[-1]

    server = Server(begin)
    server.look()
    assert len(begun) == 1
    for _ in range(3):
        begun[-1].code = 1
        server.look()
    assert len(begun) == 4
    assert "started" not in capsys.readouterr().err
    begun[-1].code = 1
    with pytest.raises(LaunchError, match="keeps ending"):
        server.look()


def test_a_database_that_dies_is_started_again(monkeypatch):
    class Own:
        alive, starts = True, 0

        def running(self):
            return self.alive

        def start(self):
            self.starts += 1
            self.alive = True

    own, looks = Own(), []

    class Looker:
        def look(self):
            looks.append(own.starts)
            own.alive = False
            if len(looks) == 3:
                raise LaunchError("enough")

    monkeypatch.setattr(module, "_LOOK_SECONDS", 0.0)
    with pytest.raises(LaunchError, match="enough"):
        module._watch(own, Looker())
    assert looks == [0, 1, 2]


@pytest.fixture
def own_var(monkeypatch):
    """A folder for what is made at run time that another user may enter: other tests start servers
    as well, and each start empties the spool."""
    with tempfile.TemporaryDirectory(prefix="ih-var-") as folder:
        Path(folder).chmod(0o755)
        Path(folder, "compiled").symlink_to(var_folder().absolute() / "compiled")
        monkeypatch.setenv("IDLE_HARBOR_VAR", folder)
        yield


@pytest.mark.skipif(not is_root(), reason="only root can become somebody else")
@pytest.mark.usefixtures("own_var")
def test_started_by_root_the_server_is_somebody_else_and_still_serves(database_address, tmp_path):
    """What it may read later is read before: holidays, zones, pages; it takes files as well."""
    port = free_port()
    child = serve(port, database_address, tmp_path / "server.log", "postgres")
    try:
        status = Path(f"/proc/{child.pid}/status").read_text()
        ids = next(line for line in status.splitlines() if line.startswith("Uid:")).split()[1:]
        groups = next(line for line in status.splitlines() if line.startswith("Groups:")).split()
        assert "0" not in ids and len(set(ids)) == 1 and groups == ["Groups:"]

        def get(path, data=None, kind="application/json"):
            asked = urllib.request.Request(
                f"http://127.0.0.1:{port}{path}", data=data,
                headers={"Content-Type": kind} if data else {},
            )  # fmt: skip
            with urllib.request.urlopen(asked, timeout=30) as answer:
                return answer.status

        whole = document(sites=[{"id": "here", "time_zone": "Pacific/Apia",
                                 "holidays": {"country": "JP"}}])  # fmt: skip
        plan = json.dumps({"plan": whole, "pool": "main"}).encode()
        assert get("/api/hints") == 200
        assert get("/api/people/countries") == 200
        assert get("/api/simulations/week", plan) == 200
        assert get("/api/people/crowd", json.dumps({"plan": whole}).encode()) == 200
        rows = b"key,name,mail,groups\nann,Ann,,office\n"
        assert get("/api/directory/import?format=csv", rows, "application/octet-stream") == 202
        assert spool_folder().owner() == "postgres"
    finally:
        end(child)
