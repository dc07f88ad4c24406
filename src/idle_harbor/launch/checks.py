"""``./idle-harbor test``: every check and test, with servers of their own.

What does not depend on each other goes on at the same time, in lanes: most of it waits for one
processor, or for a browser, and leaves the others idle.
"""

from __future__ import annotations

import os
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from idle_harbor.launch.browser import chromium
from idle_harbor.launch.cluster import Cluster, server_binaries
from idle_harbor.launch.frontend import FOLDER, build_frontend, generate_client, install_packages
from idle_harbor.launch.start import compile_engine
from idle_harbor.runtime import CHECKOUT, prepare_engine, var_folder

#: Name, command and folder of a check.
Check = tuple[str, tuple[str, ...], Path]

_PY = sys.executable
STATIC: tuple[Check, ...] = (
    ("lint", (_PY, "-m", "ruff", "check", "."), CHECKOUT),
    ("format", (_PY, "-m", "ruff", "format", "--check", "."), CHECKOUT),
    ("types", (_PY, "-m", "mypy"), CHECKOUT),
    (
        "imports",
        (_PY, "-c", "from importlinter.cli import lint_imports_command as c; c()"),
        CHECKOUT,
    ),
    ("dead code", (_PY, "-m", "vulture"), CHECKOUT),
)
FRONT: tuple[Check, ...] = (
    ("front end: types", ("npx", "--no-install", "vue-tsc", "--noEmit"), FOLDER),
    ("front end: lint", ("npx", "--no-install", "eslint", "src", "--max-warnings", "0"), FOLDER),
    ("front end: tests", ("npx", "--no-install", "vitest", "run"), FOLDER),
)
_TESTS = (_PY, "-m", "pytest", "-q")
_FUZZ = "tests/web/test_fuzz.py"
PLAIN: Check = (
    "tests",
    (*_TESTS, "tests", "--ignore=tests/browser", f"--ignore={_FUZZ}", "-n", "2"),
    CHECKOUT,
)
FUZZ: Check = ("drawn requests", (*_TESTS, _FUZZ), CHECKOUT)
CHECKED: Check = (
    "rules of the job, in the checked build",
    (*_TESTS, "tests/core", "tests/theory", "-n", "2"),
    CHECKOUT,
)
BROWSER: Check = ("browser tests", (*_TESTS, "tests/browser"), CHECKOUT)

_printing = threading.Lock()


def _step(check: Check, env: dict[str, str]) -> bool:
    """Run a check; its output is printed in one piece once it is done, and is in var/checks/
    while it goes on."""
    name, command, folder = check
    begun = time.monotonic()
    print(f"── {name} …", flush=True)
    log = var_folder() / "checks" / f"{name.replace(':', '').replace(' ', '-')}.log"
    log.parent.mkdir(parents=True, exist_ok=True)
    with log.open("wb") as output:
        done = subprocess.run(
            command, cwd=folder, env=env, check=False, stdout=output, stderr=subprocess.STDOUT
        )
    took = time.monotonic() - begun
    said = log.read_text(errors="replace").strip()
    verdict = "passed" if done.returncode == 0 else "FAILED"
    with _printing:
        print(f"{said}\n── {name}: {verdict} ({took:.0f} s)", flush=True)
    return done.returncode == 0


def _in_turn(checks: Sequence[Check], env: dict[str, str]) -> bool:
    """Checks one after the other, each of them whatever the others say."""
    passed = [_step(check, env) for check in checks]
    return all(passed)


def _together(*lanes: Callable[[], bool]) -> bool:
    """Lanes that go on at the same time; all of them go to their end."""
    with ThreadPoolExecutor(len(lanes)) as pool:
        passed = list(pool.map(lambda lane: lane(), lanes))
    return all(passed)


def _environment() -> dict[str, str]:
    environment = {k: v for k, v in os.environ.items() if k != "DATABASE_URL"}
    environment["PYTHONPATH"] = str(CHECKOUT / "src")
    # Fresh memory is filled with a pattern: what is read before it is written shows at once.
    environment["MALLOC_PERTURB_"] = "165"
    return environment


def _install() -> bool:
    """What comes from elsewhere, one after the other, while the engine is compiled."""
    server_binaries()
    chromium()
    install_packages()
    return True


def _compile() -> bool:
    compile_engine(checked=True)
    return True


def _static(env: dict[str, str]) -> bool:
    def front() -> bool:
        build_frontend()
        return _in_turn(FRONT, env)

    return _together(lambda: _in_turn(STATIC, env), front)


def _tested(arguments: Sequence[str], env: dict[str, str]) -> bool:
    """The tests: the browser's beside the others."""
    if arguments:
        return _step(("tests", (*_TESTS, *arguments), CHECKOUT), env)
    checked = {**env, "IDLE_HARBOR_CHECKED": "1"}
    return _together(
        lambda: _step(PLAIN, env) & _step(CHECKED, checked),
        lambda: _in_turn((BROWSER, FUZZ), env),
    )


def run_checks(arguments: Sequence[str]) -> int:
    """Run everything, or with arguments pytest alone with those; returns the exit code."""
    prepare_engine()
    environment = _environment()
    _together(_install, _compile)
    generate_client()
    passed = True
    if arguments:
        build_frontend()
    else:
        passed &= _static(environment)
    cluster = Cluster("test")
    cluster.remove()
    try:
        environment["IDLE_HARBOR_TEST_CLUSTER"] = cluster.start()
        passed &= _tested(arguments, environment)
    finally:
        cluster.remove()
    print("every check passed" if passed else "something FAILED; see above", flush=True)
    return 0 if passed else 1
