"""Machines that work out parts of long work: a scheduler, and processes that compute for it.

They listen on loopback unless an address is named, serve no pages, and go beyond loopback only with
a key: whoever has the file may join, and what goes over the network is encrypted.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
from ipaddress import ip_address
from pathlib import Path
from typing import NoReturn
from urllib.parse import urlsplit

from idle_harbor.launch.tools import LaunchError, install_debian
from idle_harbor.runtime import prepare_engine, var_folder

_LOOPBACK = "127.0.0.1"
_REMEDY = "make a key with ./idle-harbor key FILE, take it to every machine, and name it with --key"


def is_loopback(host: str) -> bool:
    """Whether nobody but this machine can reach an address or a name."""
    try:
        return ip_address(host.strip("[]")).is_loopback
    except ValueError:
        return host == "localhost"


def check_scheduler(scheduler: str, key: str) -> None:
    """Raise LaunchError where a scheduler's address cannot be, or needs a key, or has one that it
    does not go by."""
    try:
        parts = urlsplit(scheduler)
        host, port = parts.hostname, parts.port
    except ValueError:
        host = port = None
    if not host or not port or parts.scheme not in ("tcp", "tls"):
        raise LaunchError(f"{scheduler!r} is no address; write tls://host:port")
    if not key and (parts.scheme == "tls" or not is_loopback(host)):
        raise LaunchError(f"{scheduler} is beyond this machine: {_REMEDY}")
    if key and parts.scheme != "tls":
        raise LaunchError(f"with a key the address begins with tls://, not {scheduler!r}")


def make_key(file: Path) -> None:
    """Write a new key, and the certificate that goes with it, for all machines of an estate; raises
    LaunchError where there is a file already."""
    if shutil.which("openssl") is None:
        install_debian(["openssl"], what="openssl, which makes the key")
    with tempfile.TemporaryDirectory() as folder:
        key, certificate = Path(folder, "key"), Path(folder, "certificate")
        subprocess.run(
            [
                *("openssl", "req", "-x509", "-newkey", "ec", "-pkeyopt"),
                *("ec_paramgen_curve:P-256", "-nodes", "-days", "3650"),
                *("-subj", "/CN=idle-harbor-machines"),
                *("-keyout", str(key), "-out", str(certificate)),
            ],
            check=True,
            capture_output=True,
        )
        try:
            with open(os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as out:
                out.write(key.read_bytes() + certificate.read_bytes())
        except FileExistsError:
            raise LaunchError(f"there is {file} already; a key is never written over") from None
        except OSError as error:
            raise LaunchError(f"{file}: {error.strerror}") from error


def _tls(key: str) -> list[str]:
    if not key:
        return []
    if not Path(key).is_file():
        raise LaunchError(f"there is no key {key}; make one with ./idle-harbor key FILE")
    return ["--tls-ca-file", key, "--tls-cert", key, "--tls-key", key]


def dispatch_at(host: str, port: int, key: str = "") -> NoReturn:
    """Become the scheduler that listens there; raises LaunchError where that needs a key."""
    if not is_loopback(host) and not key:
        raise LaunchError(f"{host} is reached from other machines: {_REMEDY}")
    protocol = "tls" if key else "tcp"
    address = f"{protocol}://{host}"
    _become("scheduler", "--host", address, "--port", str(port), "--no-show", *_tls(key))


def compute_for(scheduler: str, number: int, host: str = "", key: str = "") -> NoReturn:
    """Become so many processes that compute for a scheduler, one part at a time each; raises
    LaunchError where that needs a key, or an address of this machine."""
    check_scheduler(scheduler, key)
    if not host and not is_loopback(urlsplit(scheduler).hostname or ""):
        raise LaunchError("name the address at which the others reach this machine with --host")
    if host and not is_loopback(host) and not key:
        raise LaunchError(f"{host} is reached from other machines: {_REMEDY}")
    prepare_engine()
    folder = var_folder() / "machines"
    folder.mkdir(parents=True, exist_ok=True)
    _become(
        "worker",
        scheduler,
        *("--nworkers", str(number), "--nthreads", "1", "--host", host or _LOOPBACK),
        *("--local-directory", str(folder), "--no-dashboard"),
        *("--worker-class", "idle_harbor.launch.quiet.QuietWorker"),
        *_tls(key),
    )


def _become(what: str, *arguments: str) -> NoReturn:
    command = [sys.executable, "-m", "idle_harbor.launch.quiet", what, *arguments]
    os.execv(sys.executable, command)
