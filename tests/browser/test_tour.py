"""Once through all views of the demo by their keys: what a quick run sees of the page."""

import re

from playwright.sync_api import expect

from tests.browser.looking import settled


def test_every_view_answers(watched):
    page = watched.open("/")
    page.get_by_test_id("plan").filter(has_text="Quillmoor Water").click()
    settled(page)
    expect(page.get_by_test_id("day")).to_have_count(7)
    shown = {
        "1": ("people", "peak-sentence", "Head office"),
        "2": ("hosts", "sizing-sentence", "binds first"),
        "3": ("pools", "pool-table", "Metering"),
        "6": ("tuner", "question", "so that the promise costs least"),
        "7": ("checks", "checks-sentence", "of"),
        "4": ("board", "month", "€"),
    }
    for key, (view, part, text) in shown.items():
        page.keyboard.press(key)
        expect(page).to_have_url(re.compile(view))
        expect(page.get_by_test_id(part)).to_contain_text(text)
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth"), view

    # An edit is answered, and undone.
    settled(page)
    month = page.get_by_test_id("month").inner_text()
    page.get_by_test_id("edge").first.focus()
    for _ in range(6):
        page.keyboard.press("ArrowLeft")
    settled(page)
    assert page.get_by_test_id("month").inner_text() != month
    while page.get_by_test_id("undo").is_enabled():
        page.get_by_test_id("undo").click()
    settled(page)
    assert page.get_by_test_id("month").inner_text() == month
