"""From releasing a handle to the second animation frame with the new picture, in a real browser.

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
from idle_harbor.launch.start import end, serve
from idle_harbor.launch.tools import free_port
from idle_harbor.store.database import migrate

PEOPLE = 2_000
EDITS = 40

_WATCH = """() => {
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
    if (String(args[0]?.url ?? args[0]).endsWith('/simulations/week'))
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


def _edit(page: Page, number: int) -> None:
    """One gesture: press on the fill ceiling's handle, move a little, release."""
    handle = page.get_by_test_id("ceiling").nth(1)
    box = handle.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + 17
    page.mouse.move(x, y)
    page.mouse.down()
    # Down and up by turns, each time by a step not taken before.
    step = (3 + number % 23) * (1 if number % 2 else -1)
    page.mouse.move(x, y + step)
    page.wait_for_timeout(250)
    before = page.evaluate("window.__edits.length")
    page.mouse.move(x, y + step + (2 if number % 2 else -2))
    page.mouse.up()
    page.wait_for_function(f"window.__edits.length > {before}", timeout=10_000)
    page.wait_for_timeout(150)


def measure() -> EditTime:
    """Drive the Board of a server and database of its own."""
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


def _drive(site: str) -> EditTime:
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
            _edit(page, number)
        edits: list[float] = page.evaluate("window.__edits")
        requests: list[float] = page.evaluate("window.__server")
        browser.close()
    return EditTime(
        statistics.median(edits), _nearest(edits, 0.95), _nearest(requests, 0.95), len(edits)
    )
