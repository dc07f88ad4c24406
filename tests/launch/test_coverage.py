"""Coverage adds up over several runs and may not fall below its floor."""

import json

import pytest

from idle_harbor.launch import coverage
from idle_harbor.launch.coverage import Reached, check_coverage, merged


def run_of(**files):
    return {n: {"executed_lines": done, "missing_lines": left} for n, (done, left) in files.items()}


def test_a_line_that_one_of_several_runs_reaches_is_reached():
    one = run_of(a=([1, 2], [3, 4]), b=([1], []))
    other = run_of(a=([2, 3], [1, 4]), c=([], [7]))
    assert merged([one, other]) == {"a": Reached(4, 3), "b": Reached(1, 1), "c": Reached(1, 0)}
    assert merged([one, other])["a"].share == 75.0
    assert Reached(0, 0).share == 100.0


@pytest.mark.parametrize(("floor", "kept"), [(75.0, True), (75.1, False)])
def test_less_than_the_floor_fails(tmp_path, monkeypatch, capsys, floor, kept):
    monkeypatch.setattr(coverage, "file_of", lambda check: tmp_path / check)
    (tmp_path / "one").write_text(json.dumps({"files": run_of(a=([1, 2], [3, 4]))}))
    (tmp_path / "two").write_text(json.dumps({"files": run_of(a=([3], [1, 2, 4]))}))
    assert check_coverage(["one", "two"], floor) is kept
    said = capsys.readouterr().out
    assert "1 of    4 lines not reached: a" in said and "75.0 % of 4 lines" in said


def test_nothing_measured_is_no_success(tmp_path, monkeypatch):
    monkeypatch.setattr(coverage, "file_of", lambda check: tmp_path / check)
    assert not check_coverage(["one"])
