"""Long work in the page: a year of weeks as it is simulated, and the corner that tells of it."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.looking import nothing_serious, settled


def test_a_year_is_simulated_week_by_week_and_a_week_is_looked_at(watched, demo):
    page = watched.open(f"{demo}?pool=counters")
    settled(page)
    page.get_by_role("button", name="Week by week").click()
    year = page.get_by_test_id("year-of-weeks")
    expect(year).to_contain_text(re.compile("In .* of 53 weeks the promise is broken"))
    nothing_serious(page)
    october = year.get_by_role("radio", name="Week of 25 October 2027")
    october.click()
    expect(page).to_have_url(re.compile("week=2027-10-25"))
    expect(october).to_be_checked()
    settled(page)

    corner = page.get_by_test_id("jobs")
    expect(corner).to_have_text("Work done")
    corner.click()
    expect(page.get_by_role("region", name="Long work")).to_contain_text(
        "the year 2027 of counters"
    )
    nothing_serious(page)
    corner.click()

    # The plan as it is now is another question, asked when somebody wishes.
    page.get_by_label("Floor", exact=True).fill("2")
    page.keyboard.press("Enter")
    year.get_by_role("button", name="The plan has changed: simulate it anew").click()
    expect(year).to_contain_text(re.compile("In .* of 53 weeks"))
    # A page that is opened again finds the work done.
    page.reload()
    settled(page)
    page.get_by_role("button", name="Week by week").click()
    expect(year).to_contain_text(re.compile("In .* of 53 weeks"))


def test_a_year_that_takes_long_is_stopped_and_goes_on(watched, demo):
    page = watched.open(f"{demo}?pool=office")
    settled(page)
    page.get_by_role("button", name="Week by week").click()
    year = page.get_by_test_id("year-of-weeks")
    year.get_by_role("button", name="Stop").click()
    expect(year).to_contain_text("It was ended after")
    year.get_by_role("button", name="Go on").click()
    expect(year).to_contain_text(re.compile("In .* of 53 weeks"))
