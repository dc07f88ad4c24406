"""From releasing a handle to the frame after the one with the figures and the picture of the
released value, in a real browser: bands dragged on the Board, the session limit on the sizing
picture, the start of a working time on the People view.

Each drag takes many steps, and every one of them means a plan that was never asked about, so that
no kept answer can serve it; nor was the value at which the handle is let go. While dragging, the
previews that are answered are counted.
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass

from playwright.sync_api import Browser, Page, sync_playwright

from benchmarks.lanes import Frames, time_lanes
from benchmarks.pages import open_page, served, store_plan, time_server
from benchmarks.weeks import office_of
from idle_harbor.launch.browser import ARGUMENTS, chromium

DRAGS = 60
#: Moves of a drag, one a frame: as a hand makes them, which a driver that waits for each cannot.
STEPS = 36

_WATCH = r"""() => {
  window.__drags = []
  let answered = 0, request = 0, asked = 0, pressed = 0, before = 0
  let held = null
  addEventListener('pointerdown', (e) => {
    held = e.target.closest('[role=slider]')
    window.__held = held !== null
    pressed = performance.now()
    before = answered
  }, true)
  window.__move = (x, y, dx, dy, steps) => {
    let step = 0
    const next = () => {
      const over = step === steps
      // Let go two steps further: at a value that no preview was asked for.
      step += over ? 2 : 1
      held.dispatchEvent(new PointerEvent(over ? 'pointerup' : 'pointermove', { pointerId: 1,
        buttons: over ? 0 : 1, bubbles: true, clientX: x + dx * step, clientY: y + dy * step }))
      if (!over) requestAnimationFrame(next)
    }
    requestAnimationFrame(next)
  }
  addEventListener('pointerup', () => {
    if (!held) return
    held = null
    const released = performance.now()
    const previews = answered - before, until = asked
    const look = () => {
      if (document.querySelector('[data-fits]')?.dataset.fits !== 'true')
        return requestAnimationFrame(look)
      const stood = performance.now()
      // What this frame draws is drawn when the next one begins.
      requestAnimationFrame(() => window.__drags.push({
        total: performance.now() - released, request, frames: performance.now() - stood,
        previews, dragged: released - pressed, anew: asked - until }))
    }
    requestAnimationFrame(look)
  }, true)
  const send = window.fetch
  window.fetch = async (...args) => {
    const begun = performance.now()
    const where = String(args[0]?.url ?? args[0])
    const counts = /simulations\/week$|hosts\/sizing$|people\/crowd$/.test(where)
    if (counts) asked += 1
    const answer = await send(...args)
    if (counts) {
      request = performance.now() - begun
      answered += 1
    }
    return answer
  }
}"""


@dataclass(frozen=True, slots=True)
class EditTime:
    """Milliseconds from release to picture (median and 95th percentile; the latter also over the
    drags for which the machine ran at its full speed), of the request and of the frames alone
    (95th percentiles), and previews answered a second while dragging (likewise)."""

    p50: float
    p95: float
    p95_full: float
    request_p95: float
    frames_p95: float
    previews: float
    previews_full: float
    drags: int


#: A machine that is shared runs at full speed while fixed work takes at most so many times its
#: shortest time.
_FULL = 1.3


def _pace() -> float:
    """Milliseconds that fixed work takes now."""
    begun = time.perf_counter()
    sum(range(400_000))
    return 1000 * (time.perf_counter() - begun)


def _nearest(values: list[float], share: float) -> float:
    ordered = sorted(values)
    return ordered[min(len(ordered) - 1, int(share * len(ordered)))]


def _previews(drags: list[dict[str, float]]) -> float:
    return 1000 * sum(drag["previews"] for drag in drags) / sum(drag["dragged"] for drag in drags)


def _times(drags: list[dict[str, float]]) -> EditTime:
    assert all(drag["anew"] for drag in drags), "a handle was released and nothing asked"
    total = [drag["total"] for drag in drags]
    best = min(drag["pace"] for drag in drags)
    full = [drag for drag in drags if drag["pace"] <= _FULL * best]
    return EditTime(
        statistics.median(total),
        _nearest(total, 0.95),
        _nearest([drag["total"] for drag in full], 0.95),
        _nearest([drag["request"] for drag in drags], 0.95),
        _nearest([drag["frames"] for drag in drags], 0.95),
        _previews(drags),
        _previews(full),
        len(drags),
    )


@dataclass(frozen=True, slots=True)
class Handle:
    """Where a handle is taken and which way it goes: pixels a step, there and back by turns.

    Each drag goes through more values than a second of previews needs.
    """

    where: str
    number: int
    grip: tuple[float, float]
    step: tuple[float, float]


EDGE = Handle("[data-testid=edge]", 0, (9, 10), (4, 0))
CEILING = Handle("[data-testid=ceiling]", 1, (0.5, 7), (0, 1.5))
LIMIT = Handle("[data-testid=limit] .catch", 0, (0.5, 60), (10, 0))
START = Handle("[data-testid=pattern-start]", 0, (7, 20), (3, 0))


def _press(page: Page, handle: Handle) -> tuple[float, float]:
    box = page.locator(handle.where).nth(handle.number).bounding_box()
    assert box is not None
    across, down = handle.grip
    x = box["x"] + (box["width"] * across if across < 1 else across)
    y = box["y"] + down
    page.mouse.move(x, y)
    page.mouse.down()
    assert page.evaluate("window.__held"), f"nothing to hold where {handle.where} should be"
    return x, y


def _another_spare(page: Page, number: int) -> None:
    """Have other hosts to spare: the few session limits that there are then mean other pictures."""
    field = page.get_by_label("Hosts to spare")
    field.fill(str(number + 1))
    field.press("Enter")
    page.wait_for_timeout(300)


def _drag(pages: list[Page], handle: Handle, number: int, back: int) -> None:
    """Drag a handle on all pages at once, and wait until each has drawn what came of it."""
    # Uneven ways, so that no place is come to twice.
    reach = STEPS - number % 5
    across, down = (back * each for each in handle.step)
    places = [_press(page, handle) for page in pages]
    for page, (x, y) in zip(pages, places, strict=True):
        page.evaluate(
            "([x, y, dx, dy, steps]) => window.__move(x, y, dx, dy, steps)",
            [x, y, across, down, reach],
        )
    for page in pages:
        page.wait_for_function(f"window.__drags.length > {number}", timeout=20_000)
    # The hand has let go in the page; now the driver's mouse does.
    for page, (x, y) in zip(pages, places, strict=True):
        page.mouse.move(x + across * (reach + 2), y + down * (reach + 2))
        page.mouse.up()


def _drags(
    pages: list[Page],
    handles: list[Handle],
    count: int,
    first: Callable[[Page, int], None] = lambda page, number: None,
) -> list[dict[str, float]]:
    """Drag on all pages at once, so many times on each, after something else; what each page has
    measured.

    Once more with each handle before that: then the browser compiles the page's code.
    """
    paces: list[float] = []
    unmeasured = len(handles)
    for number in range(unmeasured + count):
        for page in pages:
            first(page, number)
        before = _pace()
        back = -1 if number // len(handles) % 2 else 1
        _drag(pages, handles[number % len(handles)], number, back)
        paces.append(max(before, _pace()))
        pages[0].wait_for_timeout(300)
    found: list[dict[str, float]] = []
    for page in pages:
        measured = list(zip(page.evaluate("window.__drags"), paces, strict=True))[unmeasured:]
        found += [{**drag, "pace": pace} for drag, pace in measured]
    return found


@dataclass(frozen=True, slots=True)
class Measured:
    """The Board with 2,000 and 10,000 people, with four pages at once, the sizing picture, the
    People view, and the lanes of 300 hosts; the server alone with 2,000 people, asked by one and by
    four at once (95th percentiles, milliseconds)."""

    board: EditTime
    large: EditTime
    four: EditTime
    sizing: EditTime
    people: EditTime
    lanes: Frames
    server: float
    server_four: float


def measure() -> Measured:
    """Drive the Board and the Hosts view of a server and database of its own."""
    with served() as site:
        return _drive(site)


def _page(browser: Browser, address: str, ready: str) -> Page:
    return open_page(browser, address, ready, script=f"({_WATCH})()")


def _drive(site: str) -> Measured:
    few, many = store_plan(site, 2_000), store_plan(site, 10_000)
    board = "[data-testid=edge] >> nth=0"
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium(), args=list(ARGUMENTS))

        def on_board(plan: int, pages: int, drags: int) -> EditTime:
            opened = [_page(browser, f"{site}/plans/{plan}/board", board) for _ in range(pages)]
            found = _drags(opened, [EDGE, CEILING], drags)
            for page in opened:
                page.close()
            return _times(found)

        one = on_board(few, 1, DRAGS)
        large = on_board(many, 1, DRAGS // 2)
        four = on_board(few, 4, DRAGS // 4)
        page = _page(browser, f"{site}/plans/{few}/hosts", "[data-testid=limit]")
        sizing = _times(_drags([page], [LIMIT], DRAGS // 2, _another_spare))
        group = office_of(2_000)["groups"][0]["id"]
        page = _page(browser, f"{site}/plans/{few}/people?group={group}", START.where)
        page.locator(START.where).scroll_into_view_if_needed()
        people = _times(_drags([page], [START], DRAGS // 2))
        lanes = time_lanes(browser, site)
        browser.close()
    alone, together = time_server(site, few), time_server(site, few, askers=4)
    return Measured(one, large, four, sizing, people, lanes, alone, together)


if __name__ == "__main__":
    print(measure())
