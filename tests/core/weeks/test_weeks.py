"""One case through weeks: seeds, threads, bounds, and the summary over seeds."""

from dataclasses import replace

import numpy as np
import pytest

from idle_harbor.core.base.stopping import in_threads
from idle_harbor.core.demand.crowd import MOST_SPELLS
from idle_harbor.core.errors import TooMuchError, UnknownNameError
from idle_harbor.core.weeks.case import case_of
from idle_harbor.core.weeks.summary import figures_of, simulate
from idle_harbor.core.weeks.week import week, weeks
from idle_harbor.formats.plan.codec import plan_of
from tests.core.plans import document, plan


def test_simulate_a_small_plan():
    """Against the runs themselves; t(3, 97.5 %) = 3.182446."""
    figures = simulate(plan(), "main", 4)
    results = weeks(case_of(plan(), "main"), range(1, 5))

    def told(estimate, values):
        assert estimate.mean == pytest.approx(np.mean(values))
        assert estimate.half_width == pytest.approx(3.182446 * np.std(values, ddof=1) / 2, rel=1e-6)

    told(figures.arrivals, [r.waits.arrivals for r in results])
    told(figures.wait_seconds.p95, [r.waits.p95 for r in results])
    told(figures.host_hours.ideal, [r.hours.ideal for r in results])
    told(figures.cost.interval, [float(r.month) for r in results])
    # Every spell of the counted week is a logon or a reconnect. 60 people, 90 % on five days: 270
    # days at work, a week's standard deviation 5.2.
    spells = [week(case_of(plan(), "main"), seed).run.spells for seed in range(1, 5)]
    counted = [each.start >= 86_400 for each in spells]
    asked = [int(some.sum()) for some in counted]
    assert figures.arrivals.mean + figures.reconnects.mean == np.mean(asked)
    days = [
        len(set(zip(each.person[some], each.start[some] // 86_400, strict=True)))
        for each, some in zip(spells, counted, strict=True)
    ]
    assert abs(np.mean(days) - 270) < 4 * 5.2 / 2
    hours = figures.host_hours
    parts = (
        hours.in_use,
        hours.lingering,
        hours.fragmentation,
        hours.readiness,
        hours.transit,
        hours.rounding,
    )
    assert sum(part.mean for part in parts) == pytest.approx(hours.billed.mean)
    assert 0.0 < hours.ideal.mean <= hours.billed.mean
    assert figures.cost.month == sum(line.amount for line in figures.cost.lines)
    # A month of the mean quantities is the mean of the months but for a cent's rounding a line.
    assert float(figures.cost.month) == pytest.approx(figures.cost.interval.mean, abs=0.02)


def test_bit_for_bit_on_any_number_of_threads():
    case = case_of(plan(), "main")
    together = in_threads(lambda seed: week(case, seed), range(1, 5))
    for result in together:
        alone = week(case, result.seed)
        assert np.array_equal(alone.run.results, result.run.results)
        assert np.array_equal(alone.run.bins, result.run.bins)
    assert [each.outcome() for each in together] == weeks(case, range(1, 5))


def test_a_policy_change_leaves_demand_as_it_was():
    slow = document()
    slow["pools"][0]["hosts"] = {"standing": 5}
    slow["pools"][0]["session_limit"] = 12
    one = week(case_of(plan(), "main"), 1).run.spells
    other = week(case_of(plan_of(slow), "main"), 1).run.spells
    for name in ("person", "start", "end", "leaving"):
        assert np.array_equal(getattr(one, name), getattr(other, name))


def test_adding_a_host_leaves_the_other_hosts_draws_as_they_were():
    from idle_harbor.core.demand.draws import host_seconds

    few = host_seconds(1, "host start", 4, 8, 240.0, 0.3)
    many = host_seconds(1, "host start", 8, 9, 240.0, 0.3)
    assert np.array_equal(few, many[:4, :8])


def test_seven_warm_days_where_sessions_may_linger():
    whole = document()
    whole["pools"][0]["disconnected_timeout"] = "never"
    assert case_of(plan_of(whole), "main").horizon.warm_days == 7
    assert case_of(plan(), "main").horizon.warm_days == 1


def test_unknown_pool_and_too_much_are_said():
    with pytest.raises(UnknownNameError, match=r"no pool called 'x'.*main"):
        simulate(plan(), "x")
    whole = document()
    whole["groups"][0]["demand"]["people"] = 100_000
    big = case_of(plan_of(whole), "main")
    with pytest.raises(TooMuchError, match=f"{MOST_SPELLS:,}"):
        weeks(big, range(1, 65))


def test_a_pool_nobody_uses_has_figures_all_the_same():
    figures = simulate(plan(access=[]), "main", 2)
    assert figures.arrivals.mean == 0
    assert figures.wait_seconds.p95.mean is None
    assert not figures.wait_seconds.p95.unbounded


def test_a_line_that_some_weeks_do_not_have_costs_nothing_in_them():
    """Two weeks of which one lacks a line: half of the other's on average, not all of it."""
    case = case_of(plan(), "main")
    one, two = weeks(case, [1, 2])
    figures = figures_of(case, [one, replace(two, ledger=two.ledger[1:])])
    line = figures.cost.lines[0]
    assert line.id == one.ledger[0].id
    assert line.interval.mean == float(one.ledger[0].amount) / 2 > 0.0
