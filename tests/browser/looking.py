"""What the browser's tests look at in every view."""

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Locator, Page, expect

#: Resolves when nothing fades or slides any more; what turns for ever is left out.
STILL = """() => Promise.all(document.getAnimations()
    .filter((each) => each.effect.getComputedTiming().iterations !== Infinity)
    .map((each) => each.finished.catch(() => null)))"""


def nothing_serious(page: Page, but: str = "") -> None:
    """Nothing that would keep somebody with assistive technology from using the page, ``but`` for
    what a selector names."""
    # Half faded in, a text has half its contrast.
    page.evaluate(STILL)
    context = {"exclude": [[but]]} if but else None
    found = Axe().run(page, context, options={"resultTypes": ["violations"]}).response["violations"]
    serious = [v for v in found if v["impact"] in ("serious", "critical")]
    told = [(v["id"], [n["html"][:120] for n in v["nodes"][:3]]) for v in serious]
    assert told == [], told


def settled(page: Page) -> None:
    """Wait until the newest edit is answered and the figures of all seeds are shown."""
    expect(page.locator(".picture")).to_have_attribute("aria-busy", "false", timeout=20_000)
    expect(page.get_by_test_id("basis")).to_contain_text("Means of 8", timeout=20_000)


def enter(field: Locator, text: str) -> None:
    """Type into a field, and finish with Enter."""
    field.fill(text)
    field.press("Enter")


def value(page: Page, gauge: str) -> str:
    return page.get_by_test_id(f"gauge-{gauge}").locator(".value").inner_text()


def hold(page: Page, handle: Locator, by_x: float, by_y: float, grip: tuple[float, float]) -> None:
    """Press on a point of a handle (relative to its box), move in steps, and hold it there."""
    box = handle.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] * grip[0], box["y"] + grip[1]
    page.mouse.move(x, y)
    page.mouse.down()
    for step in range(1, 6):
        page.mouse.move(x + by_x * step / 5, y + by_y * step / 5)


def drag(page: Page, handle: Locator, by_x: float, by_y: float, grip: tuple[float, float]) -> None:
    """The same, and let go."""
    hold(page, handle, by_x, by_y, grip)
    page.mouse.up()
