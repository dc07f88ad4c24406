"""Demand against closed forms and numeric integrals, through clock changes too.

The integrals are written out here with zoneinfo alone, apart from the code that draws.
"""

from datetime import UTC, date, datetime, timedelta
from math import sqrt
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from scipy.stats import lognorm, norm

from idle_harbor.core.calendar.clock import horizon_for
from idle_harbor.core.demand.crowd import crowd_horizon, crowd_of
from idle_harbor.core.demand.spells import demand_of, pool_spells
from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.engine.run import run
from idle_harbor.core.engine.setting import Setting
from tests.builders import PROFILE, SIZE, band, pool, schedule
from tests.core.people import DAYS, group, pattern, plan_with

SIGMAS = 4.0
SEEDS = 14
SPRING, AUTUMN = date(2027, 3, 28), date(2027, 10, 31)
DUBLIN = "Europe/Dublin"


def concurrency(plan, first: date, days: int, hosts: int = 60) -> np.ndarray:
    """Mean sessions of each five minutes, one row per seed, with ample hosts."""
    horizon = horizon_for(DUBLIN, first, days, 1)
    over = pool(standing=hosts, session_limit=20, time_zone=DUBLIN)
    setting = Setting(over, schedule(band(floor=hosts)), SIZE, (PROFILE,))
    rows = []
    for seed in range(1, SEEDS + 1):
        spells = pool_spells(demand_of(plan, "main"), horizon, seed)
        rows.append(run(setting, horizon, spells, seed).counted_bins()[:, k.L_ALL] / 300)
    return np.array(rows)


def agrees(found: np.ndarray, theory: np.ndarray, width: int) -> None:
    """Means over ``width`` bins lie within four standard errors of theory, bin by bin."""
    count = found.shape[1] // width * width
    means = found[:, :count].reshape(SEEDS, -1, width).mean(axis=2)
    wanted = theory[:count].reshape(-1, width).mean(axis=1)
    error = means.std(axis=0, ddof=1) / sqrt(SEEDS)
    assert (np.abs(means.mean(axis=0) - wanted) < SIGMAS * error + 0.05).all()


@pytest.mark.parametrize(("day", "hours"), [(SPRING, 23), (AUTUMN, 25)])
@pytest.mark.parametrize("kind", ["lognormal", "fixed"])
def test_drop_ins_are_m_of_t_through_a_clock_change(day, hours, kind):
    """m(t) = ∫ λ(u) P(S > t − u) du (Eick, Massey and Whitt 1993, eq. 2), λ by the wall clock."""
    rates = [60.0, 240.0, 30.0, 90.0] + [45.0] * 20
    demand = {
        "kind": "drop-in",
        "arrivals_per_hour": dict.fromkeys(DAYS, rates),
        "session": {"kind": kind, "mean_minutes": 40, "cv": 0.6},
    }
    whole = {"id": "g", "site": "here", "profile": "office", "demand": demand}
    found = concurrency(plan_with(whole), day, 1)
    assert found.shape[1] == hours * 12

    midnight = datetime(day.year, day.month, day.day, tzinfo=ZoneInfo(DUBLIN)).astimezone(UTC)
    minutes = [midnight + timedelta(minutes=m) for m in range(-1440, hours * 60)]
    per_minute = np.array([rates[m.astimezone(ZoneInfo(DUBLIN)).hour] / 60 for m in minutes])
    age = np.arange(1440) + 0.5
    sigma = sqrt(np.log1p(0.36))
    if kind == "lognormal":
        stays = lognorm.sf(age, sigma, scale=40 * np.exp(-sigma * sigma / 2))
    else:
        stays = (age < 40).astype(float)
    m = np.convolve(per_minute, stays)[1440 : 1440 + hours * 60]
    agrees(found, m.reshape(-1, 5).mean(axis=1), 3)


@pytest.mark.parametrize("day", [SPRING, AUTUMN])
def test_headcount_is_its_integral_through_a_clock_change(day):
    """P(present at t) = ∫ f(start) P(length > t − start): skipped starts wait for the gap's end."""
    people, sd = 400, 35
    night = pattern(
        begin="01:40",
        attendance=dict.fromkeys(DAYS, 0.8),
        start={"kind": "normal", "mean": "01:40", "sd_minutes": sd},
        length={"kind": "normal", "mean_minutes": 150, "sd_minutes": 25},
    )
    found = concurrency(plan_with(group(people=people, patterns=[night])), day, 1)

    # Every wall minute as the instant it first names, or the end of the gap it falls in.
    grid = np.linspace(-3, 3, 2001)
    weight = norm.pdf(grid) / norm.pdf(grid).sum()
    zone = ZoneInfo(DUBLIN)
    midnight = datetime(day.year, day.month, day.day, tzinfo=zone).timestamp()
    starts = []
    for step in grid:
        wall = datetime(day.year, day.month, day.day) + timedelta(minutes=100 + sd * step)
        aware = wall.replace(tzinfo=zone, fold=0)
        back = aware.astimezone(UTC).astimezone(zone).replace(tzinfo=None)
        instant = aware.timestamp()
        if back != wall:  # skipped: clocks jump from 01:00 to 02:00 that morning
            instant = datetime(day.year, day.month, day.day, 1, tzinfo=UTC).timestamp()
        starts.append((instant - midnight) / 60)
    times = np.arange(found.shape[1]) * 5 + 2.5
    away = times[:, None] - np.array(starts)[None, :]
    present = (weight * (away >= 0) * norm.sf(away, 150, 25)).sum(axis=1)
    agrees(found, people * 0.8 * present, 2)


def test_the_peak_of_many_independent_people_is_binomial():
    """All who come are there at once at noon: a binomial, whose mean and variance are known."""
    plan = plan_with(group(people=300, patterns=[pattern(attendance={"mon": 0.6})]))
    days = crowd_horizon(DUBLIN, date(2027, 1, 4), 1)
    peaks = np.array([crowd_of(plan, days, seed).peak().people for seed in range(1, 401)])
    assert abs(peaks.mean() - 180) < SIGMAS * sqrt(300 * 0.24 / 400)
    # The variance of 400 sample variances of a near-normal: σ² √(2 / 399).
    assert abs(peaks.var(ddof=1) - 72) < SIGMAS * 72 * sqrt(2 / 399)


@pytest.mark.parametrize("day", [SPRING, AUTUMN, date(2027, 6, 7)])
@pytest.mark.parametrize("minutes", [-240, -90, -10, 480, 90])
def test_a_shift_of_visits_is_on_the_wall_clock_as_that_of_people_is(day, minutes):
    """Visits of one hour, and people who start about its middle, both moved by an event.

    On a day of 23 or 25 hours a shift in elapsed time would put the visits an hour beside.
    """
    hour = 4
    rates = {d: [3_000.0 if h == hour else 0.0 for h in range(24)] for d in DAYS}
    session = {"kind": "fixed", "mean_minutes": 1}
    demand = {"kind": "drop-in", "arrivals_per_hour": rates, "session": session}
    visits = {"id": "counter", "site": "here", "profile": "office", "demand": demand}
    event = {
        "id": "moved",
        "groups": [],
        "shift_minutes": minutes,
        "when": {"kind": "dates", "from": str(day), "to": str(day)},
    }
    plan = plan_with(
        visits, group(people=1, patterns=[pattern(begin=f"0{hour}:00")]), events=[event]
    )
    horizon = horizon_for(DUBLIN, day - timedelta(days=1), 3, 0)
    found = pool_spells(demand_of(plan, "main"), horizon, 1)
    zone = ZoneInfo(DUBLIN)

    def walls(spells):
        return [datetime.fromtimestamp(int(s) + horizon.start, zone) for s in spells.start]

    moved = datetime(day.year, day.month, day.day, hour) + timedelta(minutes=minutes)
    came = [wall.replace(tzinfo=None) for wall in walls(found)]
    inside = [moved <= wall < moved + timedelta(hours=1) for wall in came]
    others = [day - timedelta(days=1), day + timedelta(days=1)]
    usual = [wall.date() in others and wall.hour == hour for wall in came]
    # The person is a spell too, and is where their own start has been moved to.
    assert sum(inside) > 2_500
    assert all(a or b for a, b in zip(inside, usual, strict=True))
    assert moved in came or min(abs((wall - moved).total_seconds()) for wall in came) < 30
