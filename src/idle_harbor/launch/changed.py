"""Which tests stand beside the sources that have changed: what ``test --quick`` runs."""

from __future__ import annotations

import subprocess
from collections.abc import Iterable
from pathlib import PurePosixPath

from idle_harbor.runtime import CHECKOUT

_PACKAGE, _TESTS = PurePosixPath("src/idle_harbor"), PurePosixPath("tests")
#: Tests that take minutes: a quick run leaves them to the whole one.
_LONG = tuple(map(PurePosixPath, ("tests/browser", "tests/jobs", "tests/launch", "tests/theory")))


def _git(*arguments: str) -> list[str]:
    done = subprocess.run(
        ["git", *arguments], cwd=CHECKOUT, capture_output=True, text=True, check=False
    )
    return done.stdout.split("\n") if done.returncode == 0 else []


def changed_files() -> list[str]:
    """Files, from the checkout on, that differ from the last commit; those of the last commit
    where none do. Nothing where this is no git checkout."""
    now = _git("diff", "--name-only", "HEAD") + _git("ls-files", "--others", "--exclude-standard")
    found = [name for name in now if name]
    return found or [name for name in _git("diff", "--name-only", "HEAD~1", "HEAD") if name]


def suites_for(files: Iterable[str]) -> list[str]:
    """The tests of some files: changed tests themselves, and the nearest folder of tests that
    stands as the folder of a source does."""
    found: set[PurePosixPath] = set()
    for name in map(PurePosixPath, files):
        if name.suffix not in (".py", ".sql"):
            continue
        if name.is_relative_to(_TESTS):
            beside = name if name.name.startswith("test_") else name.parent
        elif name.is_relative_to(_PACKAGE):
            beside = _TESTS / name.relative_to(_PACKAGE).parent
            while not (CHECKOUT / beside).is_dir():
                beside = beside.parent
        else:
            continue
        if beside != _TESTS and (CHECKOUT / beside).exists():
            found.add(beside)
    short = {each for each in found if not any(each.is_relative_to(long) for long in _LONG)}
    outermost = {
        each for each in short if not any(each != o and each.is_relative_to(o) for o in short)
    }
    return sorted(map(str, outermost))
