"""Without a mouse: in every view a value of each kind is reached with Tab and changed by keys."""

import pytest
from playwright.sync_api import Page, expect

from idle_harbor.demo.scenario import demo_plan

#: More than any view has things to reach.
MOST = 400
#: What the focus is on: its kind, whether it may be changed, and what it says.
FOCUS = """() => {
    const at = document.activeElement
    if (!at || !at.closest('main, aside') || at.disabled) return null
    const role = at.getAttribute('role')
    const kind = at.tagName === 'SELECT' ? 'choice'
        : at.type === 'checkbox' ? 'tick'
        : at.type === 'range' ? 'range'
        : role === 'slider' && at.closest('.handle') ? 'handle'
        : role === 'radio' || role === 'tab' ? 'one of some'
        : at.tagName !== 'INPUT' || !at.dataset.path ? null
        : at.inputMode === 'decimal' ? 'number' : 'text'
    if (!kind || at.getAttribute('aria-disabled')) return null
    if (kind === 'choice' && at.options.length < 2) return null
    return { kind, name: at.getAttribute('aria-label') ?? '' }
}"""
SAYS = """() => {
    const at = document.activeElement
    return at.getAttribute('aria-valuenow') ?? at.textContent + ' ' + (at.checked ?? '') + at.value
}"""
#: How a kind is changed; a text keeps its place in a sentence, so that it stays one.
KEYS = {
    "choice": ("ArrowDown",),
    "tick": ("Space",),
    "range": ("ArrowRight",),
    "handle": ("ArrowUp",),
    "one of some": ("ArrowRight",),
    "number": ("ArrowUp", "Enter"),
}
#: Where a value is at its end already, the other way.
BACK = {"ArrowUp": "ArrowDown", "ArrowDown": "ArrowUp", "ArrowRight": "ArrowLeft"}


def change(page: Page, kind: str) -> bool:
    before = page.evaluate(SAYS)
    for way in ({}, BACK):
        for key in KEYS[kind]:
            page.keyboard.press(way.get(key, key))
        if page.evaluate(SAYS) != before:
            return True
    return False


@pytest.mark.parametrize(
    ("view", "kinds"),
    [
        ("people?group=billing", {"number", "choice", "range", "handle", "one of some"}),
        ("hosts?pool=office", {"number", "choice", "handle", "one of some"}),
        ("pools?pool=office", {"number", "choice"}),
        ("board?pool=office&band=1", {"number", "choice", "handle", "one of some"}),
        ("tuner?pool=line", {"number", "choice"}),
    ],
)
def test_a_value_of_every_kind_is_changed_by_keys(watched, view, kinds):
    page = watched.open(f"{watched.own(demo_plan())}/{view}")
    expect(page.locator("main")).to_be_visible()
    expect(page.locator("main input, main select").first).to_be_visible(timeout=20_000)
    changed: dict[str, str] = {}
    unmoved: list[str] = []
    page.get_by_role("button", name="Skip to the view").focus()
    for _ in range(MOST):
        page.keyboard.press("Tab")
        at = page.evaluate(FOCUS)
        if at is None or at["kind"] in changed or at["kind"] == "text":
            continue
        if change(page, at["kind"]):
            changed[at["kind"]] = at["name"]
        else:
            unmoved.append(f"{at['kind']} {at['name']}")
        if changed.keys() >= kinds:
            break
    assert changed.keys() >= kinds, (changed, unmoved)
