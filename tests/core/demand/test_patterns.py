"""Shifts, rotations, breaks and observed spreads, against hand-worked days."""

from datetime import date

import numpy as np
from scipy.special import ndtri

from idle_harbor.core.demand import draws
from idle_harbor.core.demand.kernel.leaving import WALK_AWAY
from idle_harbor.core.demand.kernel.quantiles import histogram_quantile, normal_quantile
from tests.core.people import (
    ALWAYS,
    LEAVES,
    by_day,
    clocks,
    group,
    over,
    pattern,
    plan_with,
    spells_of,
)

MONDAY = date(2027, 1, 4)
WEEK = over(MONDAY, zone="UTC")
UTC = [{"id": "here", "time_zone": "UTC"}]


def test_shares_choose_the_pattern_among_those_valid_on_the_weekday():
    work, rest = ("mon", "tue", "wed", "thu", "fri"), ("sat", "sun")
    patterns = [
        pattern("early", "06:00", share=0.6, attendance=dict.fromkeys(work, 1.0)),
        pattern("late", "14:00", share=0.4, attendance=dict.fromkeys(work, 1.0)),
        pattern("weekend", "10:00", share=1.0, attendance=dict.fromkeys(rest, 0.5)),
    ]
    found = spells_of(plan_with(group(people=1000, patterns=patterns), sites=UTC), WEEK)
    first = found.start[found.start // 86_400 == 0] // 3600
    # 1,000 draws of 0.6: deviation 15.5.
    assert abs((first == 6).sum() - 600) < 62
    assert len(first) == 1000
    assert clocks(found, 5) == ["10:00"]
    assert abs(by_day(found, WEEK)[5] - 500) < 64


def test_crews_rotate_through_the_shifts_and_rest():
    """Four crews of three, two days a turn: crew c begins c turns into the order."""
    patterns = [pattern(n, s) for n, s in (("early", "06:00"), ("late", "14:00"))]
    turn = {"every_days": 2, "order": ["early", None, "late", None], "since": "2027-01-04"}
    plan = plan_with(group(people=12, patterns=patterns, rotation=turn), sites=UTC)
    found = spells_of(plan, WEEK)
    worked = {}
    for person, start in zip(found.person.tolist(), found.start.tolist(), strict=True):
        worked.setdefault(person % 4, set()).add((start // 86_400, start % 86_400 // 3600))
    assert worked[0] == {(0, 6), (1, 6), (4, 14), (5, 14)}
    assert worked[1] == {(2, 14), (3, 14), (6, 6)}
    assert worked[2] == {(0, 14), (1, 14), (4, 6), (5, 6)}
    assert worked[3] == {(2, 6), (3, 6), (6, 14)}


def test_a_rotation_has_turned_before_its_first_day_too():
    turn = {"every_days": 7, "order": ["a", "b"], "since": "2027-01-11"}
    patterns = [pattern("a", "06:00"), pattern("b", "14:00")]
    plan = plan_with(group(people=2, patterns=patterns, rotation=turn), sites=UTC)
    monday = spells_of(plan, over(MONDAY, 1, "UTC"))
    assert [(p, s // 3600) for p, s in zip(monday.person, monday.start, strict=True)] == [
        (1, 6),
        (0, 14),
    ]


def test_a_night_shift_crosses_midnight_with_its_break_after_it():
    pause = {
        "probability": 1.0,
        "at": "02:00",
        "sd_minutes": 0,
        "mean_minutes": 30,
        "length_sd_minutes": 0,
        "leaving": LEAVES,
    }
    night = pattern("night", "22:00", 480, breaks=[pause], attendance={"mon": 1.0})
    found = spells_of(plan_with(group(people=1, patterns=[night]), sites=UTC), WEEK)
    rows = list(zip(found.start.tolist(), found.end.tolist(), strict=True))
    assert rows == [(22 * 3600, 26 * 3600), (26 * 3600 + 1800, 30 * 3600)]


def test_who_is_at_work_when_the_horizon_begins_asks_at_its_first_second():
    night = pattern("night", "22:00", 480)
    found = spells_of(plan_with(group(people=3, patterns=[night]), sites=UTC), WEEK)
    assert found.start[:3].tolist() == [0, 0, 0]
    assert found.end[:3].tolist() == [6 * 3600] * 3


def test_a_break_after_so_many_minutes_follows_the_start():
    pause = {
        "probability": 1.0,
        "after_minutes": 240,
        "sd_minutes": 0,
        "mean_minutes": 60,
        "length_sd_minutes": 0,
        "leaving": LEAVES,
    }
    spread = {"kind": "normal", "mean": "09:00", "sd_minutes": 40}
    plan = plan_with(group(people=50, patterns=[pattern(breaks=[pause], start=spread)]), sites=UTC)
    found = spells_of(plan, over(MONDAY, 1, "UTC"))
    for person in range(50):
        mine = found.person == person
        first, second = found.start[mine]
        assert found.end[mine][0] - first == 4 * 3600
        assert second - found.end[mine][0] == 3600


def test_observed_starts_and_lengths_follow_their_histograms():
    start = {"kind": "histogram", "from": "08:00", "step_minutes": 60, "weights": [1, 0, 3]}
    length = {"kind": "histogram", "from_minutes": 60, "step_minutes": 30, "weights": [1, 1]}
    seen = pattern(start=start, length=length)
    found = spells_of(
        plan_with(group(people=4000, patterns=[seen]), sites=UTC), over(MONDAY, 1, "UTC")
    )
    hours = np.bincount(found.start // 3600, minlength=24)
    # 4,000 draws of a quarter: deviation 27.
    assert hours[9] == 0 and abs(hours[8] - 1000) < 110 and hours[8] + hours[10] == 4000
    lengths = found.end - found.start
    assert lengths.min() >= 3600 and lengths.max() <= 7200
    # Uniform over an hour: mean 90 min, standard error of the mean 16.4 s.
    assert abs(lengths.mean() - 5400) < 66


def test_histogram_quantiles_by_hand():
    cumulative = np.array([9.9, 0.25, 0.25, 1.0])
    for u, steps in ((0.0, 0.0), (0.125, 0.5), (0.25, 2.0), (0.625, 2.5), (0.9999, 2.99987)):
        assert abs(histogram_quantile(u, cumulative, 1, 3) - steps) < 1e-4


def test_normal_quantiles_are_those_of_the_library():
    u = np.concatenate([np.logspace(-16, -1, 400), np.linspace(0.1, 0.999999, 400)])
    ours = np.array([normal_quantile(value) for value in u])
    assert np.allclose(ours, ndtri(u), rtol=2e-14, atol=2e-14)


def test_uniforms_are_numpys_own_of_the_same_key():
    for count in (1, 2, 3, 4, 5, 1003):
        low, high = draws.philox_key(7, "group", date(2027, 1, 4), "start")
        source = np.random.Generator(np.random.Philox(key=low | high << 64))
        ours = draws.uniforms(count, 7, "group", date(2027, 1, 4), "start")
        assert np.array_equal(ours, np.maximum(source.random(count), 2.0**-54))


def test_patterns_that_nobody_can_follow_bring_nobody():
    spare = pattern(share=0.0, attendance=ALWAYS)
    assert len(spells_of(plan_with(group(patterns=[spare]), sites=UTC), WEEK)) == 0


def spelled(**habits):
    """Spells of 2,000 people who work from 9:00 to 17:00, and those of each person."""
    plan = plan_with(group(people=2_000, patterns=[pattern(habits=habits)]), sites=UTC)
    found = spells_of(plan, over(MONDAY, 1, "UTC"))
    return found, np.bincount(found.person, minlength=2_000)


def test_a_long_call_and_reading_leave_the_desktop_open_for_a_while():
    found, each = spelled(long_call=0.3)
    # 2,000 draws of 0.3: deviation 20.5.
    assert abs((each == 2).sum() - 600) < 82
    first = np.isin(found.person, np.flatnonzero(each == 2)) & (found.start < 10 * 3_600)
    back = np.isin(found.person, np.flatnonzero(each == 2)) & (found.start > 10 * 3_600)
    assert set(found.leaving[first]) == {WALK_AWAY}
    away = found.start[back].mean() - found.end[first].mean()
    assert abs(away / 60 - 40.0) < 2.0
    # A third into the day of eight hours.
    assert abs(found.end[first].mean() / 60 - (9 * 60 + 160)) < 8.0


def test_whoever_works_late_pauses_at_the_end_of_the_day_and_stays_an_hour():
    found, each = spelled(works_late=1.0)
    assert set(each) == {2}
    day = found.end < 17 * 3_600 + 1
    assert set(found.end[day]) == {17 * 3_600}
    assert abs((found.start[~day].mean() - 17 * 3_600) / 60 - 40.0) < 1.0
    assert set(found.end[~day] - found.start[~day]) == {3_600}


def test_habits_leave_the_draws_of_breaks_as_they_are():
    pause = {"at": "12:30", "mean_minutes": 30, "leaving": LEAVES}
    base = [pattern(breaks=[pause])]
    with_call = [pattern(breaks=[pause], habits={"works_late": 0.5})]
    one, two = (
        spells_of(plan_with(group(people=50, patterns=p), sites=UTC), over(MONDAY, 1, "UTC"))
        for p in (base, with_call)
    )
    noon = [s.start[(s.start > 12 * 3_600) & (s.start < 16 * 3_600)].tolist() for s in (one, two)]
    assert noon[0] == noon[1]
