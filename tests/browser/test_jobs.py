"""Long work in the page: a year of weeks as it is simulated, and the corner that tells of it."""

import re

from playwright.sync_api import expect

from idle_harbor.demo.scenario import demo_plan
from tests.browser.conftest import Watched
from tests.browser.looking import enter, nothing_serious, settled, value


def test_a_year_is_simulated_week_by_week_and_a_week_is_looked_at(watched, demo):
    page = watched.open(f"{demo}?pool=counters", settled)
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
    enter(page.get_by_label("Floor", exact=True), "2")
    year.get_by_role("button", name="The plan has changed: simulate it anew").click()
    expect(year).to_contain_text(re.compile("In .* of 53 weeks"))
    # A page that is opened again finds the work done.
    page.reload()
    settled(page)
    expect(year).to_contain_text(re.compile("In .* of 53 weeks"))


def test_a_year_that_takes_long_is_stopped_and_goes_on(watched, demo):
    page = watched.open(f"{demo}?pool=office", settled)
    page.get_by_role("button", name="Week by week").click()
    year = page.get_by_test_id("year-of-weeks")
    year.get_by_role("button", name="Stop").click()
    expect(year).to_contain_text("It was ended after")
    year.get_by_role("button", name="Go on").click()
    expect(year).to_contain_text(re.compile("In .* of 53 weeks"))


def large(watched) -> str:
    """The path of a plan with four times the demo's people: its pools take long."""
    plan = demo_plan()
    for group in plan["groups"]:
        if group["demand"]["kind"] == "headcount":
            group["demand"]["people"] *= 4
    return watched.own(plan, "Large")


def test_the_pools_of_a_large_plan_come_as_they_are_done_and_are_found_again(watched):
    path = large(watched)
    page = watched.open(f"{path}/pools")
    main = page.locator("main.pools")
    expect(main).to_have_attribute("data-fits", "true")
    rows = page.locator("main.pools tbody tr")
    expect(rows).to_have_count(7)
    figures = rows.all_inner_texts()
    corner = page.get_by_test_id("jobs")
    corner.click()
    done = page.get_by_role("region", name="Long work").locator(".job", has_text="all 7 pools")
    expect(done).to_contain_text("done · asked here")
    nothing_serious(page)
    # Another page asks the same and is told what is there; the corner leads to it.
    other = watched.page.context.new_page()
    other.goto(f"{watched.site}{path}/board")
    other.get_by_test_id("jobs").click()
    other.get_by_role("link", name=re.compile("all 7 pools")).first.click()
    expect(other.locator("main.pools")).to_have_attribute("data-fits", "true")
    assert other.locator("main.pools tbody tr").all_inner_texts() == figures
    # Kinds of so many people are compared by a job too.
    page.keyboard.press("Escape")
    page.get_by_test_id("ask-kinds").click()
    expect(page.get_by_test_id("kinds").locator("tbody tr")).to_have_count(3)


def test_many_weeks_narrow_the_figures_as_they_come(watched, demo):
    page = watched.open(f"{demo}?pool=line", settled)
    basis = page.get_by_test_id("basis")

    def half_of_the_wait() -> float:
        """Half the width of its interval: "52 s ± 19 s"."""
        text = value(page, "wait")
        return float(re.search(r"± ([\d.,]+)", text)[1].replace(",", ""))

    before = half_of_the_wait()
    basis.get_by_role("button", name="Simulate 256").click()
    expect(basis).to_contain_text("Means of 256 simulated weeks, ± 95 %")
    # By the root of 256 / 8, and as the quantile of Student's t falls from 2.36 to 1.97: 6.8 times.
    assert 0.0 < half_of_the_wait() < before / 2.5
    expect(basis.get_by_role("button")).to_have_count(0)
    # An edit is another plan, of which eight are simulated again.
    enter(page.get_by_label("Floor", exact=True), "2")
    settled(page)
    expect(basis).to_contain_text("Means of 8 simulated weeks")


def test_many_pages_share_one_stream_and_all_hear(watched, demo):
    # A browser opens six connections to one place: a stream for each page would leave none.
    context = watched.page.context
    asked: list[str] = []
    context.on("request", lambda request: asked.append(request.url))
    pages = [watched.open(f"{demo}?pool=counters")]
    pages += [context.new_page() for _ in range(7)]
    for page in pages[1:]:
        page.goto(f"{watched.site}{demo}?pool=counters")
    for page in pages:
        settled(page)
    streams = [url for url in asked if url.endswith("/jobs/events")]
    assert len(streams) == 1
    pages[3].get_by_role("button", name="Week by week").click()
    for page in pages:
        expect(page.get_by_test_id("jobs")).to_have_text("Work done")
    # Another page has the stream when the first has gone.
    with context.expect_event("request", lambda request: request.url.endswith("/jobs/events")):
        pages[0].close()


def test_two_servers_behind_one_address_are_one(pair, browser):
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    watched = Watched(page, pair)
    # What one of them has not kept it is told, and says so first.
    watched.allowed = re.compile(r"status of (404|422)")
    plans = page.request.get(f"{pair}/api/plans").json()["plans"]
    for _ in range(4):
        watched.open(f"/plans/{plans[0]['id']}/board?pool=counters")
        settled(page)
        expect(page.get_by_role("region", name="Host lanes")).not_to_contain_text("cannot be drawn")
        enter(page.get_by_label("Floor", exact=True), "2")
        settled(page)
        page.keyboard.press("Control+z")
        settled(page)
    page.get_by_role("button", name="Week by week").click()
    expect(page.get_by_test_id("year-of-weeks")).to_contain_text(re.compile("In .* of 53 weeks"))
    watched.check()
    context.close()
