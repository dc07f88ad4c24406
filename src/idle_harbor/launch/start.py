"""``./idle-harbor demo``: from a checkout to a running application, and down again on Ctrl-C."""

from __future__ import annotations

import os
import pwd
import signal
import subprocess
import sys
import threading
import time
from pathlib import Path

from idle_harbor.launch.cluster import Cluster, NoRoomError
from idle_harbor.launch.frontend import build_frontend
from idle_harbor.launch.machines import check_scheduler
from idle_harbor.launch.room import check_room, said_of
from idle_harbor.launch.tools import LaunchError, free_port, is_root, port_taken
from idle_harbor.launch.webserver import Server, answering, begin, end
from idle_harbor.launch.workers import Workers, usual_workers
from idle_harbor.processes import lives
from idle_harbor.runtime import (
    CHECKOUT,
    compiled_folder,
    engine_version,
    prepare_engine,
    var_folder,
)

USUAL_PORT = 8466
#: Seconds between two looks whether server and database still run.
_LOOK_SECONDS = 1.0


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
            check_room(missing[build].parent)
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


def _server_user() -> str | None:
    """Whom the web server goes on as: never root, and one who may use a private socket."""
    if not is_root():
        return None
    return "nobody" if os.environ.get("DATABASE_URL") else Cluster().owner


def _lives_here(user: str | None) -> bool:
    """Whether there is such a user: a database that is yet to be installed brings its own."""
    if user is None:
        return True
    try:
        pwd.getpwnam(user)
    except KeyError:
        return False
    return True


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


#: Whether somebody has asked for the end. An error that a signal raises is lost where it falls into
#: the end of an object.
_ended = threading.Event()


def _interrupt(*_: object) -> None:
    _ended.set()
    raise _Interrupted


def _pause() -> None:
    """Wait a look; raises what a signal meanwhile, or one that was lost before, asks for."""
    time.sleep(_LOOK_SECONDS)
    if _ended.is_set():
        raise _Interrupted


def _no_room(cluster: Cluster) -> str:
    """Start a cluster; returns what there is to say where there is no room for it."""
    try:
        cluster.start()
    except NoRoomError as error:
        return str(error)
    except OSError as error:
        if (said := said_of(error, var_folder())) is None:
            raise
        return said
    return ""


def _watch(own: Cluster | None, servers: list[Server], workers: Workers) -> None:
    """Keep servers, workers and database running until interrupted: what dies is started again."""
    said = ""
    while True:
        _pause()
        if own is not None and not own.running():
            if not said:
                print("the database server has died; starting it again …", flush=True)
            # Without room it is tried again until there is some; pages keep their edits meanwhile.
            now = _no_room(own)
            if now not in ("", said):
                print(now, flush=True)
            said = now
        for server in servers:
            server.look()
        workers.look()


def _fill(address: str, own: Cluster | None) -> None:
    """Bring the database up to date and put the demo into it; raises LaunchError."""
    from idle_harbor.demo.load import load_demo
    from idle_harbor.store.database import Database, StoreError, migrate, store_errors
    from idle_harbor.store.results import Results

    try:
        with store_errors():
            migrate(address)
            with Database(address) as database:
                Results(database).drop_old(engine_version())
            load_demo(address)
    except StoreError as error:
        where = own.whereabouts.data if own else "the database that DATABASE_URL names"
        raise LaunchError(f"{error}: {where}") from error


def start(port: int | None, many_workers: int | None = None, many_servers: int = 1) -> None:
    """Start everything, print the address, and stop what was started when interrupted.

    Several web servers serve the port together.
    """
    signal.signal(signal.SIGTERM, _interrupt)
    signal.signal(signal.SIGINT, _interrupt)
    cluster: Cluster | None = None
    servers: list[Server] = []
    shared = many_servers > 1
    workers: Workers | None = None
    clock = _Clock()
    early: list[subprocess.Popen[bytes]] = []
    try:
        check_room(var_folder())
        chosen = _wanted_port(port)
        log = var_folder() / "server.log"
        user = _server_user()
        if _is_compiled(compiled_folder(checked=False)) and _lives_here(user):
            # It reads itself while the database starts.
            early += [begin(chosen, log, user, shared=shared) for _ in range(many_servers)]
        address, own, cluster = _database()
        clock.part("database")
        compile_engine()
        clock.part("engine")
        build_frontend()
        clock.part("front end")
        _fill(address, own)
        clock.part("data")

        def started() -> subprocess.Popen[bytes]:
            child = early.pop() if early else begin(chosen, log, user, shared=shared)
            return answering(child, address, chosen, log)

        servers += [Server(started) for _ in range(many_servers)]
        clock.part("server")
        print(f"started: {clock}")
        print(f"Idle Harbor is at http://127.0.0.1:{chosen}/  (Ctrl-C stops it)", flush=True)
        many = usual_workers() if many_workers is None else many_workers
        workers = Workers(many, address, var_folder() / "workers.log", user)
        _watch(own, servers, workers)
    except _Interrupted:
        print("\nstopping …", flush=True)
    except OSError as error:
        raise LaunchError(said_of(error, var_folder()) or str(error)) from error
    finally:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        signal.signal(signal.SIGTERM, signal.SIG_IGN)
        for child in early:
            end(child)
        if workers is not None:
            workers.end()
        for server in servers:
            server.end()
        if cluster is not None:
            cluster.stop()


def work_alone(many: int, machines: str = "", key: str = "") -> None:
    """Run so many workers for the database that DATABASE_URL names, until interrupted.

    Parts are worked out by ``machines``, where the address of their scheduler is given, and the
    file of the ``key`` that they share. Raises LaunchError where no database is named, or the
    scheduler needs a key.
    """
    address = os.environ.get("DATABASE_URL")
    if not address:
        raise LaunchError("set DATABASE_URL to the database whose long work is to be helped with")
    if machines:
        check_scheduler(machines, key)
    signal.signal(signal.SIGTERM, _interrupt)
    signal.signal(signal.SIGINT, _interrupt)
    workers = Workers(many, address, var_folder() / "workers.log", machines=machines, key=key)
    print(f"{many} at work; see {var_folder() / 'workers.log'}  (Ctrl-C stops)", flush=True)
    try:
        while True:
            _pause()
            workers.look()
    except _Interrupted:
        print("\nstopping …", flush=True)
    finally:
        workers.end()
