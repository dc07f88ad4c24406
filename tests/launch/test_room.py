"""A start without room on the disk says so at once, with the folder."""

import errno
import os
import shutil
import subprocess
import sys
import threading
from pathlib import Path

import pytest

from idle_harbor.launch import cluster, room, start
from idle_harbor.launch.cluster import Cluster, NoRoomError
from idle_harbor.launch.room import check_room, said_in, said_of
from idle_harbor.launch.tools import LaunchError


def demo(folder, **more) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "idle_harbor.cli", "demo"],
        capture_output=True,
        text=True,
        check=False,
        timeout=20,
        env={**os.environ, "IDLE_HARBOR_VAR": str(folder), **more},
    )


def test_a_folder_that_cannot_be_written_is_named(tmp_path):
    (tmp_path / "file").write_text("")
    done = demo(tmp_path / "file" / "var")
    assert done.returncode == 2 and done.stdout == ""
    assert str(tmp_path / "file" / "var") in done.stderr and "Traceback" not in done.stderr


@pytest.mark.parametrize(
    ("number", "says"),
    [
        (errno.ENOSPC, "no space is left in /data; make room"),
        (errno.EROFS, "/data may only be read"),
        (errno.EPERM, "this user may not write in /data"),
    ],
)
def test_what_the_system_says_is_said_with_the_folder(monkeypatch, number, says):
    folder = Path("/data")
    assert says in said_of(OSError(number, "x"), folder)
    assert said_of(OSError(errno.ECONNREFUSED, "x"), folder) is None

    def fails(*_, **__):
        raise OSError(number, "x")

    monkeypatch.setattr(Path, "mkdir", fails)
    with pytest.raises(LaunchError, match=says):
        check_room(folder)


def test_too_little_room_is_said_before_anything_is_begun(tmp_path, monkeypatch):
    monkeypatch.setattr(room, "_LEAST", 10**18)
    with pytest.raises(LaunchError, match=f"are left in {tmp_path}"):
        check_room(tmp_path)
    monkeypatch.setattr(room, "_LEAST", 1)
    check_room(tmp_path)


def test_a_server_without_room_is_not_tried_for_long(monkeypatch, tmp_path):
    monkeypatch.setenv("IDLE_HARBOR_VAR", str(tmp_path))
    said = "FATAL: could not write lock file: No space left on device"
    assert said_in(said, tmp_path).startswith("no space is left")
    tried = []

    def call(*command, **_):
        tried.append(command)
        return subprocess.CompletedProcess(command, 1, "", said)

    monkeypatch.setattr(cluster.subprocess, "run", call)
    mine = Cluster("nowhere")
    with pytest.raises(NoRoomError, match=f"no space is left in {mine.whereabouts.data}"):
        mine.start()
    assert len(tried) == 1
    shutil.rmtree(f"{mine.whereabouts.data}.new")


def test_a_running_demo_says_it_once_and_tries_again(monkeypatch, capsys):
    """The database has died for want of room: it is started again until there is some."""
    tries = iter(
        [NoRoomError("no space is left in /data"), NoRoomError("no space is left in /data")]
    )
    alive = []

    class Own:
        def running(self):
            return bool(alive)

        def start(self):
            if error := next(tries, None):
                raise error
            alive.append(True)

    class Workers:
        def look(self):
            if alive:
                raise KeyboardInterrupt

    monkeypatch.setattr(start, "_LOOK_SECONDS", 0.0)
    monkeypatch.setattr(start, "_ended", threading.Event())
    with pytest.raises(KeyboardInterrupt):
        start._watch(Own(), [], Workers())
    assert capsys.readouterr().out.count("no space is left in /data") == 1


def test_an_end_that_was_asked_for_where_errors_are_lost_is_heard_at_the_next_look(monkeypatch):
    class Lost:
        def __del__(self):
            start._interrupt()

    monkeypatch.setattr(start, "_LOOK_SECONDS", 0.0)
    monkeypatch.setattr(start, "_ended", threading.Event())
    monkeypatch.setattr(sys, "unraisablehook", lambda _: None)
    Lost()
    with pytest.raises(start._Interrupted):
        start._watch(None, [], None)
