"""Spells: common random numbers, patterns, breaks, drop-ins, zones."""

from dataclasses import replace
from datetime import date

import numpy as np
import pytest

from idle_harbor.core.calendar.clock import horizon_for, local_datetime, local_to_instant
from idle_harbor.core.demand.dropins import hourly_pieces
from idle_harbor.core.demand.spells import demand_of, pool_spells
from idle_harbor.core.engine.kernel.codes import DISCONNECT, SIGN_OFF, WALK_AWAY
from idle_harbor.core.plan import Headcount, Length, Start
from idle_harbor.formats.plan.codec import plan_of
from tests.core.plans import document, plan

WEEK = horizon_for("Europe/Dublin", date(2027, 3, 1), 7, 1)
SHARP = Start(mean=31_500, sd_minutes=0)


def demand(**pattern_changes):
    """The small plan's demand with fields of its one pattern replaced."""
    base = demand_of(plan(), "main").comers[0].group.demand
    assert isinstance(base, Headcount)
    return of_headcount(Headcount(60, (replace(base.patterns[0], **pattern_changes),)))


def of_headcount(headcount, **group_changes):
    """The small plan's demand with its one group's headcount replaced."""
    base = demand_of(plan(), "main")
    group = replace(base.comers[0].group, demand=headcount, **group_changes)
    return replace(base, comers=(replace(base.comers[0], group=group),))


def with_people(count):
    base = demand_of(plan(), "main").comers[0].group.demand
    return of_headcount(Headcount(count, base.patterns))


def test_same_seed_same_spells_other_seed_others():
    one, two = (pool_spells(demand(), WEEK, 1) for _ in range(2))
    assert np.array_equal(one.start, two.start) and np.array_equal(one.end, two.end)
    assert not np.array_equal(one.start, pool_spells(demand(), WEEK, 2).start)


def test_adding_people_leaves_everybody_else_as_they_were():
    few, many = pool_spells(with_people(60), WEEK, 1), pool_spells(with_people(61), WEEK, 1)
    kept = many.person < 60
    for name in ("person", "start", "end", "leaving"):
        assert np.array_equal(getattr(few, name), getattr(many, name)[kept])


def test_a_longer_day_leaves_every_start_as_it_was():
    usual = pool_spells(demand(breaks=()), WEEK, 1)
    longer = pool_spells(demand(breaks=(), length=Length(520, 30)), WEEK, 1)
    assert np.array_equal(usual.start, longer.start)
    assert (longer.end - usual.end == 25 * 60).all()


def test_starts_are_cut_at_three_standard_deviations_and_centred():
    given = pool_spells(demand(breaks=(), attendance=(1.0,) * 7), WEEK, 3)
    clocks = (given.start - 8.75 * 3600) % 86_400
    clocks = np.where(clocks > 43_200, clocks - 86_400, clocks)
    sd = 25 * 60
    assert np.abs(clocks).max() <= 3 * sd + 1
    # 480 draws: the mean's standard error is sd / √480 = 68 s; four of them.
    assert abs(clocks.mean()) < 4 * sd / np.sqrt(len(clocks))


def test_attendance_is_a_share_of_people_by_weekday():
    given = pool_spells(
        demand(breaks=(), attendance=(0.5, None, None, 0.0, None, None, 1.0)), WEEK, 1
    )
    days = np.bincount((given.start + WEEK.start - WEEK.start) // 86_400, minlength=8)
    # The warm-up day is a Sunday (all come), then Monday (half of 60: 30 ± 4 sd of 3.9).
    assert days[0] == days[7] == 60
    assert abs(days[1] - 30) < 16
    assert days[2:7].sum() == 0


def test_breaks_split_a_spell_in_two():
    usual = pool_spells(demand(breaks=()), WEEK, 1)
    base = demand_of(plan(), "main").comers[0].group.demand.patterns[0].breaks[0]
    always = pool_spells(demand(breaks=(replace(base, probability=1.0),)), WEEK, 1)
    assert len(always) == 2 * len(usual)
    first, second = always.start[always.person == 5][:2], always.end[always.person == 5][:2]
    assert second[0] < first[1]


def test_ways_of_leaving_follow_their_shares():
    given = pool_spells(demand(breaks=(), attendance=(1.0,) * 7), WEEK, 1)
    shares = np.bincount(given.leaving, minlength=3) / len(given)
    # 480 spells: standard errors of 0.022, 0.021 and 0.014.
    assert np.allclose(shares, [0.6, 0.3, 0.1], atol=4 * 0.022)
    only = replace(
        demand().comers[0].group.demand.patterns[0].leaving, sign_off=0, disconnect=1, walk_away=0
    )
    assert set(pool_spells(demand(breaks=(), leaving=only), WEEK, 1).leaving) == {DISCONNECT}
    assert {SIGN_OFF, WALK_AWAY} == {0, 2}


def test_nobody_stays_for_less_than_ten_minutes():
    given = pool_spells(demand(breaks=(), length=Length(10, 200)), WEEK, 1)
    inside = given.start > 0
    assert (given.end - given.start)[inside].min() == 600


def test_overlapping_days_of_one_person_are_one_spell():
    # 26 hours each day: every spell runs into the next one.
    long = demand(breaks=(), attendance=(1.0,) * 7, start=SHARP, length=Length(26 * 60, 0))
    given = pool_spells(long, WEEK, 1)
    assert len(given) == 60
    assert (given.start == 0).all()


def test_a_clock_change_moves_the_rush_in_utc_and_not_on_the_wall():
    week = horizon_for("Europe/Dublin", date(2027, 3, 22), 8, 1)
    given = pool_spells(demand(breaks=(), attendance=(1.0,) * 7, start=SHARP), week, 1)
    walls = {
        local_datetime("Europe/Dublin", s + week.start).strftime("%H:%M")
        for s in given.start.tolist()
    }
    assert walls == {"08:45"}
    assert len({s % 86_400 for s in given.start.tolist()}) == 2


@pytest.mark.parametrize(
    ("day", "pieces", "doubled"), [(date(2027, 3, 28), 23, 0), (date(2027, 10, 31), 25, 2)]
)
def test_hourly_rates_repeat_in_a_doubled_hour(day, pieces, doubled):
    cuts, hours = hourly_pieces("Europe/Dublin", day)
    assert (cuts[-1] - cuts[0]) // 3600 == pieces
    assert np.sum(hours == 1) / 4 == doubled


def drop_in(kind, cv=1.0, rate=30.0):
    hours = {day: [rate] * 24 for day in ("mon", "tue", "wed", "thu", "fri", "sat", "sun")}
    session = {"kind": kind, "mean_minutes": 30, "cv": cv}
    demand = {"kind": "drop-in", "arrivals_per_hour": hours, "session": session}
    group = {"id": "counter", "site": "here", "profile": "office", "demand": demand}
    whole = document(groups=[group], access=[{"group": "counter", "pool": "main"}])
    return demand_of(plan_of(whole), "main")


@pytest.mark.parametrize(("kind", "cv"), [("exponential", 1.0), ("lognormal", 0.5), ("fixed", 0.0)])
def test_drop_ins_are_poisson_with_sessions_of_the_stated_mean(kind, cv):
    given = pool_spells(drop_in(kind, cv), WEEK, 1)
    expected = 30 * 24 * 8
    assert abs(len(given) - expected) < 4 * np.sqrt(expected)
    gaps = np.diff(given.start)
    assert abs(gaps.std() / gaps.mean() - 1) < 0.06
    lengths = given.end
    assert abs(lengths.mean() - 1800) < 4 * max(cv, 0.001) * 1800 / np.sqrt(len(given)) + 1
    assert abs(lengths.std() / lengths.mean() - cv) < 0.08
    assert given.from_connection.all() and set(given.leaving) == {SIGN_OFF}


def test_expected_spells_are_what_comes_on_average():
    given = [len(pool_spells(demand_of(plan(), "main"), WEEK, seed)) for seed in range(1, 9)]
    expected = demand_of(plan(), "main").expected_spells(WEEK)
    assert abs(np.mean(given) - expected) < 0.03 * expected


def test_spells_of_another_continent_are_on_their_own_clock():
    """The same people with the same draws: to the second the same clock times on each day."""

    def clock_times(zone: str) -> list[tuple[int, int]]:
        whole = document(sites=[{"id": "here", "time_zone": zone}])
        given = pool_spells(demand_of(plan_of(whole), "main"), WEEK, 1)
        found = []
        for number in range(1, 5):  # the week may hold less of its first and its last day
            day = date(2027, 3, 1 + number)
            begin, end = (local_to_instant(zone, day, hour * 3600) for hour in (4, 23))
            starts = given.start + WEEK.start
            inside = (starts >= begin) & (starts < end)
            found += [(number, int(start) - begin) for start in starts[inside]]
        return found

    at_home = clock_times("Europe/Dublin")
    assert len(at_home) > 250
    assert clock_times("America/Halifax") == at_home
