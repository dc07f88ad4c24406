"""The plain build of the engine and the checked one give the same figures, bit for bit.

The rules of the job are tested in the checked build; everybody runs the plain one.
"""

import hashlib
import os
import subprocess
import sys

import pytest

from idle_harbor.demo.scenario import demo_plan
from idle_harbor.runtime import CHECKOUT

_SCRIPT = """
import sys
from idle_harbor.runtime import prepare_engine
prepare_engine()
from idle_harbor.core.base.compiled import CHECKED
from tests.launch.test_builds import told
print(CHECKED, *told())
"""


def told() -> list[str]:
    """What each pool of the demo and a pool with every rule switched on come to in a week."""
    from benchmarks.weeks import case_for
    from idle_harbor.core.weeks.case import case_of
    from idle_harbor.core.weeks.week import week
    from idle_harbor.formats.plan.codec import plan_of

    plan = plan_of(demo_plan())
    cases = [case_of(plan, pool.id) for pool in plan.pools]
    found = []
    for case in [*cases, case_for(300, everything=True)]:
        run = week(case, 1, record=True).run
        parts = (run.results, run.bins, run.peaks, run.actions, run.lanes, run.loads)
        digest = hashlib.sha256(b"".join(part.tobytes() for part in parts))
        found.append(f"{case.setting.pool.id}:{digest.hexdigest()[:16]}")
    return found


@pytest.fixture(scope="module")
def by_build() -> dict[str, list[str]]:
    """What each build says, each in a process of its own."""
    found = {}
    for build in ("0", "1"):
        path = f"{CHECKOUT / 'src'}{os.pathsep}{CHECKOUT}"
        environment = {**os.environ, "IDLE_HARBOR_CHECKED": build, "PYTHONPATH": path}
        command = [sys.executable, "-c", _SCRIPT]
        done = subprocess.run(
            command, capture_output=True, text=True, check=True, cwd=CHECKOUT, env=environment
        )
        is_checked, *found[build] = done.stdout.split()
        assert is_checked == str(build == "1")
    return found


def test_both_builds_say_the_same_of_every_pool(by_build):
    assert len(by_build["0"]) == 8
    assert by_build["0"] == by_build["1"]
