"""A year of a pool week by week: its weeks, and each the week that the Board shows."""

from datetime import date, timedelta

import pytest

from idle_harbor.core.weeks.summary import simulate
from idle_harbor.core.weeks.years import mondays_of, week_of_year
from tests.core.plans import plan


@pytest.mark.parametrize("year", range(2020, 2032))
def test_every_date_of_a_year_is_in_one_of_its_weeks(year):
    mondays = mondays_of(year)
    days = {monday + timedelta(k) for monday in mondays for k in range(7)}
    assert len(days) == 7 * len(mondays) and all(day.weekday() == 0 for day in mondays)
    assert date(year, 1, 1) in days and date(year, 12, 31) in days
    assert mondays[0] <= date(year, 1, 1) and mondays[-1] <= date(year, 12, 31)


def test_a_week_says_what_the_week_says():
    monday = date(2027, 3, 1)
    week, figures = week_of_year(plan(), "main", monday), simulate(plan(), "main", 1, first=monday)
    assert week.first == monday
    assert week.sessions == figures.sessions.peak.mean
    assert week.wait_p95 == figures.wait_seconds.p95.mean
    assert week.month == str(figures.cost.month)
    hours = figures.host_hours
    used = hours.in_use.mean + hours.lingering.mean
    assert week.idle_share == pytest.approx(1 - used / hours.billed.mean)
    assert week.kept == figures.against(plan().promise).whole
