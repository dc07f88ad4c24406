"""Hand-worked cases for logons that share a host's CPU, for strain and for its integral."""

from dataclasses import replace

import pytest

from idle_harbor.core.engine.kernel import codes as k
from tests.builders import PROFILE, SIZE, go, outcomes, pool, simple, varied

ONE_HOST = pool(standing=1, session_limit=8)
LOGON = varied(PROFILE, cpu_mean=0.0, logon_seconds=20.0, logon_vcpu=1.0)


def sized(vcpu: float):
    return replace(SIZE, vcpu=vcpu)


def test_a_logon_alone_takes_its_time():
    result = go(simple([(0, 100, 900)]), over=ONE_HOST, size=sized(1), profile=LOGON)
    assert outcomes(result) == [(k.OUT_CONNECTED, 20)]
    assert result.total(k.L_LOGONS) == 20
    assert result.total(k.L_WORKING) == 780


def test_two_logons_on_one_cpu_take_twice_as_long():
    # Each wants 1 vCPU, the host has 1: both run at half speed and end after 40 s.
    result = go(simple([(0, 100, 900), (1, 100, 900)]), over=ONE_HOST, size=sized(1), profile=LOGON)
    assert outcomes(result) == [(k.OUT_CONNECTED, 40)] * 2
    assert set(result.results["cause"].tolist()) == {k.WaitCause.RUSH}


def test_a_logon_that_joins_slows_both():
    # A alone for 10 s does 10 of its 20 s of work. From 110 on both run at half speed: A needs
    # 20 s more (until 130), when B has done 10; B alone needs 10 s more: until 140.
    result = go(simple([(0, 100, 900), (1, 110, 900)]), over=ONE_HOST, size=sized(1), profile=LOGON)
    assert outcomes(result) == [(k.OUT_CONNECTED, 30), (k.OUT_CONNECTED, 30)]


def test_working_people_slow_a_logon():
    # The first person wants 1.5 vCPU of 2 when working; the logon's 1 makes 2.5: rate 0.8, 25 s.
    profile = varied(LOGON, cpu_mean=1.5)
    result = go(simple([(0, 0, 900), (1, 100, 900)]), over=ONE_HOST, size=sized(2), profile=profile)
    assert outcomes(result) == [(k.OUT_CONNECTED, 20), (k.OUT_CONNECTED, 25)]


def test_a_logon_ends_at_the_first_whole_second():
    # Three at once on 2 vCPU: rate 2/3, 20 / (2/3) = 30 s exactly; of 21 s: 31.5, so 32.
    profile = varied(LOGON, logon_seconds=21.0)
    rows = simple([(n, 100, 900) for n in range(3)])
    result = go(rows, over=ONE_HOST, size=sized(2), profile=profile)
    assert outcomes(result) == [(k.OUT_CONNECTED, 32)] * 3


def test_a_spell_that_ends_during_its_logon_is_refused_and_signed_off():
    result = go(simple([(0, 100, 115)]), over=ONE_HOST, size=sized(1), profile=LOGON)
    assert outcomes(result) == [(k.OUT_REFUSED, -1)]
    assert result.slot_seconds == 15
    assert result.total(k.L_LOGONS) == 15


def test_leaving_during_a_shared_logon_speeds_up_the_other():
    # Both from 100 at half speed; A leaves at 120 with 10 s done, B has 10 left: done at 130.
    result = go(simple([(0, 100, 120), (1, 100, 900)]), over=ONE_HOST, size=sized(1), profile=LOGON)
    assert outcomes(result) == [(k.OUT_REFUSED, -1), (k.OUT_CONNECTED, 30)]


def test_memory_beyond_the_limit_strains_everybody_on_the_host():
    # 32 GiB at 50 % = 16; base 4 and 5 each: two make 14, three make 19 > 16, from 300 to 500.
    profile = varied(
        PROFILE, memory_gib_active=5.0, memory_gib_idle=5.0, memory_gib_disconnected=5.0
    )
    rows = simple([(0, 100, 900), (1, 200, 500), (2, 300, 900)])
    result = go(rows, standing=1, session_limit=8, load_limit=0.5, base_gib=4.0, profile=profile)
    assert result.total(k.L_STRAINED) == 3 * 200


@pytest.mark.parametrize(("sessions", "strained"), [(5, 0), (6, 6 * 800)])
def test_cpu_strain_follows_the_normal_approximation(sessions, strained):
    # z(95 %) = 1.6449; n 0.5 + 1.6449 · 0.3 · √n against 0.85 · 5 = 4.25:
    # n = 5: 2.5 + 1.103 = 3.60; n = 6: 3 + 1.209 = 4.209; so with a base of 0.1: 4.309 > 4.25.
    profile = varied(PROFILE, cpu_mean=0.5, cpu_sd=0.3)
    rows = simple([(n, 100, 900) for n in range(sessions)])
    over = pool(standing=1, session_limit=8, load_limit=0.85, base_vcpu=0.1)
    result = go(rows, over=over, size=sized(5), profile=profile)
    assert result.total(k.L_STRAINED) == strained


def test_idle_sessions_draw_less_and_are_not_counted_as_strained():
    from tests.builders import spells

    # Two active want 2 of 1.8 allowed: strained 100–200. One walks away: 1 + 0.1 is fine.
    profile = varied(PROFILE, cpu_mean=1.0, cpu_idle=0.1)
    rows = spells([(0, 100, 200, k.WALK_AWAY), (1, 100, 500, k.SIGN_OFF)])
    result = go(rows, standing=1, session_limit=8, load_limit=0.9, size=sized(2), profile=profile)
    assert result.total(k.L_STRAINED) == 2 * 100
