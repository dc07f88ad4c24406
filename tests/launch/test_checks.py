"""The runner of all checks: what it says of each, that lanes end, and that nothing is left out."""

import sys
from pathlib import Path

import pytest

from idle_harbor.launch import checks
from idle_harbor.launch.checks import BROWSER, FUZZ, PLAIN_RULES, REST, RULES, TOUR, Check
from idle_harbor.runtime import CHECKOUT


@pytest.fixture
def step(tmp_path, monkeypatch):
    monkeypatch.setattr(checks, "var_folder", lambda: tmp_path)

    def run(code: str, **more: str) -> bool:
        return checks._step(
            Check("some: check", (sys.executable, "-c", code), more=more), {"A": "1"}
        )

    return run


def test_a_check_says_what_it_printed_and_how_it_ended(step, capsys, tmp_path):
    assert step("import os; print('found', os.environ['A'], os.environ['B'])", B="2")
    said = capsys.readouterr().out
    assert said.splitlines()[:2] == ["── some: check …", "found 1 2"] and "passed (" in said
    assert (tmp_path / "checks" / "some-check.log").read_text() == "found 1 2\n"
    assert not step("raise SystemExit('it is wrong')")
    said = capsys.readouterr().out
    assert "it is wrong" in said and "some: check: FAILED" in said


def test_lanes_and_checks_in_turn_go_to_their_end():
    done = []

    def lane(name: str, passed: bool):
        def run() -> bool:
            done.append(name)
            return passed

        return run

    assert not checks._together(lane("a", True), lane("b", False), lane("c", True))
    assert sorted(done) == ["a", "b", "c"]
    assert checks._together(lane("a", True))


def targets_of(check: Check) -> tuple[list[str], list[str]]:
    """The folders and files that a run of pytest is given, and those that it leaves out."""
    given = [each for each in check.command if each.startswith("tests")]
    left_out = [each.partition("=")[2] for each in check.command if each.startswith("--ignore=")]
    return given, left_out


def runs(check: Check, test: Path) -> bool:
    given, left_out = ([CHECKOUT / name for name in names] for names in targets_of(check))
    return any(test.is_relative_to(each) for each in given) and not any(
        test.is_relative_to(each) for each in left_out
    )


def test_every_test_is_run_once():
    tests = sorted((CHECKOUT / "tests").rglob("test_*.py"))
    assert len(tests) > 100
    for test in tests:
        assert sum(runs(check, test) for check in (RULES, REST, FUZZ, BROWSER)) == 1, test
    assert targets_of(PLAIN_RULES) == targets_of(RULES)
    assert sum(runs(TOUR, test) for test in tests) == 1


def test_the_rules_run_in_the_checked_build_and_the_others_in_the_plain_one():
    assert RULES.more == {"IDLE_HARBOR_CHECKED": "1"}
    assert not any(check.more for check in (PLAIN_RULES, REST, FUZZ, BROWSER, TOUR))


@pytest.mark.parametrize(("scope", "long"), [("usual", "0"), ("quick", "0"), ("long", "1")])
def test_the_environment_of_all_checks(scope, long, monkeypatch):
    monkeypatch.setenv("DATABASE_URL", "postgresql://somebody/elses")
    given = checks._environment(scope)
    assert "DATABASE_URL" not in given and given["IDLE_HARBOR_LONG"] == long
