"""Profiles from samples, worked by hand; and samples that cannot be read."""

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


class TestNetwork:
    """Session a has two samples in one minute and one in the next, b one in each of two."""

    TEXT = (
        "session,time,cpu_vcpu,memory_gib,state,network_mbit\n"
        "a,2027-03-01T09:00:05,0.2,1,active,0.1\n"
        "a,2027-03-01T09:00:35,0.2,1,active,0.5\n"
        "a,2027-03-01T09:01:05,0.2,1,active,0.6\n"
        "a,2027-03-01T12:30:00,0.2,1,idle,9\n"
        "b,2027-03-01T09:00:00,0.2,1,active,0.2\n"
        "b,2027-03-01T09:05:00,0.2,1,active,0.0\n"
    )

    def test_the_mean_and_the_busiest_minute(self):
        """a: mean 0.4, minutes 0.3 and 0.6; b: mean 0.1, minutes 0.2 and 0. So the mean is 0.25
        and the busiest minute 0.4, 1.6 times as much. The idle sample is nobody's work."""
        got = profile_from_samples(PROFILE, read_samples(self.TEXT), "spring").display
        assert got.network_mbit == pytest.approx(0.25, abs=1e-5)
        assert got.busy_mbit == pytest.approx(0.4, abs=1e-5)
        assert got.mbit.standard == pytest.approx(0.25 / 2.1, abs=1e-6)
        assert got.mbit.fine == PROFILE.display.mbit.fine

    def test_times_may_be_seconds(self):
        text = (
            "session,time,cpu_vcpu,memory_gib,network_mbit\na,0,1,1,1\na,59.5,1,1,2\na,60,1,1,3\n"
        )
        got = profile_from_samples(PROFILE, read_samples(text), "x").display
        assert got.network_mbit == pytest.approx(2.0, abs=1e-5)
        assert got.busy_mbit == pytest.approx(3.0, abs=1e-5)

    def test_without_it_the_display_keeps_what_it_had(self):
        got = profile_from_samples(PROFILE, read_samples(HEAD + "a,noon,1,1,\n"), "x")
        assert got.display == PROFILE.display

    def test_nothing_sent_is_no_fault(self):
        text = "session,time,cpu_vcpu,memory_gib,network_mbit\na,0,1,1,0\n"
        got = profile_from_samples(PROFILE, read_samples(text), "x").display
        assert got.network_mbit == 0.0 and got.busy_minute == 1.0

    @pytest.mark.parametrize(
        ("rows", "message"),
        [
            ("a,0,1,1,1\na,60,1,1,\n", "1 of 2 rows have a network_mbit"),
            ("a,noon,1,1,1\n", "time is 'noon'"),
            ("a,0,1,1,-1\n", "network_mbit is -1"),
        ],
    )
    def test_what_cannot_be_is_told(self, rows, message):
        with pytest.raises(PlanError, match=message):
            read_samples("session,time,cpu_vcpu,memory_gib,network_mbit\n" + rows)


def test_the_error_covers_the_truth_about_as_often_as_it_should():
    """400 sets of 40 sessions whose true mean is 0.5: the mean lies within two standard errors
    in about 95 of 100, and surely in 90 to 99."""
    rng = np.random.Generator(np.random.Philox(7))
    hits = 0
    for _ in range(400):
        own = rng.normal(0.5, 0.1, 40)
        rows = [
            f"s{k},{j},{max(own[k] + rng.normal(0, 0.2), 0):.6f},1.0,active"
            for k in range(40)
            for j in range(4)
        ]
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
