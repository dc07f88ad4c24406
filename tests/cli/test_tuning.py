"""The search on the command line: a pool, all of them, what is written, what is wrong."""

import json

import pytest
from click.testing import CliRunner

from idle_harbor.cli import main
from idle_harbor.core.tuner.asking import turnable_paths
from idle_harbor.formats.plan.codec import plan_of
from tests.core.plans import document


@pytest.fixture
def two_pools(tmp_path):
    plan = document()
    plan["pools"].append({**plan["pools"][0], "id": "second"})
    plan["groups"].append({**plan["groups"][0], "id": "others"})
    plan["access"].append({**plan["access"][0], "group": "others", "pool": "second"})
    path = tmp_path / "plan.json"
    path.write_text(json.dumps(plan), "utf-8")
    return path


def run(*words):
    return CliRunner().invoke(main, ["tune", *map(str, words)])


def test_all_pools_are_tuned_and_weighed(two_pools, tmp_path):
    written = tmp_path / "tuned.json"
    found = run(two_pools, "--all", "--weeks", 400, "--output", written)
    assert found.exit_code == 0, found.output
    assert "a month for all pools instead of" in found.output
    assert "The next €1,000:" in found.output and "To save €5,000:" in found.output
    before, after = json.loads(two_pools.read_text("utf-8")), json.loads(written.read_text("utf-8"))
    plan_of(after)
    assert [each["id"] for each in after["pools"]] == ["main", "second"]
    assert plan_of(after).schedules != plan_of(before).schedules


def test_a_budget_that_is_too_small_is_said(two_pools):
    found = run(two_pools, "--all", "--weeks", 250, "--budget", 1)
    assert found.exit_code == 0 and "costs" in found.output and "at least" in found.output


@pytest.mark.parametrize("words", [[], ["--all", "--pool", "main"]])
def test_one_pool_or_all_of_them(two_pools, words):
    found = run(two_pools, *words)
    assert found.exit_code == 2 and "--pool" in found.output


def test_a_pool_that_is_not_there(two_pools):
    assert run(two_pools, "--pool", "nobody").exit_code != 0


def test_one_pool_by_seconds_ends_early(two_pools):
    found = run(two_pools, "--pool", "main", "--weeks", 20_000, "--seconds", 1)
    assert found.exit_code == 0 and "ended before its budget" in found.output


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (["--within", "floor=5..2"], "the wrong way round"),
        (["--within", "floor=-3..-1"], "beyond what the field may be"),
        (["--within", "mood=1..2"], "called 'mood'"),
        (["--lock", "mood"], "called 'mood'"),
        (["--promise", "wait_p95_seconds=-3"], "takes a whole number from 0 to 86400, not '-3'"),
        (["--promise", "wait_p95_seconds=12.7"], "not '12.7'"),
        (["--promise", "refused_share=nan"], "takes a number from 0 to 1, not 'nan'"),
        (["--seed", "-5"], "--seed"),
        (["--weeks", "199"], "199 weeks of candidates are too few"),
        (["--output", "no/such/folder/tuned.json"], "there is no folder"),
    ],
)
def test_wrong_input_is_one_line_before_anything_runs(two_pools, monkeypatch, words, said):
    monkeypatch.setattr("idle_harbor.core.tuner.tune", None)
    found = run(two_pools, "--pool", "main", *words)
    assert found.exit_code == 2 and said in found.output and "Traceback" not in found.output


def test_pools_without_people_are_left_out_by_name(two_pools):
    plan = json.loads(two_pools.read_text("utf-8"))
    plan["access"] = plan["access"][:1]
    two_pools.write_text(json.dumps(plan), "utf-8")
    found = run(two_pools, "--all", "--weeks", 200)
    assert found.exit_code == 0 and "second is left out: nobody comes to it" in found.output


def test_a_file_that_is_not_written_is_said(two_pools, tmp_path):
    """With everything locked the plan of today is the answer."""
    written = tmp_path / "tuned.json"
    locks = [word for path in turnable_paths() for word in ("--lock", path)]
    found = run(two_pools, "--pool", "main", "--weeks", 200, "--output", written, *locks)
    assert found.exit_code == 0 and not written.exists()
    assert "is not written: the plan of today is the answer" in found.output
