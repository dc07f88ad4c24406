"""``./idle-harbor test``: every check and test, with servers of their own.

Checks that do not depend on each other run at the same time, in lanes: most of them use one
processor, or wait for a browser, and leave the others idle.
"""

from __future__ import annotations

import os
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Literal

from idle_harbor.launch.browser import chromium
from idle_harbor.launch.changed import changed_files, suites_for
from idle_harbor.launch.cluster import Cluster, server_binaries
from idle_harbor.launch.coverage import check_coverage, measured
from idle_harbor.launch.frontend import FOLDER, build_frontend, generate_client, install_packages
from idle_harbor.launch.start import compile_engine
from idle_harbor.runtime import CHECKOUT, prepare_engine, var_folder

#: How much is run: what every change needs, what an edit needs, or what a night has time for.
Scope = Literal["usual", "quick", "long"]


@dataclass(frozen=True, slots=True)
class Check:
    """A command that says by its exit code whether something holds; ``more`` is its environment
    beside that of all checks."""

    name: str
    command: tuple[str, ...]
    folder: Path = CHECKOUT
    more: Mapping[str, str] = field(default_factory=dict)


_PY = sys.executable
_LINT_IMPORTS = "from importlinter.cli import lint_imports_command as c; c()"
STATIC = (
    Check("lint", (_PY, "-m", "ruff", "check", ".")),
    Check("format", (_PY, "-m", "ruff", "format", "--check", ".")),
    Check("types", (_PY, "-m", "mypy")),
    Check("imports", (_PY, "-c", _LINT_IMPORTS)),
    Check("dead code", (_PY, "-m", "vulture")),
)
_NPX = ("npx", "--no-install")
FRONT = (
    Check("front end: types", (*_NPX, "vue-tsc", "--noEmit"), FOLDER),
    Check("front end: lint", (*_NPX, "eslint", "src", "--max-warnings", "0"), FOLDER),
    Check("front end: tests", (*_NPX, "vitest", "run"), FOLDER),
)
_TESTS = (_PY, "-m", "pytest", "-q")
_CHECKED = {"IDLE_HARBOR_CHECKED": "1"}
_FUZZ, _TOUR = "tests/web/test_fuzz.py", "tests/browser/test_tour.py"
_RULES = ("tests/core", "tests/theory")
#: The rules of the job run in the checked build, which does all that the plain one does and looks
#: at every index besides; that both give the same figures is a test of its own.
RULES = Check(
    "rules of the job, in the checked build",
    (*measured("rules", _PY), "pytest", "-q", *_RULES, "-n", "2"),
    more=_CHECKED,
)
PLAIN_RULES = Check("rules of the job, in the plain build", (*_TESTS, *_RULES, "-n", "2"))
REST = Check(
    "tests",
    (
        # What the tests of a file share is made once.
        *(*measured("rest", _PY), "pytest", "-q", "tests", "-n", "3", "--dist", "loadfile"),
        *(f"--ignore={each}" for each in (*_RULES, "tests/browser", _FUZZ)),
    ),
)
FUZZ = Check("drawn requests", (*_TESTS, _FUZZ))
BROWSER = Check("browser tests", (*_TESTS, "tests/browser"))
TOUR = Check("a tour of all views", (*_TESTS, _TOUR))

_printing = threading.Lock()


def _step(check: Check, env: Mapping[str, str]) -> bool:
    """Run a check; its output is printed in one piece once it is done, and is in var/checks/
    while it goes on."""
    begun = time.monotonic()
    print(f"── {check.name} …", flush=True)
    log = var_folder() / "checks" / f"{check.name.replace(':', '').replace(' ', '-')}.log"
    log.parent.mkdir(parents=True, exist_ok=True)
    with log.open("wb") as output:
        done = subprocess.run(
            check.command,
            cwd=check.folder,
            env={**env, **check.more},
            check=False,
            stdout=output,
            stderr=subprocess.STDOUT,
        )
    took = time.monotonic() - begun
    said = log.read_text(errors="replace").strip()
    verdict = "passed" if done.returncode == 0 else "FAILED"
    with _printing:
        print(f"{said}\n── {check.name}: {verdict} ({took:.0f} s)", flush=True)
    return done.returncode == 0


def _in_turn(checks: Sequence[Check], env: Mapping[str, str]) -> bool:
    """Checks one after the other, each of them whatever the others say."""
    passed = [_step(check, env) for check in checks]
    return all(passed)


def _together(*lanes: Callable[[], bool]) -> bool:
    """Lanes that go on at the same time; all of them go to their end."""
    with ThreadPoolExecutor(len(lanes)) as pool:
        passed = list(pool.map(lambda lane: lane(), lanes))
    return all(passed)


def _environment(scope: Scope) -> dict[str, str]:
    environment = {k: v for k, v in os.environ.items() if k != "DATABASE_URL"}
    environment["PYTHONPATH"] = str(CHECKOUT / "src")
    # Fresh memory is filled with a pattern: what is read before it is written shows at once.
    environment["MALLOC_PERTURB_"] = "165"
    environment["IDLE_HARBOR_LONG"] = "1" if scope == "long" else "0"
    return environment


def _install() -> bool:
    """What comes from elsewhere, one after the other, while the engine is compiled."""
    server_binaries()
    chromium()
    install_packages()
    return True


def _compile(*, checked: bool) -> bool:
    compile_engine(checked=checked)
    return True


def _front(checks: Sequence[Check], env: Mapping[str, str]) -> bool:
    build_frontend()
    return _in_turn(checks, env)


def _quick(env: Mapping[str, str]) -> bool:
    """Checks of the text, the tests beside what has changed, and the browser once through all
    views."""
    beside = suites_for(changed_files())
    tests = [Check("tests of what changed", (*_TESTS, *beside))] if beside else []
    return _together(lambda: _in_turn((*STATIC, *tests), env), lambda: _front((*FRONT, TOUR), env))


def _whole(scope: Scope, env: Mapping[str, str]) -> bool:
    """Everything: the browser's tests beside the others."""
    rules = (RULES, PLAIN_RULES) if scope == "long" else (RULES,)
    passed = _together(
        lambda: _in_turn((*rules, REST, FUZZ), env),
        lambda: _in_turn(STATIC, env) & _front((*FRONT, BROWSER), env),
    )
    return check_coverage(("rules", "rest")) & passed


def run_checks(arguments: Sequence[str], scope: Scope = "usual") -> int:
    """Run everything of a scope, or with arguments pytest alone with those; returns the exit
    code."""
    prepare_engine()
    environment = _environment(scope)
    _together(_install, lambda: _compile(checked=scope != "quick"))
    generate_client()
    cluster = Cluster("test", passing=True)
    cluster.remove()
    try:
        environment["IDLE_HARBOR_TEST_CLUSTER"] = cluster.start()
        if arguments:
            build_frontend()
            passed = _step(Check("tests", (*_TESTS, *arguments)), environment)
        elif scope == "quick":
            passed = _quick(environment)
        else:
            passed = _whole(scope, environment)
    finally:
        cluster.remove()
    print("every check passed" if passed else "something FAILED; see above", flush=True)
    return 0 if passed else 1
