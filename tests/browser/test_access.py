"""Every view by day and by night, at twice its size, and by keyboard alone."""

import pytest
from playwright.sync_api import Page, expect

from tests.browser.looking import nothing_serious

DEMO = "/plans/1"
#: Each view, and what of it is open besides.
LOOKS = (
    "/",
    f"{DEMO}/board?pool=office",
    f"{DEMO}/people",
    f"{DEMO}/people?group=billing",
    f"{DEMO}/people?group=depot-counters&show=peaks",
    f"{DEMO}/people?panel=directory&show=year",
    f"{DEMO}/hosts?pool=drawings",
    f"{DEMO}/pools?pool=counters",
    f"{DEMO}/pools?show=settings",
    f"{DEMO}/tuner?pool=line",
    f"{DEMO}/checks",
)


def quiet(page: Page) -> None:
    """Wait until nothing is asked for any more that the view shows."""
    page.wait_for_load_state("networkidle")
    expect(page.locator("main")).not_to_have_attribute("aria-busy", "true", timeout=30_000)
    expect(page.locator(".picture[aria-busy=true]")).to_have_count(0, timeout=30_000)


def open_all(page: Page) -> None:
    """Show what a click away would show."""
    for name in ("more", "gauge-wait"):
        if page.get_by_test_id(name).count():
            page.get_by_test_id(name).click()


#: What a field is called where it is edited in a sentence, by its path in the plan.
LABELS = """() => [...document.querySelectorAll('[data-path]:not(td *)')]
    .filter((each) => each.dataset.path && each.getAttribute('aria-label'))
    .map((each) => [each.dataset.path, each.getAttribute('aria-label')])"""
called: dict[str, set[str]] = {}


@pytest.mark.parametrize("look", LOOKS)
def test_a_view_is_read_by_day_by_night_and_at_twice_its_size(watched, look):
    page = watched.open(look, quiet)
    open_all(page)
    for path, label in page.evaluate(LABELS):
        called.setdefault(path, set()).add(label)
    nothing_serious(page)
    page.get_by_role("button", name="Show the night chart").click()
    nothing_serious(page)
    # A page of 1280 at 200 % has the room of one of 640: it scrolls in one direction alone.
    page.set_viewport_size({"width": 640, "height": 400})
    wide = "document.documentElement.scrollWidth - innerWidth"
    page.wait_for_function(f"() => {wide} <= 0", timeout=5_000)
    expect(page.get_by_role("main").or_(page.get_by_role("heading", level=1)).first).to_be_visible()


def test_a_field_is_called_the_same_wherever_it_is_edited(watched):
    """The views that were read above, and the sentences of the Board."""
    page = watched.open(f"{DEMO}/board?pool=office", quiet)
    page.get_by_role("button", name="Hosts, sessions and promise").click()
    expect(page.get_by_label("Kind of pool")).to_be_visible()
    for path, label in page.evaluate(LABELS):
        called.setdefault(path, set()).add(label)
    # One path stands for the names of all things, each of which says what it is.
    names = {label for label in called.pop("pools.name", set()) if not label.startswith("Name of ")}
    twice = {path: labels for path, labels in called.items() if len(labels) > 1}
    assert names == set()
    assert len(called) > 20 and twice == {}


def test_a_plan_of_nothing_is_read_too(watched):
    page = watched.open(f"{watched.own({'week_of': '2027-03-01'}, 'Empty')}/board", quiet)
    nothing_serious(page)


def test_choices_of_a_row_are_gone_through_with_arrow_keys(watched):
    page = watched.open(f"{DEMO}/checks", quiet)
    row = page.get_by_role("radiogroup", name="Which checks")
    row.get_by_role("radio", name="all").focus()
    page.keyboard.press("ArrowRight")
    chosen = row.get_by_role("radio", checked=True)
    expect(chosen).to_be_focused()
    expect(chosen).not_to_have_text("all")
    # One that found nothing cannot be chosen, and is passed over.
    expect(chosen).to_be_enabled()
    page.keyboard.press("ArrowLeft")
    expect(row.get_by_role("radio", name="all")).to_be_focused()


def test_a_refused_value_tells_its_reason_with_the_field(watched):
    page = watched.open(f"{DEMO}/pools?pool=office", quiet)
    field = page.get_by_label("Standing hosts", exact=True)
    field.fill("many")
    field.press("Enter")
    expect(field).to_have_attribute("aria-invalid", "true")
    reason = page.locator(f"#{field.get_attribute('aria-describedby')}")
    expect(reason).to_have_role("alert")
    field.press("Escape")
    expect(field).to_have_attribute("aria-invalid", "false")
