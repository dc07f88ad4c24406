"""Frames a second while the lanes of 300 hosts are zoomed and moved, in a real browser."""

from __future__ import annotations

import statistics
from dataclasses import dataclass

from playwright.sync_api import Browser

from benchmarks.pages import open_page, store_plan

PEOPLE = 4_000
HOSTS = 300
SECONDS = 4

#: Every frame brings a turn of the wheel: nearer, aside, and away again; in between the rows move.
_TURN = r"""async ([seconds]) => {
  const lanes = document.querySelector('[data-testid=lanes]')
  const box = lanes.getBoundingClientRect()
  const turn = (deltaX, deltaY, ctrlKey) => lanes.dispatchEvent(new WheelEvent('wheel', {
    deltaX, deltaY, ctrlKey, shiftKey: !ctrlKey, bubbles: true, cancelable: true,
    clientX: box.left + box.width * 0.45, clientY: box.top + 40 }))
  const frame = () => new Promise(requestAnimationFrame)
  const frames = []
  const begun = await frame()
  for (let last = begun, k = 0; last - begun < seconds * 1000; k += 1) {
    const phase = k % 120
    if (phase < 40) turn(0, -12, true)
    else if (phase < 80) turn(phase < 60 ? 9 : -9, 0, false)
    else turn(0, 12, true)
    lanes.scrollTop = (lanes.scrollHeight - lanes.clientHeight) * Math.abs(Math.sin(k / 40))
    const now = await frame()
    frames.push(now - last)
    last = now
  }
  return frames
}"""

_DRAWN = r"""() => {
  const lanes = document.querySelector('[data-testid=lanes]')
  return lanes.scrollHeight > 2 * lanes.clientHeight
}"""


@dataclass(frozen=True, slots=True)
class Frames:
    """Frames a second, and milliseconds of a frame: median and 95th percentile."""

    a_second: float
    p50: float
    p95: float


def time_lanes(browser: Browser, site: str) -> Frames:
    """Zoom and move the lanes of a pool with ``HOSTS`` hosts on a page of its own."""
    plan = store_plan(site, PEOPLE, hosts=HOSTS)
    page = open_page(browser, f"{site}/plans/{plan}/board", "[data-testid=lanes]")
    page.wait_for_function(_DRAWN, timeout=60_000)
    found: list[float] = page.evaluate(_TURN, [SECONDS])
    page.close()
    ordered = sorted(found)
    return Frames(
        1000 * len(found) / sum(found),
        statistics.median(found),
        ordered[int(0.95 * len(ordered))],
    )
