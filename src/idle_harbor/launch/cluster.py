"""A private PostgreSQL cluster on loopback: made, started, and stopped by its own data folder."""

from __future__ import annotations

import hashlib
import json
import os
import pwd
import secrets
import shutil
import stat
import subprocess
import tempfile
import time
from dataclasses import asdict, dataclass
from pathlib import Path
from urllib.parse import quote

from idle_harbor.launch.room import said_in
from idle_harbor.launch.tools import (
    LaunchError,
    free_port,
    install_debian,
    is_root,
    port_taken,
)
from idle_harbor.processes import lives
from idle_harbor.runtime import var_folder

_OWNER = "postgres"
_LIBRARY = Path("/usr/lib/postgresql")
#: How long a start is tried, and how long to wait before the next try.
_START_SECONDS = 40.0
_AGAIN_SECONDS = 0.3
_NO_DEFAULT = Path("/etc/postgresql-common/createcluster.d/idle-harbor.conf")


class NoRoomError(LaunchError):
    """The server cannot write: trying again would not help."""


def _binaries() -> Path | None:
    """The newest folder of server binaries that Debian's packages left, or None."""
    found = [p.parent for p in _LIBRARY.glob("*/bin/pg_ctl")]
    found.sort(key=lambda p: int(p.parent.name) if p.parent.name.isdigit() else 0)
    if found:
        return found[-1]
    on_path = shutil.which("pg_ctl")
    return Path(on_path).resolve().parent if on_path else None


def server_binaries() -> Path:
    """The server's binaries, installed where missing and allowed; no default cluster is left."""
    binaries = _binaries()
    if binaries is not None:
        return binaries
    if is_root():
        _NO_DEFAULT.parent.mkdir(parents=True, exist_ok=True)
        _NO_DEFAULT.write_text("create_main_cluster = false\n")
    try:
        install_debian(["postgresql"], what="the PostgreSQL server")
    finally:
        if is_root():
            _NO_DEFAULT.unlink(missing_ok=True)
    binaries = _binaries()
    if binaries is None:
        raise LaunchError("the PostgreSQL server was installed but its pg_ctl was not found")
    return binaries


@dataclass(frozen=True, slots=True)
class Whereabouts:
    """Where a cluster lives: folders, port, and the password for connections over TCP."""

    data: str
    socket: str
    port: int
    password: str

    @property
    def address(self) -> str:
        """The address for psycopg, over the private socket."""
        return f"postgresql://{_OWNER}@/postgres?host={quote(self.socket)}&port={self.port}"


def _enterable(folder: Path) -> bool:
    """Whether the postgres user can reach a folder of its own through all the parents."""
    existing = (p for p in folder.parents if p.exists())
    return all(p.stat().st_mode & stat.S_IXOTH for p in existing)


def _folders(name: str) -> tuple[Path, Path]:
    """Data and socket folders for a cluster of this var/ folder."""
    var = var_folder().absolute()
    mark = hashlib.sha256(str(var).encode()).hexdigest()[:12]
    data = var / name
    if is_root() and not _enterable(data):
        data = Path("/var/lib/idle-harbor") / mark / name
    # Socket paths have to stay below 108 bytes.
    sockets = Path(tempfile.gettempdir()) / f"ih-{os.geteuid()}-{mark}-{name}"
    return data, sockets


def _own(folder: Path) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    folder.chmod(0o700)
    if is_root():
        user = pwd.getpwnam(_OWNER)
        os.chown(folder, user.pw_uid, user.pw_gid)


class Cluster:
    """One cluster; ``name`` tells the demo's from the tests', ``listens`` names the addresses that
    it listens on, with commas. A ``passing`` one is faster, and may be broken after a power cut."""

    def __init__(
        self, name: str = "cluster", listens: str = "127.0.0.1", *, passing: bool = False
    ) -> None:
        self._name, self._listens, self._passing = name, listens, passing
        self._binaries = server_binaries()
        self._record = var_folder() / f"{name}.json"
        self.whereabouts = self._placed()

    def _placed(self) -> Whereabouts:
        data, sockets = _folders(self._name)
        if self._record.exists() and (data / "PG_VERSION").exists():
            try:
                where = Whereabouts(**json.loads(self._record.read_text()))
            except (ValueError, TypeError) as error:
                raise LaunchError(
                    f"{self._record} cannot be read ({error}); remove it and start again"
                ) from error
            if where.data == str(data):
                return where
        return Whereabouts(str(data), str(sockets), free_port(), secrets.token_urlsafe(18))

    def _call(self, binary: str, *arguments: str, check: bool = True) -> int:
        command = [str(self._binaries / binary), *arguments]
        if is_root():
            command = ["runuser", "-u", _OWNER, "--", *command]
        done = subprocess.run(
            command, cwd="/", capture_output=True, text=True, check=False, stdin=subprocess.DEVNULL
        )
        if check and done.returncode != 0:
            said = (done.stdout + done.stderr).strip()
            log = Path(self.whereabouts.data, "server.log")
            if log.exists():
                said += "\n" + "\n".join(log.read_text().splitlines()[-4:])
            if no_room := said_in(said, Path(self.whereabouts.data)):
                raise NoRoomError(no_room)
            raise LaunchError(f"the database server did not obey '{binary}':\n{said}")
        return done.returncode

    def _initialise(self) -> None:
        """Make the cluster beside its place and move it there whole: an interrupted one is not
        taken for a cluster."""
        data = Path(self.whereabouts.data)
        if data.exists() and any(data.iterdir()):
            raise LaunchError(f"{data} holds something that is no database; move it away")
        made = data.with_name(f"{data.name}.new")
        shutil.rmtree(made, ignore_errors=True)
        _own(made)
        with tempfile.NamedTemporaryFile("w", prefix="ih-", delete=False) as file:
            file.write(self.whereabouts.password)
        try:
            if is_root():
                os.chown(file.name, pwd.getpwnam(_OWNER).pw_uid, -1)
            self._call(
                "initdb",
                "-D",
                str(made),
                "-U",
                _OWNER,
                "--encoding=UTF8",
                "--locale=C.UTF-8",
                "--auth-local=trust",
                "--auth-host=scram-sha-256",
                f"--pwfile={file.name}",
                "--no-instructions",
                *(("--no-sync",) if self._passing else ()),
            )
        finally:
            Path(file.name).unlink(missing_ok=True)
        if data.exists():
            data.rmdir()
        made.rename(data)

    @property
    def owner(self) -> str:
        """The user of this machine that the server runs as."""
        return _OWNER if is_root() else pwd.getpwuid(os.geteuid()).pw_name

    def _postmaster(self) -> int | None:
        """The process that the data folder's lock file names, None without one."""
        try:
            return int(Path(self.whereabouts.data, "postmaster.pid").read_text().split("\n")[0])
        except (OSError, ValueError):
            return None

    def running(self) -> bool:
        """Whether the cluster's server runs: it lives, and is this folder's."""
        pid = self._postmaster()
        return pid is not None and lives(pid, self.whereabouts.data)

    def _remember(self) -> None:
        self._record.parent.mkdir(parents=True, exist_ok=True)
        written = self._record.with_suffix(".new")
        written.touch(mode=0o600)
        written.write_text(json.dumps(asdict(self.whereabouts), indent=2) + "\n")
        written.replace(self._record)

    def start(self) -> str:
        """Start the server, made first where there is none; returns its address.

        Raises LaunchError, at once where there is no room to write.

        A cluster that already runs is used as it is. Lock files that a killed server left are
        removed: their process may be a zombie, or another program's by now, and the server would
        take either for itself. What is left of a killed server may take some seconds to end.
        """
        if not Path(self.whereabouts.data, "PG_VERSION").exists():
            self._initialise()
        _own(Path(self.whereabouts.socket))
        deadline = time.monotonic() + _START_SECONDS
        while True:
            said = self._try_to_start() or self._try_to_connect()
            if not said:
                return self.whereabouts.address
            if time.monotonic() > deadline:
                raise LaunchError(said)
            time.sleep(_AGAIN_SECONDS)

    def _try_to_start(self) -> str:
        """Start the server unless it runs; returns what went wrong, or nothing."""
        if self.running():
            return ""
        # Written first, so that whatever is killed now is found by the next start.
        self._remember()
        self._clear_locks()
        try:
            self._start_server()
        except NoRoomError:
            raise
        except LaunchError as error:
            if port_taken(self.whereabouts.port):
                where = self.whereabouts
                self.whereabouts = Whereabouts(
                    where.data, where.socket, free_port(), where.password
                )
            return str(error)
        return ""

    def _try_to_connect(self) -> str:
        """What went wrong, or nothing: a server just begun, or just killed, does not answer."""
        # It takes long to import, and the web server is to be on its way before.
        import psycopg

        try:
            psycopg.connect(self.whereabouts.address, connect_timeout=5).close()
        except psycopg.OperationalError as error:
            return f"the database server does not answer: {error}"
        return ""

    def _clear_locks(self) -> None:
        if self._postmaster() is not None and not self.running():
            Path(self.whereabouts.data, "postmaster.pid").unlink(missing_ok=True)
            for left in Path(self.whereabouts.socket).glob(".s.PGSQL.*"):
                left.unlink(missing_ok=True)

    def _start_server(self) -> None:
        where = self.whereabouts
        options = (
            f"-c listen_addresses={self._listens} -c port={where.port} "
            f"-c unix_socket_directories='{where.socket}' -c unix_socket_permissions=0700 "
            "-c max_connections=60 -c shared_buffers=64MB"
        )
        if self._passing:
            # To make a database, and to drop it, waits mostly for the disk. What is killed still
            # loses nothing.
            options += " -c fsync=off -c full_page_writes=off"
        log = str(Path(where.data, "server.log"))
        self._call("pg_ctl", "start", "-w", "-t", "30", "-D", where.data, "-l", log, "-o", options)

    def stop(self) -> None:
        """Stop the server of this data folder, and no other."""
        self._call("pg_ctl", "stop", "-m", "fast", "-w", "-D", self.whereabouts.data, check=False)

    def remove(self) -> None:
        """Stop, and delete the data."""
        self.stop()
        shutil.rmtree(self.whereabouts.data, ignore_errors=True)
        shutil.rmtree(self.whereabouts.socket, ignore_errors=True)
        self._record.unlink(missing_ok=True)


def running_address(name: str = "cluster") -> str | None:
    """The address of this checkout's cluster if it was ever started."""
    record = var_folder() / f"{name}.json"
    if not record.exists():
        return None
    return Whereabouts(**json.loads(record.read_text())).address
