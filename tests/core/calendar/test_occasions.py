"""Holidays, events and growth, each on the dates and with the effect that hand-work gives."""

from datetime import date, timedelta

import numpy as np
import pytest

from idle_harbor.core.calendar.occasions import countries, occasions_on, workday_of_month
from idle_harbor.core.demand.spells import demand_of
from idle_harbor.core.plan import Holidays, OwnDay
from tests.core.people import by_day, clocks, drop_in, group, over, pattern, plan_with, spells_of

MARCH = date(2027, 3, 15)  # a Monday; the 17th is a public holiday in Ireland
IRELAND = {"country": "IE", "region": None, "own": []}


def site(**holidays):
    return [{"id": "here", "time_zone": "Europe/Dublin", "holidays": {**IRELAND, **holidays}}]


def event(**more):
    when = more.pop("when", {"kind": "dates", "from": "2027-03-16", "to": "2027-03-17"})
    return {"id": "storm", "when": when, **more}


def test_a_public_holiday_empties_the_day():
    plan = plan_with(group(), sites=site())
    assert by_day(spells_of(plan, over(MARCH)), over(MARCH)) == [10, 10, 0, 10, 10, 10, 10]


def test_a_group_that_works_holidays_comes_all_the_same():
    plan = plan_with(group(works_holidays=True), sites=site())
    assert by_day(spells_of(plan, over(MARCH)), over(MARCH)) == [10] * 7


def test_own_days_and_regions():
    own = [{"day": "2027-03-19", "name": "Founders"}]
    plan = plan_with(group(), sites=site(country=None, own=own))
    assert by_day(spells_of(plan, over(MARCH)), over(MARCH)) == [10, 10, 10, 10, 0, 10, 10]
    # 1 July is Canada Day, everywhere in Canada.
    halifax = [
        {
            "id": "here",
            "time_zone": "America/Halifax",
            "holidays": {"country": "CA", "region": "NS", "own": []},
        }
    ]
    days = over(date(2027, 6, 28), zone="America/Halifax")
    assert by_day(spells_of(plan_with(group(), sites=halifax), days), days)[3] == 0
    with_names = occasions_on(plan, date(2027, 3, 19))
    assert [(o.kind, o.name, o.where) for o in with_names] == [("holiday", "Founders", ("here",))]


def test_drop_ins_rest_on_holidays_too():
    plan = plan_with(drop_in(), sites=site())
    assert by_day(spells_of(plan, over(MARCH)), over(MARCH))[2] == 0


def test_an_event_doubles_those_who_come():
    """Attendance 0.9 times 2 is 1.8: all ten come, and eight in ten of a second ten."""
    half = [pattern(attendance=dict.fromkeys(("mon", "tue", "wed"), 0.9))]
    plan = plan_with(group(people=500, patterns=half), events=[event(factor=2)])
    counts = by_day(spells_of(plan, over(MARCH)), over(MARCH))
    # 500 binomial draws of 0.9: 450 with deviation 6.7; twice: 500 and 500 draws of 0.8.
    assert abs(counts[0] - 450) < 27
    assert abs(counts[1] - 900) < 36 and abs(counts[2] - 900) < 36


def test_the_excess_adds_people_with_keys_of_their_own():
    usual, more = plan_with(group()), plan_with(group(), events=[event(factor=1.5)])
    before, after = spells_of(usual, over(MARCH)), spells_of(more, over(MARCH))
    assert set(before.person.tolist()) == set(range(10))
    extra = set(after.person.tolist()) - set(range(10))
    assert extra and extra <= set(range(10, 20))
    kept = after.person < 10
    assert np.array_equal(before.start, after.start[kept])


def test_an_event_moves_everything_by_minutes():
    pause = {
        "probability": 1.0,
        "at": "12:00",
        "sd_minutes": 0,
        "mean_minutes": 30,
        "length_sd_minutes": 0,
        "leaving": {"sign_off": 1.0},
    }
    plan = plan_with(group(patterns=[pattern(breaks=[pause])]), events=[event(shift_minutes=-60)])
    found = spells_of(plan, over(MARCH, 3, "UTC"))
    assert clocks(found, 0) == ["09:00", "12:30"]
    assert clocks(found, 1) == ["08:00", "11:30"]


def test_an_event_puts_everyone_on_another_pattern():
    patterns = [pattern("day", share=1.0), pattern("all-hands", "07:00", 720, share=0.0)]
    plan = plan_with(group(patterns=patterns), events=[event(pattern="all-hands")])
    found = spells_of(plan, over(MARCH, 4, "UTC"))
    assert [clocks(found, day) for day in range(4)] == [["09:00"], ["07:00"], ["07:00"], ["09:00"]]
    lengths = (found.end - found.start)[found.start // 86_400 == 1]
    assert set(lengths.tolist()) == {720 * 60}


def test_events_multiply_and_concern_their_groups_alone():
    both = [event(id="a", factor=0.5, groups=["people"]), event(id="b", factor=0.5)]
    plan = plan_with(group(people=400), group("others", 400), events=both)
    assert abs(by_day(spells_of(plan, over(MARCH)), over(MARCH))[1] - 100) < 35
    assert abs(by_day(spells_of(plan, over(MARCH), 1), over(MARCH))[1] - 200) < 40


def test_rates_of_drop_ins_follow_events():
    plan = plan_with(drop_in(rate=100.0), events=[event(factor=2)])
    counts = by_day(spells_of(plan, over(MARCH)), over(MARCH))
    # Poisson: 2,400 with deviation 49, and 4,800 with 69.
    assert abs(counts[0] - 2400) < 200 and abs(counts[1] - 4800) < 280


def test_the_first_workdays_of_a_month_leave_out_holidays():
    """March 2027 begins on a Monday; May's first Monday (the 3rd) is a holiday in Ireland."""
    resting = Holidays("IE", None, (OwnDay(date(2027, 3, 2), "own"),))
    march = [workday_of_month(resting, date(2027, 3, day)) for day in range(1, 9)]
    assert march == [1, 0, 2, 3, 4, 0, 0, 5]
    may = [workday_of_month(resting, date(2027, 5, day)) for day in range(1, 6)]
    assert may == [0, 0, 0, 1, 2]
    rush = event(when={"kind": "month-workdays", "from": 1, "to": 2}, factor=0)
    plan = plan_with(group(), events=[rush], sites=site())
    days = over(date(2027, 5, 3))
    assert by_day(spells_of(plan, days), days) == [0, 0, 0, 10, 10, 10, 10]


def test_growth_multiplies_people_and_rates():
    growth = {"per_year": 0.5, "since": "2027-03-15"}
    plan = plan_with(group(people=100, growth=growth), drop_in(rate=100.0, growth=growth))
    later = over(date(2028, 3, 14), 1)
    assert by_day(spells_of(plan, over(MARCH, 1)), over(MARCH, 1)) == [100]
    # 365 of 365.25 days later: 1.5 to the power of 0.9993.
    assert by_day(spells_of(plan, later), later) == [150]
    assert abs(by_day(spells_of(plan, later, 1), later)[0] - 3600) < 4 * 60
    before = over(date(2026, 3, 16), 1)
    assert by_day(spells_of(plan, before), before) == [67]


def test_expected_spells_count_events_holidays_growth_and_use():
    growth = {"per_year": 0.2, "since": "2026-03-15"}
    uses = [{"group": "people", "pool": "main", "use": 0.5}, {"group": "counter", "pool": "main"}]
    plan = plan_with(
        group(people=600, growth=growth), drop_in(), sites=site(), events=[event(factor=1.4)]
    )
    from dataclasses import replace

    from idle_harbor.core.demand.spells import pool_spells
    from idle_harbor.core.plan import Access

    plan = replace(
        plan, access=tuple(Access(u["group"], u["pool"], use=u.get("use", 1.0)) for u in uses)
    )
    demand, days = demand_of(plan, "main"), over(MARCH)
    given = [len(pool_spells(demand, days, seed)) for seed in range(1, 7)]
    assert abs(np.mean(given) - demand.expected_spells(days)) < 0.02 * np.mean(given)


def test_marks_name_clock_changes_in_each_zone():
    sites = [
        {"id": "here", "time_zone": "Europe/Dublin"},
        {"id": "there", "time_zone": "America/Halifax"},
    ]
    plan = plan_with(group(), sites=sites)
    changes = {}
    for back in range(365):
        day = date(2027, 1, 1) + timedelta(days=back)
        for found in occasions_on(plan, day):
            changes[day] = (found.name, found.where)
    assert changes == {
        date(2027, 3, 14): ("clocks forward 60 min", ("America/Halifax",)),
        date(2027, 3, 28): ("clocks forward 60 min", ("Europe/Dublin",)),
        date(2027, 10, 31): ("clocks back 60 min", ("Europe/Dublin",)),
        date(2027, 11, 7): ("clocks back 60 min", ("America/Halifax",)),
    }


@pytest.mark.parametrize("code", ["IE", "CA", "DE"])
def test_countries_are_known(code):
    assert code in countries()
