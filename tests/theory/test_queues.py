"""The engine against queueing theory; tolerances come from standard errors over replications.

Sessions last 1,800 s and more on average, so that whole seconds do not matter; logons take none.
"""

from dataclasses import replace
from math import exp, factorial, sqrt

import numpy as np
import pytest
from scipy.stats import norm

from idle_harbor.core.demand.spells import Spells, sorted_spells
from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.engine.run import Run, run
from idle_harbor.core.engine.setting import Setting
from tests.builders import PROFILE, SIZE, band, horizon, pool, schedule

DAY = 86_400
MEAN = 1800.0
#: Four standard errors: a true result fails about once in 16,000 assertions.
SIGMAS = 4.0


def erlang_b(load: float, slots: int) -> float:
    """Blocking of M/G/c/c: Erlang (1917), by the recursion B = aB / (n + aB)."""
    blocking = 1.0
    for n in range(1, slots + 1):
        blocking = load * blocking / (n + load * blocking)
    return blocking


def erlang_c(load: float, slots: int) -> float:
    """Probability of waiting in M/M/c (Erlang 1917)."""
    blocking = erlang_b(load, slots)
    return blocking / (1.0 - load / slots * (1.0 - blocking))


def lengths(kind: str, rng: np.random.Generator, count: int) -> np.ndarray:
    if kind == "exponential":
        return rng.exponential(MEAN, count)
    if kind == "lognormal":
        variance = np.log1p(1.5**2)
        return rng.lognormal(np.log(MEAN) - variance / 2, np.sqrt(variance), count)
    return np.full(count, MEAN)


def drop_ins(load: float, days: int, kind: str, seed: int) -> Spells:
    """Poisson arrivals at ``load`` erlang over whole days."""
    rng = np.random.default_rng([seed, 77])
    count = rng.poisson(load / MEAN * days * DAY)
    starts = np.sort(rng.uniform(0, days * DAY, count)).astype(np.int64)
    ends = np.maximum(np.rint(lengths(kind, rng, count)), 1).astype(np.int64)
    nothing = np.zeros(count, dtype=np.int64)
    return sorted_spells(
        np.arange(count), starts, ends, nothing + 1, nothing, nothing, nothing, people=count
    )


def fixed_hosts(hosts: int, limit: int, patience: int | None, spells: Spells, days: int) -> Run:
    over = pool(standing=hosts, session_limit=limit, patience_seconds=patience)
    rules = schedule(band(floor=hosts), tick=3600)
    setting = Setting(over, rules, SIZE, (PROFILE,))
    return run(setting, horizon(days * DAY), spells, 1)


@pytest.mark.parametrize("kind", ["exponential", "lognormal", "fixed"])
@pytest.mark.parametrize(("load", "hosts", "limit"), [(90, 10, 10), (16, 4, 5), (3, 1, 4)])
def test_blocking_is_erlang_b_whatever_the_session_length(kind, load, hosts, limit):
    replications = 12
    days = max(round(12_000 * MEAN / load / DAY), 2)
    shares = []
    for seed in range(replications):
        spells = drop_ins(load, days, kind, seed)
        result = fixed_hosts(hosts, limit, 0, spells, days)
        settled = spells.start > 20 * MEAN
        shares.append(float((result.results["outcome"][settled] == k.OUT_REFUSED).mean()))
    error = np.std(shares, ddof=1) / sqrt(replications)
    assert abs(np.mean(shares) - erlang_b(load, hosts * limit)) < SIGMAS * error


@pytest.mark.parametrize(("load", "hosts", "limit"), [(17, 4, 5), (8, 1, 10)])
def test_queueing_time_is_erlang_c(load, hosts, limit):
    replications, days = 12, 120
    slots = hosts * limit
    means, shares = [], []
    for seed in range(replications):
        spells = drop_ins(load, days, "exponential", seed)
        result = fixed_hosts(hosts, limit, None, spells, days)
        settled = (spells.start > 5 * DAY) & (result.results["outcome"] == k.OUT_CONNECTED)
        waits = result.results["queued"][settled]
        means.append(float(waits.mean()))
        shares.append(float((waits > 0).mean()))
    waiting = erlang_c(load, slots)
    for values, theory in ((shares, waiting), (means, waiting * MEAN / (slots - load))):
        error = np.std(values, ddof=1) / sqrt(replications)
        # Waits are cut to whole seconds and those under a second count as none.
        slack = 0.5 if theory > 1 else 1.0 / MEAN * slots * waiting
        assert abs(np.mean(values) - theory) < SIGMAS * error + slack


def test_mean_concurrency_with_time_varying_arrivals_is_m_of_t():
    """m(t) = ∫ λ(u) P(S > t − u) du (Eick, Massey and Whitt 1993, eq. 2), exponential sessions."""
    from datetime import date

    from idle_harbor.core.calendar.clock import horizon_for
    from idle_harbor.core.demand.spells import demand_of, pool_spells
    from idle_harbor.formats.plan.codec import checked, read_plan
    from tests.core.plans import document

    rates = [5.0] * 7 + [40.0, 160.0, 240.0, 180.0, 120.0, 60.0] + [30.0] * 11
    days = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
    session = {"kind": "exponential", "mean_minutes": 30}
    arrivals = {"kind": "drop-in", "arrivals_per_hour": dict.fromkeys(days, rates)}
    group = {"id": "g", "site": "here", "profile": "office"}
    group["demand"] = arrivals | {"session": session}
    demand = demand_of(
        checked(read_plan(document(groups=[group], access=[{"group": "g", "pool": "main"}]))),
        "main",
    )
    week = horizon_for("UTC", date(2027, 1, 4), 7, 1)
    over = pool(standing=40, session_limit=10)
    setting = Setting(over, schedule(band(floor=40)), SIZE, (PROFILE,))
    profiles = []
    for seed in range(1, 13):
        result = run(setting, week, pool_spells(demand, week, seed), seed)
        profiles.append(result.counted_bins()[:, k.L_ALL].reshape(7, 288).mean(axis=0) / 300)
    hourly = np.array(profiles).reshape(12, 24, 12).mean(axis=2)
    # Integrate dm/dt = λ(t) − m / 1,800 over two days of minutes, then average by hour.
    m, track = 0.0, []
    for minute in range(2 * 1440):
        rate = rates[minute // 60 % 24] / 3600
        steady = rate * MEAN
        decay = exp(-60 / MEAN)
        track.append(steady + (m - steady) * (1 - decay) * MEAN / 60)
        m = steady + (m - steady) * decay
    theory = np.array(track[1440:]).reshape(24, 60).mean(axis=1)
    error = hourly.std(axis=0, ddof=1) / sqrt(12)
    assert (np.abs(hourly.mean(axis=0) - theory) < SIGMAS * error + 0.02).all()


def test_headcount_concurrency_is_its_integral():
    """P(at work at t) = ∫ f(start = u) P(length > t − u) du, starts cut at three deviations."""
    from datetime import date

    from idle_harbor.core.calendar.clock import horizon_for
    from idle_harbor.core.demand.spells import pool_spells
    from tests.core.demand.test_demand import demand

    given = demand(breaks=(), attendance=(0.9,) * 7)
    week = horizon_for("Europe/Dublin", date(2027, 1, 4), 7, 1)
    over = pool(standing=20, session_limit=10)
    setting = Setting(over, schedule(band(floor=20)), SIZE, (PROFILE,))
    counts = []
    for seed in range(1, 13):
        spells = pool_spells(given, week, seed)
        gone = replace(spells, leaving=np.zeros_like(spells.leaving))
        bins = run(setting, week, gone, seed).counted_bins()
        counts.append(bins[:, k.L_ALL].reshape(7, 288).mean(axis=0) / 300)
    starts = np.linspace(-3, 3, 4001)
    weights = norm.pdf(starts)
    weights /= weights.sum()
    clock = 8.75 * 60 + 25 * starts
    times = np.arange(288) * 5 + 2.5
    stays = norm.sf((times[:, None] - clock[None, :] - 495) / 30)
    here = (times[:, None] >= clock[None, :]) * stays
    theory = 60 * 0.9 * (here * weights).sum(axis=1)
    error = np.std(counts, axis=0, ddof=1) / sqrt(12)
    # The bin's mean is taken at its middle: a bin of five minutes bends by less than 0.1 person.
    assert (np.abs(np.mean(counts, axis=0) - theory) < SIGMAS * error + 0.1).all()


@pytest.mark.parametrize("kind", ["exponential", "fixed"])
def test_little_is_an_identity_over_a_drained_horizon(kind):
    """Time-average sessions × time = sum of slot times, once everybody has left (Little 1961)."""
    spells = drop_ins(12, 3, kind, 5)
    result = fixed_hosts(3, 5, 600, spells, 9)
    assert result.total(k.L_ALL) == result.slot_seconds
    connected = int((result.results["outcome"] == k.OUT_CONNECTED).sum())
    assert result.ended_sessions == connected
    rate, mean_slot = connected / (9 * DAY), result.slot_seconds / connected
    assert result.total(k.L_ALL) / (9 * DAY) == pytest.approx(rate * mean_slot)


def test_the_yardsticks_themselves():
    # Erlang B by its sum for a small case: (a^c / c!) / Σ a^n / n!.
    total = sum(3.0**n / factorial(n) for n in range(5))
    assert erlang_b(3, 4) == pytest.approx(3.0**4 / factorial(4) / total)
    assert erlang_b(90, 100) == pytest.approx(0.02696, abs=5e-6)
