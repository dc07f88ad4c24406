"""Days that vary together, against the closed mean and variance of who comes and when."""

from datetime import date
from math import sqrt

import numpy as np
import pytest
from scipy.stats import binom

from idle_harbor.core.calendar.clock import horizon_for
from idle_harbor.core.demand.crowd import weeks_over
from idle_harbor.core.demand.draws import lognormals
from idle_harbor.core.demand.spells import demand_of, pool_spells
from idle_harbor.core.figures.intervals import percentile
from idle_harbor.formats.plan.codec import plan_of
from tests.core.people import DAYS, group, pattern
from tests.core.plans import document

PEOPLE, CHANCE, WEEKS = 400, 0.6, 60
HORIZON = horizon_for("UTC", date(2027, 3, 1), 7, 0)


def steady(**changes):
    """A pattern at 09:00 sharp for eight hours, every day of the week alike."""
    return pattern(**{"attendance": dict.fromkeys(DAYS, CHANCE), **changes})


def plan(together, sites=1):
    """A group of 400 at each site, all in one pool."""
    names = [f"site-{k}" for k in range(sites)]
    return plan_of(
        document(
            sites=[{"id": name, "time_zone": "UTC", "together": together} for name in names],
            groups=[{**group(f"at-{name}", PEOPLE, [steady()]), "site": name} for name in names],
            access=[{"group": f"at-{name}", "pool": "main"} for name in names],
        )
    )


def days_of(whole, groups=1):
    """Who came on each of many days, and when on average, by group: shapes (days, groups)."""
    came, starts = [], []
    for seed in range(1, WEEKS + 1):
        spells = pool_spells(demand_of(whole, "main"), HORIZON, seed)
        day = (spells.start + 6 * 3600) // 86_400
        for number in range(7):
            here = [(day == number) & (spells.group == k) for k in range(groups)]
            came.append([int(some.sum()) for some in here])
            starts.append([float(np.mean(spells.start[some] % 86_400)) for some in here])
    return np.array(came), np.array(starts)


@pytest.mark.parametrize("cv", [0.0, 0.05, 0.15])
def test_mean_and_variance_of_who_comes(cv):
    """n = 420 days: the mean within four standard errors, the variance within four of its own
    (a share of √(2 / n) of it)."""
    came, _ = days_of(plan({"attendance_cv": cv}))
    mean = PEOPLE * CHANCE
    spread = PEOPLE**2 * CHANCE**2 * cv**2
    variance = mean - PEOPLE * CHANCE**2 * (1 + cv**2) + spread
    days = len(came)
    assert abs(came.mean() - mean) < 4 * sqrt(variance / days)
    assert abs(came.var(ddof=1) / variance - 1) < 4 * sqrt(2 / days)
    # Of independent people it would be so much less.
    assert variance / (mean * (1 - CHANCE)) == pytest.approx(
        {0.0: 1.0, 0.05: 2.5, 0.15: 14.5}[cv], rel=0.02
    )


def peak_at(share, cv):
    """The week's peak that so many weeks stay at or below: seven independent days, each binomial
    given its factor, the factor over 4,000 equal parts of its lognormal."""
    u = (np.arange(4_000) + 0.5) / 4_000
    chances = np.minimum(CHANCE * lognormals(u, 1.0, cv), 1.0)
    numbers = np.arange(PEOPLE + 1)
    below = binom.cdf(numbers[:, None], PEOPLE, chances[None, :]).mean(axis=1) ** 7
    return int(numbers[np.searchsorted(below, share)])


@pytest.mark.parametrize(("cv", "expected"), [(0.0, 264), (0.05, 278)])
def test_the_peak_of_19_of_20_weeks_moves_as_it_should(cv, expected):
    """By how much independent people understate it, from the closed form: 264 to 278 of 400."""
    whole = plan({"attendance_cv": cv})
    assert peak_at(0.95, cv) == expected
    found = percentile(weeks_over(whole, HORIZON, range(1, 301)).peaks, 0.95)
    assert found.low <= expected <= found.high


def test_starts_move_together():
    """All start at one second: on every day the same for all, with the given spread over days."""
    _, starts = days_of(plan({"shift_sd_minutes": 20}))
    spread = 60 * 20
    assert abs(starts.mean() - 9 * 3600) < 4 * spread / sqrt(len(starts))
    # Cut at three standard deviations, a normal has 0.9973 of its own.
    assert abs(starts.std(ddof=1) / (0.9973**0.5 * spread) - 1) < 4 * sqrt(1 / (2 * len(starts)))
    spells = pool_spells(demand_of(plan({"shift_sd_minutes": 20}), "main"), HORIZON, 1)
    assert len(set((spells.start // 86_400 * 100_000 + spells.start).tolist())) == 7


def test_sites_know_nothing_of_each_other_and_groups_of_a_site_are_one():
    came, _ = days_of(plan({"attendance_cv": 0.15}, sites=2), groups=2)
    apart = np.corrcoef(came.T)[0, 1]
    assert abs(apart) < 4 / sqrt(len(came))
    whole = document(
        sites=[{"id": "here", "time_zone": "UTC", "together": {"attendance_cv": 0.15}}],
        groups=[group("a", PEOPLE, [steady()]), group("b", PEOPLE, [steady()])],
        access=[{"group": "a", "pool": "main"}, {"group": "b", "pool": "main"}],
    )
    came, _ = days_of(plan_of(whole), groups=2)
    # Correlation: common variance over all of it, 0.93 here.
    common = PEOPLE**2 * CHANCE**2 * 0.15**2
    own = PEOPLE * CHANCE - PEOPLE * CHANCE**2 * (1 + 0.15**2)
    together = np.corrcoef(came.T)[0, 1]
    assert together == pytest.approx(common / (common + own), abs=0.03)


def test_nobody_comes_twice_because_the_day_is_fine():
    """Everybody comes on a usual day: a good one brings nobody more, a bad one keeps some away."""
    certain = plan_of(
        document(
            sites=[{"id": "here", "time_zone": "UTC", "together": {"attendance_cv": 0.3}}],
            groups=[group("a", PEOPLE, [steady(attendance=dict.fromkeys(DAYS, 1.0))])],
            access=[{"group": "a", "pool": "main"}],
        )
    )
    came, _ = days_of(certain)
    assert came.max() == PEOPLE and came.min() < 0.8 * PEOPLE


def test_a_plan_without_it_draws_what_it_drew():
    """Streams of their own: a shift of no width changes nothing of who comes."""
    usual, moved = plan({}), plan({"shift_sd_minutes": 30})
    one = pool_spells(demand_of(usual, "main"), HORIZON, 3)
    other = pool_spells(demand_of(moved, "main"), HORIZON, 3)
    assert sorted(one.person.tolist()) == sorted(other.person.tolist())
