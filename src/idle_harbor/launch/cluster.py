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
from dataclasses import asdict, dataclass
from pathlib import Path
from urllib.parse import quote

from idle_harbor.launch.tools import LaunchError, free_port, install_debian, is_root
from idle_harbor.runtime import var_folder

_OWNER = "postgres"
_LIBRARY = Path("/usr/lib/postgresql")
_NO_DEFAULT = Path("/etc/postgresql-common/createcluster.d/idle-harbor.conf")


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
class Place:
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
    """One cluster; ``name`` tells the demo's from the tests'."""

    def __init__(self, name: str = "cluster") -> None:
        self._name = name
        self._binaries = server_binaries()
        self._record = var_folder() / f"{name}.json"
        self.place = self._placed()

    def _placed(self) -> Place:
        data, sockets = _folders(self._name)
        if self._record.exists() and (data / "PG_VERSION").exists():
            try:
                place = Place(**json.loads(self._record.read_text()))
            except (ValueError, TypeError) as error:
                raise LaunchError(
                    f"{self._record} cannot be read ({error}); remove it and start again"
                ) from error
            if place.data == str(data):
                return place
        return Place(str(data), str(sockets), free_port(), secrets.token_urlsafe(18))

    def _call(self, binary: str, *arguments: str, check: bool = True) -> int:
        command = [str(self._binaries / binary), *arguments]
        if is_root():
            command = ["runuser", "-u", _OWNER, "--", *command]
        done = subprocess.run(
            command, cwd="/", capture_output=True, text=True, check=False, stdin=subprocess.DEVNULL
        )
        if check and done.returncode != 0:
            said = (done.stdout + done.stderr).strip()
            log = Path(self.place.data, "server.log")
            if log.exists():
                said += "\n" + "\n".join(log.read_text().splitlines()[-4:])
            raise LaunchError(f"the database server did not obey '{binary}':\n{said}")
        return done.returncode

    def _initialise(self) -> None:
        data = Path(self.place.data)
        if data.exists() and not (data / "PG_VERSION").exists() and any(data.iterdir()):
            raise LaunchError(f"{data} holds something that is no database; move it away")
        _own(data)
        with tempfile.NamedTemporaryFile("w", prefix="ih-", delete=False) as file:
            file.write(self.place.password)
        try:
            if is_root():
                os.chown(file.name, pwd.getpwnam(_OWNER).pw_uid, -1)
            self._call(
                "initdb", "-D", str(data), "-U", _OWNER, "--encoding=UTF8", "--locale=C.UTF-8",
                "--auth-local=trust", "--auth-host=scram-sha-256", f"--pwfile={file.name}",
                "--no-instructions",
            )  # fmt: skip
        finally:
            Path(file.name).unlink(missing_ok=True)

    def running(self) -> bool:
        """Whether the cluster's server runs."""
        return self._call("pg_ctl", "status", "-D", self.place.data, check=False) == 0

    def _remember(self) -> None:
        self._record.parent.mkdir(parents=True, exist_ok=True)
        self._record.touch(mode=0o600)
        self._record.write_text(json.dumps(asdict(self.place), indent=2) + "\n")

    def start(self) -> str:
        """Start the server, made first where there is none; returns the address.

        A ``postmaster.pid`` that an interrupted start left is removed by the server itself when
        no such process lives; a cluster that already runs is used as it is.
        """
        if not Path(self.place.data, "PG_VERSION").exists():
            self._initialise()
        _own(Path(self.place.socket))
        if not self.running():
            place = self.place
            port = place.port
            options = (
                f"-c listen_addresses=127.0.0.1 -c port={port} "
                f"-c unix_socket_directories='{place.socket}' -c unix_socket_permissions=0700 "
                "-c max_connections=60 -c shared_buffers=64MB"
            )
            try:
                self._start_with(options)
            except LaunchError:
                # The port may have been taken since it was remembered: one more try elsewhere.
                self.place = Place(place.data, place.socket, free_port(), place.password)
                self._start_with(options.replace(f"port={port} ", f"port={self.place.port} "))
        self._remember()
        return self.place.address

    def _start_with(self, options: str) -> None:
        log = str(Path(self.place.data, "server.log"))
        self._call("pg_ctl", "start", "-w", "-t", "30", "-D", self.place.data, "-l", log,
                   "-o", options)  # fmt: skip

    def stop(self) -> None:
        """Stop the server of this data folder, and no other."""
        self._call("pg_ctl", "stop", "-m", "fast", "-w", "-D", self.place.data, check=False)

    def remove(self) -> None:
        """Stop, and delete the data."""
        self.stop()
        shutil.rmtree(self.place.data, ignore_errors=True)
        shutil.rmtree(self.place.socket, ignore_errors=True)
        self._record.unlink(missing_ok=True)


def running_address(name: str = "cluster") -> str | None:
    """The address of this checkout's cluster if it was ever started."""
    record = var_folder() / f"{name}.json"
    if not record.exists():
        return None
    return Place(**json.loads(record.read_text())).address
