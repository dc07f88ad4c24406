"""Where compiled code is kept, and the version that names it.

The folder is named after a hash of the core's sources, the lock file and the processor, so that a
change of any of them compiles anew and nothing stale is ever run.
"""

from __future__ import annotations

import hashlib
import os
import platform
from functools import lru_cache
from pathlib import Path

PACKAGE = Path(__file__).parent
CHECKOUT = PACKAGE.parent.parent


def var_folder() -> Path:
    """The folder for everything that is made at run time (IDLE_HARBOR_VAR, or var/ beside src/)."""
    return Path(os.environ.get("IDLE_HARBOR_VAR", CHECKOUT / "var"))


def _processor() -> str:
    try:
        lines = Path("/proc/cpuinfo").read_text().splitlines()
    except OSError:
        return platform.processor()
    return "".join(line for line in lines[:40] if line.startswith(("model name", "flags")))


@lru_cache(maxsize=8)
def version_of(*folders: Path) -> str:
    """Hash of the sources in some folders of the package, and of what they run on."""
    digest = hashlib.sha256(f"{platform.python_version()} {_processor()}".encode())
    for source in sorted(path for folder in folders for path in folder.rglob("*.py")):
        digest.update(source.relative_to(PACKAGE).as_posix().encode())
        digest.update(source.read_bytes())
    lock = CHECKOUT / "requirements" / "app.txt"
    if lock.exists():
        digest.update(lock.read_bytes())
    return digest.hexdigest()[:16]


def engine_version() -> str:
    """Hash of everything that compiled results depend on."""
    return version_of(PACKAGE / "core")


def checked_build() -> bool:
    """Whether this process is to run the checked build of the engine (IDLE_HARBOR_CHECKED=1)."""
    return os.environ.get("IDLE_HARBOR_CHECKED") == "1"


def compiled_folder(*, checked: bool) -> Path:
    """Where one build of this engine version is kept; made where it is missing."""
    folder = var_folder() / "compiled" / (engine_version() + ("-checked" if checked else ""))
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def prepare_engine() -> Path:
    """Point numba at the folder of this engine version; call before the core is imported."""
    folder = compiled_folder(checked=checked_build())
    os.environ["NUMBA_CACHE_DIR"] = str(folder)
    os.environ["NUMBA_BOUNDSCHECK"] = "1" if checked_build() else "0"
    os.environ.setdefault("NUMBA_THREADING_LAYER", "workqueue")
    return folder
