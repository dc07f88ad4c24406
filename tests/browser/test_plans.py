"""The list of plans: names, copies, removal with a way back, revisions, order, search, files."""

import json
import re
from uuid import uuid4

import pytest
from playwright.sync_api import Page, expect

from idle_harbor.demo.scenario import demo_plan


@pytest.fixture
def name() -> str:
    return f"Quai d’Été {uuid4().hex[:6]}"


@pytest.fixture
def plans(watched, name) -> Page:
    page = watched.open("/")
    for each in (f"Aal {name[-6:]}", name):
        body = {"plan": {**demo_plan(), "name": each}, "words": "begun", "author": "ana"}
        assert page.request.post(f"{page.url}api/plans", data=body).ok
    page.reload()
    return page


def row(page: Page, name: str):
    link = page.get_by_role("link", name=name, exact=True)
    return page.get_by_role("list", name="Plans").get_by_role("listitem").filter(has=link)


def act(page: Page, name: str, what: str) -> None:
    row(page, name).get_by_role("button", name=what, exact=True).click()


def test_a_plan_is_renamed_copied_removed_and_brought_back(plans, name, watched):
    watched.allowed = re.compile("409")
    act(plans, name, "Rename")
    field = plans.get_by_label(f"Name of {name}")
    expect(field).to_be_focused()
    plans.keyboard.type("Thrown away")
    plans.keyboard.press("Escape")
    act(plans, name, "Rename")
    plans.keyboard.type(f"{name} bis")
    plans.keyboard.press("Enter")
    # A copy is there with its name ready to be typed.
    act(plans, f"{name} bis", "Copy")
    expect(plans.get_by_label(f"Name of {name} bis (2)")).to_be_focused()
    plans.keyboard.type(f"{name} ter")
    plans.keyboard.press("Enter")
    expect(row(plans, f"{name} ter")).to_contain_text(f"renamed from {name} bis (2)")
    # A name that another has is refused, and what was typed stays.
    act(plans, f"{name} ter", "Rename")
    plans.keyboard.type(f"{name} bis")
    plans.keyboard.press("Enter")
    expect(plans.get_by_role("alert")).to_contain_text("another plan is called")
    plans.keyboard.press("Escape")
    act(plans, f"{name} ter", "Remove")
    expect(row(plans, f"{name} ter")).to_have_count(0)
    plans.get_by_role("status").filter(has_text="ter is removed").get_by_role("button").click()
    expect(row(plans, f"{name} ter")).to_be_visible()
    act(plans, f"{name} ter", "Remove")
    plans.reload()
    gone = plans.get_by_role("list", name="Removed plans").get_by_role("listitem")
    gone.filter(has_text=f"{name} ter").get_by_role("button", name="Restore").click()
    expect(row(plans, f"{name} ter")).to_be_visible()


def test_revisions_say_who_saved_them_and_what_they_changed(plans, name):
    act(plans, name, "Rename")
    plans.keyboard.type(f"{name} bis")
    plans.keyboard.press("Enter")
    act(plans, f"{name} bis", "Revisions")
    mine = row(plans, f"{name} bis")
    expect(mine).to_contain_text("ana,")
    mine.get_by_role("button", name="What r2 changed").click()
    expect(mine).to_contain_text(f"name: {name} → {name} bis")
    first = mine.get_by_role("listitem").filter(has_text="begun")
    first.get_by_role("button", name="New plan from it").click()
    expect(plans.get_by_label(f"Name of {name} bis (2)")).to_be_focused()


def test_plans_are_found_and_put_in_order(plans, name):
    names = plans.get_by_role("list", name="Plans").get_by_test_id("plan")
    plans.get_by_label("Find a plan").fill(name[-6:])
    expect(names).to_have_text([name, f"Aal {name[-6:]}"])
    plans.get_by_role("radio", name="Last saved first").focus()
    plans.keyboard.press("ArrowRight")
    expect(plans.get_by_role("radio", name="By name")).to_be_focused()
    expect(names).to_have_text([f"Aal {name[-6:]}", name])
    plans.get_by_label("Find a plan").fill("nowhere at all")
    expect(plans.get_by_text("No plan has “nowhere at all” in it.")).to_be_visible()


def test_a_plan_file_that_is_dropped_is_opened(plans, name):
    text = json.dumps({**demo_plan(), "name": f"{name} dropped"})
    transfer = plans.evaluate_handle(
        """text => {
            const transfer = new DataTransfer()
            transfer.items.add(new File([text], 'pier.json', { type: 'application/json' }))
            return transfer
        }""",
        text,
    )
    plans.get_by_role("main").dispatch_event("drop", {"dataTransfer": transfer})
    expect(plans.get_by_role("heading", level=1)).to_contain_text(f"{name} dropped")


def test_a_week_in_small_is_drawn(plans, name):
    picture = row(plans, name).get_by_role("img", name="Its week: at most")
    expect(picture.locator("path")).to_have_count(3)
