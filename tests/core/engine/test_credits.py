"""Burstable hosts: a day of credits worked by hand.

A host of 4 vCPU with a baseline of a quarter: it earns 1 vCPU-hour an hour, and spends what its
sessions use. One person uses 2 vCPU, so the balance falls by one an hour.
"""

from dataclasses import replace

import pytest

from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.figures.footprint import footprint_of
from idle_harbor.core.plan import Burst
from tests.builders import PROFILE, SIZE, band, go, outcomes, pool, schedule, simple, varied

HOUR = 3600
WORK = varied(PROFILE, cpu_mean=2.0)
KEEP = schedule(band(floor=1, release="keep all"))


def burstable(rows, *, first=0.0, most=24.0, baseline=0.25, profile=WORK, limit=4, **changes):
    size = replace(SIZE, vcpu=4.0, burst=Burst(baseline, first, most))
    over = pool(standing=1, session_limit=limit, load_limit=1.0, **changes)
    return go(simple(rows), over=over, rules=KEEP, size=size, profile=profile, seconds=24 * HOUR)


def spent(result):
    return footprint_of(result, 0.0).baseline_hours


def test_a_day_of_credits():
    """Idle for 3 hours: 3 credits. One person from 3 to 10: spent at 6, at the baseline (1 vCPU,
    2 wanted: strained) until 10. Then idle again: 5 credits at 15, and one person from 15 to 20
    spends them to the second."""
    result = burstable([(0, 3 * HOUR, 10 * HOUR), (0, 15 * HOUR, 20 * HOUR)])
    assert spent(result) == pytest.approx(4.0, abs=1 / HOUR)
    strained = result.bins[:, k.L_STRAINED] > 0
    assert strained[6 * 12] and strained[10 * 12 - 1]
    assert not strained[6 * 12 - 1] and not strained[10 * 12] and not strained[12 * 15 :].any()


def test_the_first_credits_carry_on_for_as_long_as_they_last():
    assert spent(burstable([(0, 0, 10 * HOUR)], first=2.5)) == pytest.approx(7.5, abs=1 / HOUR)


def test_no_more_is_kept_than_the_most():
    """12 idle hours would earn 12; 1 is kept, and lasts for one hour of the six."""
    result = burstable([(0, 12 * HOUR, 18 * HOUR)], most=1.0)
    assert spent(result) == pytest.approx(5.0, abs=1 / HOUR)


def test_at_the_baseline_nothing_is_spent():
    steady = varied(PROFILE, cpu_mean=1.0)
    assert spent(burstable([(0, 0, 20 * HOUR)], profile=steady)) == 0.0


def test_once_less_than_the_baseline_is_wanted_it_is_over():
    """Spent at 1; at 2 the second person leaves, and one at half a vCPU wants less than it has."""
    light = varied(PROFILE, cpu_mean=0.75)
    result = burstable([(0, 0, 9 * HOUR), (1, 0, 2 * HOUR)], first=0.5, profile=light)
    assert spent(result) == pytest.approx(1.0, abs=1 / HOUR)


def test_logons_crawl_on_a_host_without_credits():
    """Two logons that want 2 vCPU each share 1: a quarter of the speed, 160 s for 40 s of work."""
    logons = varied(PROFILE, logon_seconds=40.0, logon_vcpu=2.0)
    result = burstable([(0, 0, HOUR), (1, 0, HOUR)], profile=logons)
    assert [wait for _, wait in outcomes(result)] == [160, 160]


def test_credits_that_end_in_the_middle_of_a_logon_slow_the_rest_of_it():
    """2 vCPU wanted, 1 earned: 10 vCPU-seconds last 10 s; the other 30 s of work take 60."""
    logon = varied(PROFILE, logon_seconds=40.0, logon_vcpu=2.0)
    result = burstable([(0, 0, HOUR)], first=10 / HOUR, profile=logon)
    assert outcomes(result) == [(k.OUT_CONNECTED, 70)]


def test_a_stop_loses_the_balance():
    """Off from 6 to 12 (nobody there): what was earned before is gone, one hour's is there."""
    size = replace(SIZE, vcpu=4.0, burst=Burst(0.25, 0.0, 24.0))
    over = pool(standing=1, session_limit=4, start_mean_seconds=0.0, stop_seconds=0)
    rules = schedule(
        band(floor=1, release="keep all"),
        band(floor=0, start=6 * HOUR, release="when empty"),
        band(floor=1, start=12 * HOUR, release="keep all"),
    )
    result = go(
        simple([(0, 13 * HOUR, 16 * HOUR)]),
        over=over,
        rules=rules,
        size=size,
        profile=WORK,
        seconds=24 * HOUR,
    )
    assert spent(result) == pytest.approx(2.0, abs=0.01)
