"""``./idle-harbor test``: every check and test, with servers of their own."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from collections.abc import Sequence

from idle_harbor.launch.browser import chromium
from idle_harbor.launch.cluster import Cluster
from idle_harbor.launch.frontend import FOLDER, build_frontend, generate_client, install_packages
from idle_harbor.launch.start import compile_engine
from idle_harbor.runtime import CHECKOUT, prepare_engine

#: Name, command and folder of every check; ``PY`` stands for this Python.
_PY = sys.executable
STATIC: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("lint", (_PY, "-m", "ruff", "check", ".")),
    ("format", (_PY, "-m", "ruff", "format", "--check", ".")),
    ("types", (_PY, "-m", "mypy")),
    ("imports", (_PY, "-c", "from importlinter.cli import lint_imports_command as c; c()")),
    ("dead code", (_PY, "-m", "vulture")),
)
FRONT: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("front end: types", ("npx", "--no-install", "vue-tsc", "--noEmit")),
    ("front end: lint", ("npx", "--no-install", "eslint", "src", "--max-warnings", "0")),
    ("front end: tests", ("npx", "--no-install", "vitest", "run")),
)


def _step(name: str, command: Sequence[str], *, cwd: str, env: dict[str, str]) -> bool:
    begun = time.monotonic()
    print(f"── {name}", flush=True)
    done = subprocess.run(list(command), cwd=cwd, env=env, check=False)
    took = time.monotonic() - begun
    print(f"── {name}: {'passed' if done.returncode == 0 else 'FAILED'} ({took:.0f} s)", flush=True)
    return done.returncode == 0


def _environment() -> dict[str, str]:
    environment = {k: v for k, v in os.environ.items() if k != "DATABASE_URL"}
    environment["PYTHONPATH"] = str(CHECKOUT / "src")
    # Fresh memory is filled with a pattern: what is read before it is written shows at once.
    environment["MALLOC_PERTURB_"] = "165"
    return environment


def _pytest(arguments: Sequence[str], env: dict[str, str]) -> bool:
    """The tests: what needs no browser on two processes, the browser alone."""
    command = [_PY, "-m", "pytest", "-q"]
    if arguments:
        return _step("tests", [*command, *arguments], cwd=str(CHECKOUT), env=env)
    plain = ["tests", "--ignore=tests/browser", "-n", "2"]
    passed = _step("tests", [*command, *plain], cwd=str(CHECKOUT), env=env)
    ruled = ["tests/core", "tests/theory", "-n", "2"]
    checked = {**env, "IDLE_HARBOR_CHECKED": "1"}
    passed &= _step(
        "rules of the job, in the checked build", [*command, *ruled], cwd=str(CHECKOUT), env=checked
    )
    browser = _step("browser tests", [*command, "tests/browser"], cwd=str(CHECKOUT), env=env)
    return passed and browser


def run_checks(arguments: Sequence[str]) -> int:
    """Run everything, or with arguments pytest alone with those; returns the exit code."""
    prepare_engine()
    environment = _environment()
    compile_engine(checked=True)
    install_packages()
    generate_client()
    build_frontend()
    chromium()
    passed = True
    if not arguments:
        for name, command in STATIC:
            passed &= _step(name, command, cwd=str(CHECKOUT), env=environment)
        for name, command in FRONT:
            passed &= _step(name, command, cwd=str(FOLDER), env=environment)
    cluster = Cluster("test")
    cluster.remove()
    try:
        environment["IDLE_HARBOR_TEST_CLUSTER"] = cluster.start()
        passed &= _pytest(arguments, environment)
    finally:
        cluster.remove()
    print("every check passed" if passed else "something FAILED; see above", flush=True)
    return 0 if passed else 1
