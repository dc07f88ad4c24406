"""Which lines the tests reach: measured beside them, and never less than it was.

What numba compiles is left out: Python does not execute its lines. Nor are processes counted that
tests start, such as servers, workers and verbs of the command line.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path

from idle_harbor.runtime import var_folder

#: The least share of lines that tests may reach, in per cent: today's, rounded down.
FLOOR = 94.8
#: Files of compiled functions.
_COMPILED = (
    "*/kernel/*",
    "*/policy/*",
    "*/figures/ideal.py",
    "*/engine/tally.py",
    "*/core/base/records.py",
    "*/core/base/compiled.py",
)
#: So many files with the most lines that no test reaches are named.
_NAMED = 8


@dataclass(frozen=True, slots=True)
class Reached:
    """Of a file, or of several: lines that can be executed, and how many of them were."""

    lines: int
    reached: int

    @property
    def share(self) -> float:
        """In per cent."""
        return 100.0 * self.reached / self.lines if self.lines else 100.0


def file_of(check: str) -> Path:
    """Where the lines that the tests of a check reach are written."""
    return var_folder() / "checks" / f"lines-{check}.json"


def measured(check: str, python: str) -> tuple[str, ...]:
    """The command in front of a module's name that notes which lines it reaches."""
    return (
        *(
            python,
            "-m",
            "slipcover",
            "--immediate",
            "--source",
            "src/idle_harbor",
            "--omit",
            ",".join(_COMPILED),
        ),
        *("--json", "--out", str(file_of(check)), "-m"),
    )


def merged(found: Iterable[dict[str, dict[str, list[int]]]]) -> dict[str, Reached]:
    """Of each file what any of several runs reached; each run has by file its ``executed_lines``
    and ``missing_lines``."""
    lines: dict[str, set[int]] = {}
    reached: dict[str, set[int]] = {}
    for run in found:
        for name, told in run.items():
            lines.setdefault(name, set()).update(told["executed_lines"], told["missing_lines"])
            reached.setdefault(name, set()).update(told["executed_lines"])
    return {name: Reached(len(lines[name]), len(reached[name])) for name in sorted(lines)}


def check_coverage(checks: Sequence[str], floor: float = FLOOR) -> bool:
    """Print what the tests of some checks reach together; whether it is at least the floor."""
    try:
        runs = [json.loads(file_of(check).read_text("utf-8"))["files"] for check in checks]
    except (OSError, ValueError, KeyError) as error:
        print(f"── coverage: FAILED (nothing was measured: {error})", flush=True)
        return False
    files = merged(runs)
    whole = Reached(sum(f.lines for f in files.values()), sum(f.reached for f in files.values()))
    worst = sorted(files.items(), key=lambda file: file[1].reached - file[1].lines)[:_NAMED]
    for name, told in worst:
        print(f"{told.lines - told.reached:5} of {told.lines:4} lines not reached: {name}")
    kept = whole.share >= floor
    verdict = "passed" if kept else "FAILED"
    print(
        f"── coverage: {verdict} ({whole.share:.1f} % of {whole.lines:,} lines, floor {floor:g} %)",
        flush=True,
    )
    return kept
