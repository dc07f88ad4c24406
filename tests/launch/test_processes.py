"""Processes that live, that only look so, and that give up their rights."""

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
from idle_harbor.launch.tools import LaunchError, free_port, is_root
from idle_harbor.launch.webserver import Server, end, serve
from idle_harbor.launch.workers import begin_worker
from idle_harbor.processes import lives, may_read
from idle_harbor.runtime import CHECKOUT, var_folder
from tests.core.plans import document


def test_only_a_running_process_with_the_mark_lives():
    child = subprocess.Popen([sys.executable, "-c", "import time; time.sleep(30)", "a-mark"])
    deadline = time.monotonic() + 5
    while not lives(child.pid, "a-mark"):  # it has begun before its command can be read
        assert time.monotonic() < deadline
    assert not lives(child.pid, "another")
    child.kill()
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

    own, looks, workers_looked = Own(), [], []

    class Workers:
        def look(self):
            workers_looked.append(own.starts)

    class Looker:
        def look(self):
            looks.append(own.starts)
            own.alive = False
            if len(looks) == 3:
                raise LaunchError("enough")

    monkeypatch.setattr(module, "_LOOK_SECONDS", 0.0)
    with pytest.raises(LaunchError, match="enough"):
        module._watch(own, [Looker()], Workers())
    assert looks == [0, 1, 2] and workers_looked == [0, 1]


@pytest.fixture
def own_var(monkeypatch):
    """A folder for what is made at run time that another user may enter."""
    with tempfile.TemporaryDirectory(prefix="ih-var-") as folder:
        Path(folder).chmod(0o755)
        Path(folder, "compiled").symlink_to(var_folder().absolute() / "compiled")
        monkeypatch.setenv("IDLE_HARBOR_VAR", folder)
        yield


#: Put before everything else: once the rights of root are given up, nothing of the checkout, of its
#: packages or of Python may be opened any more, as where all of them lie in a folder of root's own.
SHUT = """
import os, sys
OWN = ((sys.base_prefix,) if {python_alone} else (sys.prefix, sys.base_prefix, {checkout!r}))
def look(path):
    if os.geteuid() != 0 and isinstance(path, (str, bytes, os.PathLike)):
        if os.fsdecode(path).startswith(OWN):
            raise PermissionError(13, "shut", path)
def hear(event, arguments):
    if event in ("open", "os.listdir", "os.scandir"):
        look(arguments[0])
sys.addaudithook(hear)
usual = os.stat
def stat(path, *more, **named):
    look(path)
    return usual(path, *more, **named)
os.stat = stat
"""


@pytest.mark.skipif(not is_root(), reason="only root can become somebody else")
def test_what_another_user_may_read_is_found_out_by_trying():
    # Not the usual folder for tests, which is shut to others.
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        folder.chmod(0o755)
        inside = folder / "inside"
        inside.mkdir(mode=0o755)
        file = inside / "file"
        file.write_text("words")
        assert may_read("nobody", [folder])
        file.chmod(0o600)
        assert not may_read("nobody", [folder])
        file.chmod(0o644)
        inside.chmod(0o700)
        assert not may_read("nobody", [folder])
        assert not may_read("nobody", [folder / "not there"])
        assert not may_read("somebody-who-is-not-there", [folder])


@pytest.mark.skipif(not is_root(), reason="only root can become somebody else")
@pytest.mark.usefixtures("own_var")
@pytest.mark.parametrize("python_alone", [False, True])
def test_started_by_root_the_server_is_somebody_else_and_still_serves(
    database_address, tmp_path, monkeypatch, python_alone
):
    """What it may not read later is read before: holidays, zones, pages; it takes files as well.
    Python's own library may be out of reach, or everything is."""
    shut = SHUT.format(checkout=str(CHECKOUT), python_alone=python_alone)
    (tmp_path / "sitecustomize.py").write_text(shut)
    monkeypatch.setenv("PYTHONPATH", f"{tmp_path}:{CHECKOUT / 'src'}")
    port = free_port()
    child = serve(port, database_address, tmp_path / "server.log", "postgres")
    workers: list[subprocess.Popen[bytes]] = []
    try:
        status = Path(f"/proc/{child.pid}/status").read_text()
        ids = next(line for line in status.splitlines() if line.startswith("Uid:")).split()[1:]
        groups = next(line for line in status.splitlines() if line.startswith("Groups:")).split()
        assert "0" not in ids and len(set(ids)) == 1 and groups == ["Groups:"]

        split = {"kind": "split", "group": "people", "people": 1, "new": "b"}

        def ask(path, body=None, kind="application/json"):
            data = json.dumps(body).encode() if isinstance(body, dict) else body
            asked = urllib.request.Request(
                f"http://127.0.0.1:{port}/api/{path}",
                data=data,
                headers={"Content-Type": kind} if data else {},
            )
            with urllib.request.urlopen(asked, timeout=30) as answer:
                return answer.status

        def read(path):
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/{path}", timeout=30) as got:
                return json.load(got)

        site = {"id": "here", "time_zone": "Pacific/Apia"}
        whole = document(
            sites=[site | {"holidays": {"country": "JP", "region": None}}],
            places=[{"id": "west", "area": "A", "zones": ["w1"]}],
        )
        plan = {"plan": whole}
        pool, group = {**plan, "pool": "main"}, {**plan, "pool": "main", "group": "people"}
        for path in (
            "hints",
            "health",
            "openapi.json",
            "people/countries",
            "plans",
            "directory/all",
        ):
            assert ask(path) == 200, path
        calendar = (
            "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\n"
            "DTSTART;VALUE=DATE:20270601\r\nRRULE:FREQ=YEARLY\r\nSUMMARY:Rest\r\n"
            "END:VEVENT\r\nEND:VCALENDAR\r\n"
        )
        asked = {
            "simulations/week": pool,
            "simulations/range": {**pool, "seeds": 2},
            "people/crowd": plan,
            "people/year": plan,
            "people/range": {**plan, "seeds": 2},
            "people/year/parts": plan,
            "people/calendar": {"text": calendar, "first": "2027-01-01", "last": "2028-01-01"},
            "people/regroup": {**plan, "change": split},
            "hosts/sizing": pool,
            "hosts/kinds": group,
            "hosts/places": group,
            "pools": plan,
            "pools/parts": plan,
            "pools/drill": {**pool, "day": 1, "minute": 600},
            "checks": plan,
            "checks/parts": plan,
            "prices/feed": {**plan, "day": "2027-03-01"},
            "prices/sheet": {**plan, "form": "csv"},
        }
        for path, body in asked.items():
            assert ask(path, body) == 200, path
        assert ask("plans", {**plan, "words": "first"}) == 201
        assert ask("simulations/year", {**pool, "year": 2027}) == 200
        workers.append(begin_worker(database_address, tmp_path / "workers.log", "postgres"))
        until = time.monotonic() + 60
        while (job := read("jobs")["jobs"][0])["state"] in ("waiting", "running"):
            assert time.monotonic() < until
            time.sleep(0.1)
        assert job["state"] == "done", job["problem"]
        assert ask("directory/stand-in?plan=1", {"day": 0}) == 202
        until = time.monotonic() + 60
        while (state := read("directory/import?plan=1")["latest"]["state"]) in (
            "reading",
            "judging",
        ):
            assert time.monotonic() < until
            time.sleep(0.1)
        assert state == "ready"
        rows = b"key,name,mail,groups\nann,Ann,,office\n"
        assert ask("directory/import?plan=1&format=csv", rows, "application/octet-stream") == 202
    finally:
        for each in (*workers, child):
            end(each)
    assert "Traceback" not in (tmp_path / "server.log").read_text()
