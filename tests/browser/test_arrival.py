"""Views without a pool say what they need; titles, the skip link, and undo inside a field."""

import re
from uuid import uuid4

import pytest
from playwright.sync_api import expect

from idle_harbor.demo.scenario import demo_plan
from tests.browser.looking import nothing_serious, settled


@pytest.mark.parametrize("view", ["hosts", "pools", "tuner", "checks"])
def test_a_view_of_an_empty_plan_says_what_it_would_show_and_needs(watched, view):
    page = watched.open("/")
    page.get_by_label("A new plan called").fill(f"Empty {uuid4().hex[:8]}")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("first")).to_be_visible()
    page.get_by_role("link", name=re.compile(view, re.IGNORECASE)).first.click()
    expect(page.get_by_role("main")).to_contain_text("It needs people, and a pool of hosts")
    nothing_serious(page)
    page.get_by_role("link", name="Say who comes, and onto what").click()
    expect(page.get_by_test_id("first")).to_be_visible()


def test_each_view_has_a_title_and_takes_the_focus(watched):
    page = watched.open(f"{watched.own(demo_plan(), 'Titled')}/board", settled)
    expect(page).to_have_title(re.compile(r"^Board: Titled .* – Idle Harbor$"))
    page.keyboard.press("Tab")
    skip = page.get_by_role("button", name="Skip to the view")
    expect(skip).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_role("main")).to_be_focused()
    page.get_by_role("link", name="People", exact=True).click()
    expect(page).to_have_title(re.compile("^People: "))
    expect(page.get_by_role("main")).to_be_focused()


def test_undo_inside_a_field_is_the_fields_until_its_value_is_taken(watched):
    page = watched.open(f"{watched.own(demo_plan(), 'Undo')}/board?pool=office&band=1", settled)
    floor = page.get_by_label("Floor", exact=True)
    before = floor.input_value()
    floor.fill(str(int(before) + 3))
    floor.press("Enter")
    expect(page.get_by_test_id("state")).to_contain_text("edited")
    floor.press("End")
    floor.press_sequentially("7")
    floor.press("Control+z")
    # What was typed goes, and the edit before it stays.
    expect(floor).to_have_value(str(int(before) + 3))
    expect(page.get_by_test_id("state")).to_contain_text("edited")
    floor.press("Escape")
    floor.press("Control+z")
    expect(floor).to_have_value(before)


def test_another_plan_and_a_new_part_are_reached_by_a_few_letters(watched):
    first = f"Palette {uuid4().hex[:8]}"
    watched.own(demo_plan(), first)
    page = watched.open(f"{watched.own(demo_plan(), 'Where from')}/board", settled)
    asked = page.get_by_role("combobox", name="Go to, or do")
    page.keyboard.press("Control+k")
    expect(asked).to_be_focused()
    asked.fill("add place")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Name of the place").and_(page.locator(":focus"))).to_be_visible()
    page.keyboard.press("Control+k")
    expect(asked).to_be_focused()
    asked.fill(first)
    expect(page.get_by_test_id("palette")).to_contain_text(first)
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_contain_text(first)


def test_a_field_is_reached_by_a_few_letters_and_has_the_cursor(watched):
    page = watched.open(f"{watched.own(demo_plan(), 'Fields')}/board?pool=line", settled)
    page.keyboard.press("Control+k")
    box = page.get_by_role("combobox", name="Go to, or do")
    expect(box).to_be_focused()
    box.press_sequentially("disconnected timeout")
    page.keyboard.press("Enter")
    field = page.get_by_label("Disconnected timeout in minutes")
    expect(field).to_be_focused()
    expect(page).to_have_url(re.compile("board.*pool=line&more=1"))


def test_an_address_that_leads_nowhere_says_so(watched):
    watched.allowed = re.compile("404")
    page = watched.open("/nonsense/here?x=1")
    expect(page.get_by_role("main")).to_contain_text("/nonsense/here?x=1 names no view")
    page.get_by_role("link", name="All plans").click()
    expect(page.get_by_label("A new plan called")).to_be_visible()
    page = watched.open("/plans/1")
    expect(page).to_have_url(re.compile("/plans/1/board"))
    page = watched.open("/plans/1/board?pool=zzz&week=2027-99-99&day=9", settled)
    expect(page.get_by_test_id("missing")).to_contain_text("pool ‘zzz’; week ‘2027-99-99’; day ‘9’")
    page.get_by_test_id("pool").select_option("line")
    expect(page.get_by_test_id("missing")).not_to_contain_text("zzz")
