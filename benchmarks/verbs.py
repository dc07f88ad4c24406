"""Processor time of quick verbs as whole processes, against ``python -c "import numpy"``."""

from __future__ import annotations

import json
import os
import resource
import subprocess
import sys
from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryDirectory

from idle_harbor.demo.scenario import demo_plan
from idle_harbor.runtime import CHECKOUT

_TIMES = 5
#: A verb with its arguments, and its bar in imports of numpy.
_VERBS = (
    (("validate", "plan.json"), 4),
    (("words", "plan.json", "--pool", "office"), 4),
    (("schema",), 4),
    (("simulate", "plan.json", "--pool", "office", "--seeds", "1"), 10),
    (("targets", "plan.json", "--pool", "office", "--seeds", "1"), 10),
)


@dataclass(frozen=True, slots=True)
class Verb:
    """A verb, the seconds of processor time that it takes, and as a ratio to the yardstick."""

    name: str
    seconds: float
    ratio: float
    bar: int


def _seconds(command: list[str], folder: str) -> float:
    """The least of some runs: user and system time of a process and its children."""
    found = []
    for _ in range(_TIMES):
        before = resource.getrusage(resource.RUSAGE_CHILDREN)
        subprocess.run(command, cwd=folder, check=True, capture_output=True, env=os.environ)
        after = resource.getrusage(resource.RUSAGE_CHILDREN)
        found.append(after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime)
    return min(found)


def time_verbs() -> list[Verb]:
    """Each quick verb on the demo's plan, started by the one command."""
    with TemporaryDirectory(prefix="ih-bench-") as folder:
        Path(folder, "plan.json").write_text(json.dumps(demo_plan()))
        yardstick = _seconds([sys.executable, "-c", "import numpy"], folder)
        found = []
        for (name, *given), bar in _VERBS:
            seconds = _seconds([str(CHECKOUT / "idle-harbor"), name, *given], folder)
            found.append(Verb(name, seconds, seconds / yardstick, bar))
    return found


if __name__ == "__main__":
    for verb in time_verbs():
        print(f"{verb.name:10}{verb.seconds:6.2f} s{verb.ratio:6.1f} × (bar {verb.bar})")
