"""Profiles from samples, worked by hand; and samples that cannot be read."""

from __future__ import annotations

from math import sqrt

import numpy as np
import pytest

from idle_harbor.core.errors import PlanError
from idle_harbor.core.sizing.samples import profile_from_samples
from idle_harbor.formats.tables.samples import read_samples
from tests.builders import PROFILE

HEAD = "session,time,cpu_vcpu,memory_gib,state\n"


def test_means_are_over_sessions_each_counting_once():
    """Session a: 0.2 and 0.4 (mean 0.3), b: 0.9. Mean 0.6, error |0.9 − 0.3| / √2 / √2 = 0.3.

    Spread: a's samples weigh ¼ each and b's ½: ¼·0.16 + ¼·0.04 + ½·0.09 = 0.095.
    """
    text = HEAD + "a,1,0.2,1.0,active\na,2,0.4,3.0,active\nb,1,0.9,4.0,active\n"
    got = profile_from_samples(PROFILE, read_samples(text), "spring")
    assert got.cpu.mean == pytest.approx(0.6) and got.memory_gib.active == pytest.approx(3.0)
    assert got.cpu.sd == pytest.approx(sqrt(0.095))
    assert got.measured.sessions == 2 and got.measured.source == "spring"
    assert got.measured.cpu_error == pytest.approx(0.3)
    assert got.measured.memory_error == pytest.approx(1.0)


def test_states_without_samples_keep_what_was_there():
    text = HEAD + "a,1,0.2,1.0,\na,2,0.01,0.9,idle\n"
    got = profile_from_samples(PROFILE, read_samples(text), "x")
    assert (got.cpu.idle, got.memory_gib.idle) == (0.01, 0.9)
    assert got.memory_gib.disconnected == PROFILE.memory_gib.disconnected
    assert got.measured.cpu_error == 0.0


def test_the_error_covers_the_truth_about_as_often_as_it_should():
    """400 sets of 40 sessions whose true mean is 0.5: the mean lies within two standard errors
    in about 95 of 100, and surely in 90 to 99."""
    rng = np.random.Generator(np.random.Philox(7))
    hits = 0
    for _ in range(400):
        own = rng.normal(0.5, 0.1, 40)
        rows = [f"s{k},{j},{max(own[k] + rng.normal(0, 0.2), 0):.6f},1.0,active"
                for k in range(40) for j in range(4)]  # fmt: skip
        got = profile_from_samples(PROFILE, read_samples(HEAD + "\n".join(rows)), "x")
        # The cut at 0 moves the mean up by less than a thousandth.
        hits += abs(got.cpu.mean - 0.501) <= 2 * got.measured.cpu_error
    assert 360 <= hits <= 396


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("time,cpu_vcpu,memory_gib\n1,1,1\n", "the column session is missing"),
        (HEAD, "there is no sample"),
        (HEAD + "a,1,much,1,\n", "line 2: cpu_vcpu is 'much'"),
        (HEAD + "a,1,nan,1,\n", "line 2: cpu_vcpu is nan"),
        (HEAD + "a,1,1,-1,\n", "line 2: memory_gib is -1"),
        (HEAD + "a,1,1,1,\na,1,2,1,\n", "two samples at 1"),
        (HEAD + ",1,1,1,\n", "lacks a session"),
        (HEAD + "a,1,1,1,asleep\n", "state is 'asleep'"),
        (HEAD + "a,1\n", "line 2"),
    ],
)
def test_samples_that_cannot_be(text, says):
    with pytest.raises(PlanError) as caught:
        read_samples(text)
    assert any(says in fault.line() for fault in caught.value.faults)


def test_only_idle_samples_make_no_profile():
    with pytest.raises(PlanError, match="no sample is of an active session"):
        profile_from_samples(PROFILE, read_samples(HEAD + "a,1,1,1,idle\n"), "x")
