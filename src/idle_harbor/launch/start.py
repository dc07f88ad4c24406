"""``./idle-harbor demo``: from a checkout to a running application, and down again on Ctrl-C."""

from __future__ import annotations

import os
import pwd
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from pathlib import Path

from idle_harbor.launch.cluster import Cluster
from idle_harbor.launch.frontend import build_frontend
from idle_harbor.launch.tools import LaunchError, free_port, is_root, port_taken
from idle_harbor.processes import end_with_parent, lives
from idle_harbor.runtime import (
    CHECKOUT,
    compiled_folder,
    engine_version,
    prepare_engine,
    spool_folder,
    var_folder,
)

__all__ = ["LaunchError", "serve", "start"]

USUAL_PORT = 8466
#: Seconds between two looks whether server and database still run.
_LOOK_SECONDS = 1.0
#: A server that dies more often than so many times within so many seconds is not started again.
_MOST_DEATHS, _DEATHS_WITHIN = 3, 60.0


def compile_engine(*, checked: bool = False) -> None:
    """Compile the core into its folder, in processes of their own so that this one stays small.

    With ``checked`` the checked build that the tests run in is compiled beside it.
    """
    prepare_engine()
    builds = {"0": compiled_folder(checked=False)}
    if checked:
        builds["1"] = compiled_folder(checked=True)
    missing = {build: folder for build, folder in builds.items() if not _is_compiled(folder)}
    if not missing:
        return
    print("compiling the engine (once) …", flush=True)
    command = [sys.executable, "-m", "idle_harbor.cli", "compile"]
    children = {
        build: subprocess.Popen(
            command, cwd=CHECKOUT, env={**os.environ, "IDLE_HARBOR_CHECKED": build}
        )
        for build in missing
    }
    for build, child in children.items():
        if child.wait() != 0:
            raise LaunchError("the engine could not be compiled; the messages above say why")
        (missing[build] / "ready").touch()


def _is_compiled(folder: Path) -> bool:
    return (folder / "ready").exists()


def _database() -> tuple[str, Cluster | None, Cluster | None]:
    """The database to use: DATABASE_URL where set, else a private cluster, started.

    Returns its address, the private cluster, and the same where this start has to stop it.
    """
    import psycopg

    given = os.environ.get("DATABASE_URL")
    if given:
        try:
            psycopg.connect(given, connect_timeout=5).close()
        except psycopg.OperationalError as error:
            raise LaunchError(
                f"DATABASE_URL is set but that database does not answer ({str(error).strip()}); "
                "mend or unset it"
            ) from error
        print("using the database that DATABASE_URL names", flush=True)
        return given, None, None
    cluster = Cluster()
    theirs = cluster.running() and _owner_lives()
    address = cluster.start()
    if theirs:
        return address, cluster, None
    _owner_file().write_text(str(os.getpid()))
    return address, cluster, cluster


def _owner_file() -> Path:
    """Where the process that has to stop the cluster is written down."""
    return var_folder() / "cluster.owner"


def _owner_lives() -> bool:
    """Whether the start that owns the running cluster still lives; if not, it is taken over."""
    try:
        owner = int(_owner_file().read_text())
    except (OSError, ValueError):
        return False
    return owner != os.getpid() and lives(owner, "idle_harbor")


def _wanted_port(port: int | None) -> int:
    if port is not None:
        if port_taken(port):
            raise LaunchError(f"port {port} is in use; name another with --port")
        return port
    if port_taken(USUAL_PORT):
        other = free_port()
        print(f"port {USUAL_PORT} is in use; using {other} instead", flush=True)
        return other
    return USUAL_PORT


def _server_user(cluster: Cluster | None) -> str | None:
    """Whom the web server goes on as: never root, and one who may use a private socket."""
    if not is_root():
        return None
    return cluster.owner if cluster is not None else "nobody"


def serve(port: int, address: str, log: Path, user: str | None = None) -> subprocess.Popen[bytes]:
    """Start the web server on loopback as a child process and wait until it answers.

    Started by root it goes on as ``user`` once it has read everything.
    """
    environment = {**os.environ, "DATABASE_URL": address, "PYTHONUNBUFFERED": "1"}
    command = [sys.executable, "-m", "idle_harbor.web.server", "--port", str(port)]
    command += ["--user", user] if user else []
    _empty_spool(user)
    log.parent.mkdir(parents=True, exist_ok=True)
    with log.open("ab") as output:
        child = subprocess.Popen(
            command,
            env=environment,
            stdout=output,
            stderr=output,
            start_new_session=True,
            preexec_fn=end_with_parent,
        )
    deadline = time.monotonic() + 60
    while time.monotonic() < deadline:
        if child.poll() is not None:
            tail = "\n".join(log.read_text(errors="replace").splitlines()[-12:])
            raise LaunchError(f"the server did not start:\n{tail}")
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/health", timeout=5):
                return child
        except (urllib.error.URLError, OSError):
            time.sleep(0.1)
    end(child)
    raise LaunchError("the server did not answer within a minute")


def _empty_spool(user: str | None) -> None:
    """Files that a killed server had taken half are nobody's; the folder is the server's own.

    Each is named after the process that takes it, and left to that while it lives.
    """
    folder = spool_folder()
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    for left in folder.iterdir():
        taker = left.name.partition("-")[0]
        if not (taker.isdigit() and lives(int(taker), "python")):
            left.unlink(missing_ok=True)
    if user:
        entry = pwd.getpwnam(user)
        os.chown(folder, entry.pw_uid, entry.pw_gid)


def end(child: subprocess.Popen[bytes]) -> None:
    """End a child and its workers by process id."""
    if child.poll() is None:
        child.terminate()
        try:
            child.wait(10)
        except subprocess.TimeoutExpired:
            os.killpg(child.pid, signal.SIGKILL)
            child.wait()


class _Clock:
    """Tells how long the parts of a start took."""

    def __init__(self) -> None:
        self._since = time.monotonic()
        self._parts: list[str] = []

    def part(self, name: str) -> None:
        """The part that ends now."""
        now = time.monotonic()
        self._parts.append(f"{name} {now - self._since:.1f} s")
        self._since = now

    def __str__(self) -> str:
        return ", ".join(self._parts)


class _Interrupted(Exception):
    pass


def _interrupt(*_: object) -> None:
    raise _Interrupted


class Server:
    """The web server as it is started, and started again where it died."""

    def __init__(self, begin: Callable[[], subprocess.Popen[bytes]]) -> None:
        self._begin = begin
        self._child = begin()
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
        self._child = self._begin()

    def end(self) -> None:
        """End it for good."""
        end(self._child)


def _watch(own: Cluster | None, server: Server) -> None:
    """Keep server and database running until interrupted: what dies is started again."""
    while True:
        time.sleep(_LOOK_SECONDS)
        if own is not None and not own.running():
            print("the database server has died; starting it again …", flush=True)
            own.start()
        server.look()


def start(port: int | None) -> None:
    """Start everything, print the address, and stop what was started when interrupted."""
    signal.signal(signal.SIGTERM, _interrupt)
    signal.signal(signal.SIGINT, _interrupt)
    cluster: Cluster | None = None
    server: Server | None = None
    clock = _Clock()
    try:
        chosen = _wanted_port(port)
        address, own, cluster = _database()
        clock.part("database")
        compile_engine()
        clock.part("engine")
        build_frontend()
        clock.part("front end")
        from idle_harbor.demo.load import load_demo
        from idle_harbor.store.database import Database, migrate

        migrate(address)
        with Database(address) as database:
            database.drop_old_results(engine_version())
        load_demo(address)
        clock.part("data")
        log = var_folder() / "server.log"
        server = Server(lambda: serve(chosen, address, log, _server_user(own)))
        clock.part("server")
        print(f"started: {clock}")
        print(f"Idle Harbor is at http://127.0.0.1:{chosen}/  (Ctrl-C stops it)", flush=True)
        _watch(own, server)
    except _Interrupted:
        print("\nstopping …", flush=True)
    finally:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        signal.signal(signal.SIGTERM, signal.SIG_IGN)
        if server is not None:
            server.end()
        if cluster is not None:
            cluster.stop()
