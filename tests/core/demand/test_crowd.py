"""Presence: bins, peaks and who makes them, hours of the year, pictures of patterns."""

from dataclasses import replace
from datetime import date

import numpy as np
import pytest

from idle_harbor.core.base.stopping import while_wanted
from idle_harbor.core.demand import crowd as crowd_module
from idle_harbor.core.demand.crowd import (
    affordable_seeds,
    crowd_horizon,
    crowd_of,
    day_slices,
    hourly,
    hours_of,
    presence_of,
    stretches_of,
    weeks_over,
)
from idle_harbor.core.demand.pattern_picture import pattern_picture
from idle_harbor.core.errors import NotWantedError, TooMuchError
from idle_harbor.core.figures.intervals import binomial_ranks, percentile
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import plan_of
from tests.core.people import DAYS, LEAVES, drop_in, group, over, pattern, plan_with

UTC = [{"id": "here", "time_zone": "UTC"}]
MONDAY = date(2027, 1, 4)


def crowd(*groups, days=1, zone="UTC", first=MONDAY, **more):
    return crowd_of(
        plan_with(*groups, sites=more.pop("sites", UTC), **more),
        crowd_horizon(zone, first, days),
        1,
    )


def test_presence_by_hand():
    """Three people: 0–600, 300–900 and 450–450+1; bins of 300 seconds."""
    horizon = replace(crowd_horizon("UTC", MONDAY, 1), start=0, counted=0, end=1200)
    found = presence_of(
        np.array([0, 300, 450], np.int32), np.array([451, 600, 900], np.int32), horizon
    )
    # 0–300: one. 300–450 two, 450–451 three, 451–600 two. 600–900 one.
    assert found.mean[0] == 1.0
    assert found.mean[1] == (150 * 2 + 1 * 3 + 149 * 2) / 300
    assert found.mean[2] == 1.0 and found.mean[3] == 0.0
    assert found.highest.tolist() == [1, 3, 1, 0]
    assert found.arrivals.tolist() == [1, 2, 0, 0]
    assert [found.at(t) for t in (0, 299, 300, 450, 451, 600, 899, 900)] == [1, 1, 2, 3, 2, 1, 1, 0]


def test_those_who_leave_at_a_second_are_gone_before_others_come():
    found = crowd(group("a", 10), group("b", 10, [pattern(begin="17:00")]))
    assert found.peak().people == 10


def test_the_peak_says_when_and_who():
    found = crowd(group("a", 10), group("b", 7, [pattern(begin="11:30")]))
    peak = found.peak()
    assert peak.people == 17 and peak.makers == {"a": 10, "b": 7}
    assert peak.instant - found.horizon.counted == 11 * 3600 + 1800


def test_a_visit_under_way_when_the_days_begin_is_there():
    found = crowd(drop_in(rate=3600.0))
    # 3,600 visits an hour of half an hour each: 1,800 present, deviation 42.
    assert abs(found.whole.mean[0] - 1800) < 4 * 42


def test_nobody_at_all():
    found = crowd(group("a", 0))
    assert found.peak().people == 0 and found.peak().makers == {}
    assert not found.whole.highest.any()


@pytest.mark.parametrize(("day", "bins", "hour", "value"), [
    (date(2027, 3, 28), 276, 1, None), (date(2027, 10, 31), 300, 1, 5.0), (MONDAY, 288, 1, 5.0),
])  # fmt: skip
def test_hours_of_clock_change_days(day, bins, hour, value):
    night = group("a", 5, [pattern(begin="22:00")])
    found = crowd(
        night, first=day, zone="Europe/Dublin", sites=[{"id": "here", "time_zone": "Europe/Dublin"}]
    )
    assert [(b - a) for _, a, b in day_slices(found.horizon)] == [bins]
    table = hourly(found, found.whole.highest)
    assert table.shape == (1, 24)
    assert np.isnan(table[0, hour]) if value is None else table[0, hour] == value
    assert table[0, 12] == 0.0 and table[0, 23] == 5.0


def test_percentiles_and_their_ranks():
    values = list(range(1, 101))
    found = percentile(values, 0.95)
    # Binomial with 100 draws of 0.95: 89 or fewer 1.1 %, 90 or fewer 2.8 %; all 100 0.6 %, 99 or
    # more 3.7 %. So the 90th and the 100th value bound the percentile with 95 %.
    assert (found.value, found.low, found.high) == (95, 90, 100)
    assert binomial_ranks(1, 0.95) == (1, 1)
    assert binomial_ranks(40, 0.95)[1] == 40


def test_peak_percentiles_hold_against_a_thousand_seeds():
    """The interval from 60 seeds covers the percentile that 1,000 other seeds give."""
    spread = {"kind": "normal", "mean": "09:00", "sd_minutes": 60}
    plan = plan_with(group("a", 60, [pattern(start=spread, attendance={"mon": 0.7})]), sites=UTC)
    days = crowd_horizon("UTC", MONDAY, 1)
    many = weeks_over(plan, days, range(1001, 2001)).peaks
    few = percentile(weeks_over(plan, days, range(1, 61)).peaks, 0.9)
    truth = percentile(many, 0.9)
    assert few.low <= truth.high and truth.low <= few.high
    # All sixty draws of 0.7 are there at once in the afternoon: a binomial, mean 42, sd 3.55.
    assert abs(np.mean(many) - 42) < 4 * 3.55 / np.sqrt(1000)
    assert truth.low <= 47 <= truth.high


def test_a_question_nobody_waits_for_is_given_up():
    plan = plan_with(group("a", 5), sites=UTC)
    days = crowd_horizon("UTC", MONDAY, 1)
    with pytest.raises(NotWantedError), while_wanted(lambda: False):
        weeks_over(plan, days, range(4))


def test_seeds_are_cut_to_what_a_call_can_draw():
    plan = plan_with(group("a", 100_000), sites=UTC)
    year = crowd_horizon("UTC", MONDAY, 366)
    assert affordable_seeds(plan, crowd_horizon("UTC", MONDAY, 7), 40) == 6
    with pytest.raises(TooMuchError, match="look at fewer days"):
        affordable_seeds(plan, year, 40)


def test_a_picture_of_a_pattern_by_hand():
    pause = {
        "probability": 0.5,
        "at": "12:00",
        "sd_minutes": 0,
        "mean_minutes": 60,
        "length_sd_minutes": 0,
        "leaving": LEAVES,
    }
    late = {**pause, "at": "19:00", "probability": 1.0}
    shown = plan_with(group(patterns=[pattern(breaks=[pause, late])]))
    picture = pattern_picture(shown.groups[0].demand.patterns[0])
    at = [picture.present[12 * hour] for hour in (8, 9, 12, 13, 16, 17)]
    half = picture.present[12 * 12]
    assert at == [0.0, 1.0, half, 1.0, 1.0, 0.0]
    # 4,000 draws of a half: deviation 0.008.
    assert abs(half - 0.5) < 0.032
    assert picture.starting[9 * 12] == 1.0
    assert abs(picture.breaks_taken[0] - 0.5) < 0.032 and picture.breaks_taken[1] == 0.0
    assert abs(picture.working_minutes - 450) < 2


def test_the_band_holds_nine_of_ten_weeks_in_every_bin():
    """Of 40 seeds two are below and two above, wherever they differ."""
    days = over(date(2027, 3, 1), 2)
    plan = plan_with(group("a", 200, [pattern("day", attendance=dict.fromkeys(DAYS, 0.5))]))
    found = weeks_over(plan, days, range(1, 41))
    drawn = np.array([crowd_of(plan, days, seed).whole.mean for seed in range(1, 41)])
    noon = 12 * 12
    ordered = sorted(drawn[:, noon])
    assert (found.low[noon], found.high[noon]) == (ordered[1], ordered[38])
    assert found.low[noon] < 100 < found.high[noon]
    assert (found.low <= found.high).all() and len(found.low) == 2 * 288


def test_a_band_that_would_be_very_long_is_left_out(monkeypatch):
    monkeypatch.setattr(crowd_module, "MOST_BANDED", 40 * 288 - 1)
    plan = plan_with(group("a", 5))
    found = weeks_over(plan, over(date(2027, 3, 1), 1), range(1, 41))
    assert found.low is None and len(found.peaks) == 40


def test_a_year_in_stretches_is_the_year():
    """Also over both changes of the clock, and with people who work past midnight."""
    plan, first = plan_of(demo_plan()), date(2027, 3, 1)
    whole = hours_of(crowd_of(plan, crowd_horizon("Europe/Dublin", first, 250), 1))
    parts = [
        day
        for begin, many in stretches_of(first, 250)
        for day in hours_of(crowd_of(plan, crowd_horizon("Europe/Dublin", begin, many), 1))
    ]
    assert parts == whole and len(whole) == 250
