"""Values as they are typed: numbers as the page prints them, dates, and runs of arrow keys."""

import pytest
from playwright.sync_api import Page, expect

from idle_harbor.demo.scenario import demo_plan
from tests.browser.looking import enter, settled
from tests.browser.test_people import drawn


@pytest.fixture
def billing(watched) -> Page:
    """The People view of a plan of its own, with a group open."""
    return watched.open(f"{watched.own(demo_plan(), 'Typed')}/people?group=billing", drawn)


def field(page: Page, label: str):
    return page.get_by_role("textbox", name=label, exact=True)


def test_a_number_is_read_as_the_page_prints_it(billing):
    people = field(billing, "People")
    enter(people, "1,200")
    expect(people).to_have_value("1200")
    expect(billing.get_by_test_id("state")).to_contain_text("edited")
    for typed, reason in (
        ("1,20", "write decimals with a point: 1.20"),
        ("12.5", "give a whole number"),
        ("100,001", "from 0 to 100000"),
    ):
        enter(people, typed)
        expect(billing.get_by_role("alert")).to_have_text(reason)
        people.blur()
        expect(people).to_have_value(typed)
    people.focus()
    people.press("Escape")
    expect(people).to_have_value("1200")


def test_a_run_of_arrow_keys_is_one_edit_in_steps_of_the_field(billing):
    taken = field(billing, "Share that takes the break")
    before = float(taken.input_value())
    taken.focus()
    for _ in range(3):
        taken.press("ArrowDown")
    expect(taken).to_have_value(f"{before - 3:g}")
    expect(billing.get_by_test_id("state")).to_contain_text("edited")
    billing.get_by_test_id("undo").click()
    expect(taken).to_have_value(f"{before:g}")
    expect(billing.get_by_test_id("state")).to_have_text("r1")


def test_a_typed_date_is_an_edit_only_when_it_is_whole(watched):
    page = watched.open(f"{watched.own(demo_plan(), 'Dates')}/board", settled)
    week = page.get_by_label("week of", exact=True)
    asked: list[str] = []
    page.on("framenavigated", lambda frame: asked.append(frame.url))
    week.fill("")
    week.press_sequentially("5 April 2027")
    assert asked == []
    week.press("Enter")
    expect(page.get_by_test_id("day").first).to_contain_text("April")
    assert len(asked) == 1 and "2027-04-05" in asked[0]
    week.fill("0002-04-05")
    week.press("Enter")
    expect(page.get_by_role("alert")).to_have_text("from 1971-01-01 to 2199-12-31")
    expect(week).to_have_value("0002-04-05")
    assert len(asked) == 1
    week.press("Escape")
    expect(week).to_have_value("2027-04-05")


@pytest.mark.parametrize("query", ["day=x", "day=-1", "day=1.5", "band=x", "day=99&band=99"])
def test_an_address_with_a_word_for_a_number_opens_the_board(watched, query):
    page = watched.open(f"{watched.own(demo_plan(), 'Odd')}/board?{query}", settled)
    expect(page.get_by_role("radio", checked=True).first).to_be_visible()
    expect(page.get_by_test_id("sentence")).to_contain_text("hosts ready")
