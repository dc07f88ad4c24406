"""What a quick run tests: the folders of tests that stand as the changed sources do."""

import pytest

from idle_harbor.launch.changed import suites_for


@pytest.mark.parametrize(
    ("files", "beside"),
    [
        ([], []),
        (["README.md", "frontend/src/main.ts", "benchmarks/table.py"], []),
        (["src/idle_harbor/core/calendar/clock.py"], ["tests/core/calendar"]),
        # No folder of tests stands as the kernels' does.
        (["src/idle_harbor/core/engine/kernel/loop.py"], ["tests/core/engine"]),
        (["src/idle_harbor/store/queries/jobs.sql"], ["tests/store"]),
        (["tests/web/test_desk.py"], ["tests/web/test_desk.py"]),
        (["tests/web/test_desk.py", "src/idle_harbor/web/app.py"], ["tests/web"]),
        # What all tests use, and what takes minutes, are left to the whole run.
        (["tests/builders.py", "src/idle_harbor/runtime.py"], []),
        (["src/idle_harbor/jobs/work.py", "tests/browser/test_board.py"], []),
        (["tests/core/test_gone.py"], []),
    ],
)
def test_suites_for_a_change(files, beside):
    assert suites_for(files) == beside
