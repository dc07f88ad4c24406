"""The closed form of how many sessions a host bears, against what the engine says of them."""

from dataclasses import replace
from decimal import Decimal
from math import sqrt

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.plan import Burst, Display, Mbit, Measured
from idle_harbor.core.sizing.density import UNBOUND, bearing_of, density_of, mix_of, used_share
from tests.builders import PROFILE, SIZE, band, go, pool, schedule, simple, varied
from tests.sizes import size

KEEP = schedule(band(floor=1, release="keep all"))


def strained(sessions, over, size, profile):
    """Whether so many sessions, all active, strain one host."""
    rows = simple([(person, 0, 5_000) for person in range(sessions)])
    over = varied(over, standing=1, session_limit=max(sessions, 1))
    result = go(rows, over=over, rules=KEEP, size=size, profile=profile, seconds=5_000)
    return result.total(k.L_STRAINED) > 0


profiles = st.builds(
    lambda mean, sd, memory, gpu, ops, mbit: varied(
        PROFILE,
        cpu_mean=mean,
        cpu_sd=sd,
        memory_gib_active=memory,
        gpu_gib=gpu,
        disk_ops=ops,
        display=Display(1, 1.0, mbit=Mbit(0.0, mbit, 0.0), busy_minute=2.0),
    ),
    st.floats(0.1, 2),
    st.floats(0, 1.5),
    st.floats(0.2, 6),
    st.sampled_from([0.0, 0.5, 2.5]),
    st.floats(0, 200),
    st.floats(0, 30),
)
sizes = st.builds(
    lambda vcpu, gib, ops, mbit: replace(
        SIZE, vcpu=vcpu, memory_gib=gib, gpu_gib=16.0, disk_ops=ops, network_mbit=mbit
    ),
    st.sampled_from([2.0, 4.0, 8.0, 16.0]),
    st.sampled_from([8.0, 32.0, 64.0]),
    st.sampled_from([None, 500.0, 3_000.0]),
    st.sampled_from([None, 100.0, 900.0]),
)


bursts = st.sampled_from([None, *(Burst(share, 0.0, 0.0) for share in (0.1, 0.6, 0.95, 1.0))])


@settings(max_examples=size(120, 720))
@given(profiles, sizes, bursts, st.floats(0.5, 1.0), st.floats(0.01, 0.4))
def test_one_session_more_than_the_density_strains_the_host(profile, size, burst, limit, tolerance):
    """All sessions active at once on a host that never has credits."""
    size = replace(size, burst=burst)
    over = pool(load_limit=limit, load_tolerance=tolerance, base_vcpu=0.2, base_gib=1.0)
    bearing = bearing_of(over)
    mix = mix_of([(profile, 1.0)])
    density = density_of(mix, size, bearing)
    if density.sessions:
        assert not strained(density.sessions, over, size, profile)
    assert strained(density.sessions + 1, over, size, profile)


hundredths = st.integers(1, 300).map(lambda n: n / 100)


@settings(max_examples=size(60, 360))
@given(
    st.sampled_from(["cpu", "memory", "gpu", "disk", "network"]),
    st.integers(1, 60),
    hundredths,
    st.sampled_from([0.5, 0.7, 0.8, 0.85, 0.9, 1.0]),
    hundredths,
    st.sampled_from([1.0, 0.4, 0.2]),
)
def test_exactly_at_the_bound_both_say_it_fits(resource, sessions, draw, limit, base, baseline):
    """base + n draws are limit × size, in decimal: n fit and n + 1 do not."""
    exact = Decimal(repr(draw)) * sessions
    has_base = resource in ("cpu", "memory")
    room = float((exact + (Decimal(repr(base)) if has_base else 0)) / Decimal(repr(limit)))
    assume(Decimal(repr(room)) * Decimal(repr(limit)) == exact + Decimal(repr(base)) * has_base)
    none = {"vcpu": 1e5, "memory_gib": 1e5, "gpu_gib": 1e5}
    field = {
        "cpu": "vcpu",
        "memory": "memory_gib",
        "gpu": "gpu_gib",
        "disk": "disk_ops",
        "network": "network_mbit",
    }[resource]
    drawn = {
        "cpu": {"cpu_mean": draw},
        "memory": {"memory_gib_active": draw},
        "gpu": {"gpu_gib": draw},
        "disk": {"disk_ops": draw},
        "network": {"display": Display(1, 1, mbit=Mbit(0, draw), busy_minute=1)},
    }
    size = varied(SIZE, **(none | {field: room}))
    profile = varied(PROFILE, **({"cpu_mean": 0.0} | drawn[resource]))
    over = pool(load_limit=limit, load_tolerance=0.05, base_vcpu=0.0, base_gib=0.0)
    if has_base:
        over = varied(over, **{"base_vcpu" if resource == "cpu" else "base_gib": base})
    # A burstable host with no credits is met by its baseline first: base + n draws are that.
    if resource == "cpu" and baseline < limit:
        whole = float((exact + Decimal(repr(base))) / Decimal(repr(baseline)))
        assume(Decimal(repr(whole)) * Decimal(repr(baseline)) == exact + Decimal(repr(base)))
        size = replace(size, vcpu=whole, burst=Burst(baseline, 0.0, 0.0))
    density = density_of(mix_of([(profile, 1.0)]), size, bearing_of(over))
    assert density.by_resource[resource] == sessions
    assert not strained(sessions, over, size, profile)
    assert strained(sessions + 1, over, size, profile)


def test_memory_exactly_at_its_bound_is_not_strained():
    """22 × 1.1 GiB + 3 GiB = 27.2 GiB = 0.85 × 32 GiB."""
    profile = varied(PROFILE, memory_gib_active=1.1)
    over = pool(load_limit=0.85, base_gib=3.0)
    assert density_of(mix_of([(profile, 1.0)]), SIZE, bearing_of(over)).by_resource["memory"] == 22
    assert not strained(22, over, SIZE, profile)
    assert strained(23, over, SIZE, profile)


def test_by_hand():
    """8 vCPU at 0.85 less 0.3: 6.5. Means 0.5, sd 0.3, z(5 %) 1.6449: 9 want 5.98, 10 want 6.56.

    Memory 32 × 0.85 − 3 = 24.2 at 2 each: 12. Disk 850 at 50 each: 17.
    """
    profile = varied(PROFILE, cpu_mean=0.5, cpu_sd=0.3, memory_gib_active=2.0, disk_ops=50.0)
    size = replace(SIZE, disk_ops=1_000.0)
    over = pool(load_limit=0.85, load_tolerance=0.05, base_vcpu=0.3, base_gib=3.0)
    density = density_of(mix_of([(profile, 1.0)]), size, bearing_of(over))
    assert density.by_resource == {"cpu": 9, "memory": 12, "gpu": None, "disk": 17, "network": None}
    assert (density.sessions, density.binding) == (9, "cpu")
    share = used_share(mix_of([(profile, 1.0)]), size, bearing_of(over), "cpu", np.array([9.0]))
    assert share[0] == pytest.approx((0.3 + 4.5 + 1.6448536 * 0.9) / 6.8)


def test_sessions_that_are_idle_draw_less():
    """Half of them active: 6.5 = n (0.25 + 0.05) + 1.6449 · 0.3 · √(n / 2) has n = 16.9."""
    profile = varied(PROFILE, cpu_mean=0.5, cpu_sd=0.3, cpu_idle=0.1)
    over = pool(load_limit=0.85, load_tolerance=0.05, base_vcpu=0.3)
    mix = mix_of([(profile, 1.0)])
    assert density_of(mix, SIZE, bearing_of(over, 0.5)).by_resource["cpu"] == 16


def test_a_mixs_variance_has_that_between_its_profiles():
    """Half at 0.2 ± 0.1 and half at 0.6 ± 0.3: mean 0.4, variance 0.05 + 0.04."""
    light = varied(PROFILE, cpu_mean=0.2, cpu_sd=0.1)
    heavy = varied(PROFILE, cpu_mean=0.6, cpu_sd=0.3)
    mix = mix_of([(light, 3.0), (heavy, 3.0)])
    assert mix.cpu == pytest.approx(0.4) and mix.variance == pytest.approx(0.09)


def test_the_mixs_variance_is_that_of_drawn_sessions():
    rng = np.random.Generator(np.random.Philox(3))
    parts = [(0.2, 0.1, 0.7), (0.9, 0.4, 0.3)]
    mix = mix_of([(varied(PROFILE, cpu_mean=m, cpu_sd=s), w) for m, s, w in parts])
    which = rng.random(200_000) < 0.7
    drawn = np.where(which, rng.normal(0.2, 0.1, 200_000), rng.normal(0.9, 0.4, 200_000))
    # The standard error of a variance of so many is about 0.0006.
    assert drawn.var() == pytest.approx(mix.variance, abs=0.003)


def test_how_sure_the_means_are_gives_a_range():
    measured = Measured(50, 0.02, 0.0, "x")
    profile = varied(PROFILE, cpu_mean=0.5, measured=measured)
    density = density_of(mix_of([(profile, 1.0)]), SIZE, bearing_of(pool()))
    # 8 / 0.5, 8 / 0.54 and 8 / 0.46.
    assert (density.sessions, density.low, density.high) == (16, 14, 17)


def test_a_burstable_size_bears_what_its_baseline_bears():
    size = replace(SIZE, burst=Burst(0.25, 0.0, 24.0))
    density = density_of(mix_of([(varied(PROFILE, cpu_mean=0.5), 1.0)]), size, bearing_of(pool()))
    assert (density.sessions, density.credits) == (4, 16)


@pytest.mark.parametrize(
    ("profile", "size", "base", "sessions", "binding"),
    [
        (varied(PROFILE, cpu_mean=0.0), SIZE, 0.0, UNBOUND, "cpu"),
        (varied(PROFILE, cpu_mean=9.0), SIZE, 0.0, 0, "cpu"),
        (replace(PROFILE, gpu_gib=1.0), SIZE, 0.0, 0, "gpu"),
        (PROFILE, SIZE, 9.0, 0, "cpu"),
        (varied(PROFILE, memory_gib_active=40.0), SIZE, 0.0, 0, "memory"),
    ],
    ids=["nothing drawn", "too much CPU", "no GPU", "the base alone", "too much memory"],
)
def test_edges(profile, size, base, sessions, binding):
    density = density_of(mix_of([(profile, 1.0)]), size, bearing_of(pool(base_vcpu=base)))
    assert (density.sessions, density.binding) == (sessions, binding)


def test_without_a_weight_there_is_no_mix():
    with pytest.raises(ValueError, match="add up to 0"):
        mix_of([(PROFILE, 0.0)])


def test_the_root_of_the_quadratic_is_right():
    for sd in (0.0, 0.2, 1.0):
        profile = varied(PROFILE, cpu_mean=0.37, cpu_sd=sd)
        over = pool(load_limit=0.9, base_vcpu=0.4)
        bearing = bearing_of(over)
        n = density_of(mix_of([(profile, 1.0)]), SIZE, bearing).by_resource["cpu"]

        def want(count, sd=sd, z=bearing.z):
            return 0.4 + 0.37 * count + z * sd * sqrt(count)

        assert want(n) <= 7.2 < want(n + 1)
