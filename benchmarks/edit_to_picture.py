"""From releasing a handle to the second animation frame with the new picture, in a real browser:
an edit on the Board, and the session limit on the sizing picture.

2,000 people; every edit sets a value not seen before, so that no kept answer can serve it.
"""

from __future__ import annotations

import json
import os
import statistics
import urllib.request
from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryDirectory

from playwright.sync_api import Page, sync_playwright

from benchmarks.weeks import office_of
from idle_harbor.launch.browser import ARGUMENTS, chromium
from idle_harbor.launch.cluster import Cluster
from idle_harbor.launch.frontend import build_frontend
from idle_harbor.launch.tools import free_port
from idle_harbor.launch.webserver import end, serve
from idle_harbor.store.database import migrate

PEOPLE = 2_000
EDITS = 40

_WATCH = r"""() => {
  window.__edits = []
  window.__server = []
  const answered = () => document.querySelector('[data-answered]')?.dataset.answered
  addEventListener('pointerup', () => {
    const released = performance.now()
    const before = answered()
    const watcher = new MutationObserver(() => {
      if (answered() === before) return
      watcher.disconnect()
      requestAnimationFrame(() => requestAnimationFrame(() =>
        window.__edits.push(performance.now() - released)))
    })
    watcher.observe(document.querySelector('[data-answered]'), { attributes: true })
  }, true)
  const send = window.fetch
  window.fetch = async (...args) => {
    const begun = performance.now()
    const answer = await send(...args)
    if (/simulations\/week$|hosts\/sizing$/.test(String(args[0]?.url ?? args[0])))
      window.__server.push(performance.now() - begun)
    return answer
  }
}"""


@dataclass(frozen=True, slots=True)
class EditTime:
    """Milliseconds from release to picture, and of the request alone (95th percentiles)."""

    p50: float
    p95: float
    request_p95: float
    edits: int


def _nearest(values: list[float], share: float) -> float:
    ordered = sorted(values)
    return ordered[min(len(ordered) - 1, int(share * len(ordered)))]


def _gesture(page: Page, handle: str, number: int, along: tuple[int, int], at: float) -> None:
    """Press on a handle, move a little, release: there and back by turns, a new step each time."""
    box = page.get_by_test_id(handle).nth(1 if handle == "ceiling" else 0).bounding_box()
    assert box is not None
    x = box["x"] + (box["width"] / 2 if handle == "ceiling" else 9)
    y = box["y"] + at
    page.mouse.move(x, y)
    page.mouse.down()
    step = (3 + number % 23) * (1 if number % 2 else -1)
    page.mouse.move(x + along[0] * step, y + along[1] * step)
    page.wait_for_timeout(250)
    before = page.evaluate("window.__edits.length")
    last = step + (2 if number % 2 else -2)
    page.mouse.move(x + along[0] * last, y + along[1] * last)
    page.mouse.up()
    page.wait_for_function(f"window.__edits.length > {before}", timeout=10_000)
    page.wait_for_timeout(150)


@dataclass(frozen=True, slots=True)
class Measured:
    """The Board's edit, and a drag of the session limit on the sizing picture."""

    board: EditTime
    sizing: EditTime


def measure() -> Measured:
    """Drive the Board and the Hosts view of a server and database of its own."""
    build_frontend()
    cluster = Cluster(f"bench-{os.getpid()}")
    address = cluster.start()
    try:
        migrate(address)
        port = free_port()
        with TemporaryDirectory() as folder:
            child = serve(port, address, Path(folder) / "server.log")
            try:
                return _drive(f"http://127.0.0.1:{port}")
            finally:
                end(child)
    finally:
        cluster.remove()


def _times(page: Page) -> EditTime:
    edits: list[float] = page.evaluate("window.__edits")
    requests: list[float] = page.evaluate("window.__server")
    return EditTime(
        statistics.median(edits), _nearest(edits, 0.95), _nearest(requests, 0.95), len(edits)
    )


def _drive(site: str) -> Measured:
    body = json.dumps({"plan": office_of(PEOPLE), "words": "bench"}).encode()
    request = urllib.request.Request(
        f"{site}/api/plans", body, {"Content-Type": "application/json"}, method="POST"
    )
    with urllib.request.urlopen(request) as answer:
        plan_id = json.load(answer)["id"]
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium(), args=list(ARGUMENTS))
        page = browser.new_page(viewport={"width": 1280, "height": 800}, bypass_csp=True)
        page.add_init_script(f"({_WATCH})()")
        page.goto(f"{site}/plans/{plan_id}/board")
        page.get_by_text("Means of 8").wait_for()
        for number in range(EDITS):
            _gesture(page, "ceiling", number, (0, 1), 17)
        board = _times(page)
        page.goto(f"{site}/plans/{plan_id}/hosts")
        page.get_by_test_id("limit").wait_for()
        page.wait_for_timeout(1000)
        for number in range(EDITS):
            # A session is some twenty pixels wide: every gesture ends at another limit.
            _gesture(page, "limit", number, (8, 0), 60)
        sizing = _times(page)
        browser.close()
    return Measured(board, sizing)
