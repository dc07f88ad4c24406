"""Refresh docs/screenshots from a running demo: ``python -m benchmarks.screenshots [ADDRESS]``."""

from __future__ import annotations

import sys
from collections.abc import Callable

from playwright.sync_api import Page, sync_playwright

from idle_harbor.launch.browser import ARGUMENTS, chromium
from idle_harbor.runtime import CHECKOUT

SITE = "http://127.0.0.1:8466"
#: Milliseconds in which a page has asked for all that it shows, and has it.
_SETTLES = 3_000


def _nothing(_: Page) -> None:
    return


def _sentences(page: Page) -> None:
    page.get_by_test_id("more").click()


def _load_rule(page: Page) -> None:
    page.get_by_label("Add a rule").select_option("a load rule")
    page.get_by_test_id("load-rule").wait_for()
    page.get_by_text("Means of 8").wait_for()


def _kinds(page: Page) -> None:
    page.get_by_test_id("open-year").click()
    page.get_by_test_id("others").wait_for()


def _weekly(page: Page) -> None:
    page.get_by_test_id("weekly").click()
    page.get_by_test_id("many").click()
    page.get_by_text("Means of 256").wait_for()
    page.get_by_test_id("year-of-weeks").filter(has_text="promise is broken").wait_for()
    page.get_by_test_id("jobs").click()


def _tuned(page: Page) -> None:
    page.get_by_label("What may change").select_option("everything")
    page.get_by_test_id("search").click()
    page.get_by_test_id("verdict").wait_for(timeout=180_000)


def _together(page: Page) -> None:
    page.get_by_label("Weeks of candidates").fill("600")
    page.keyboard.press("Enter")
    page.get_by_test_id("search").click()
    page.get_by_test_id("together-verdict").wait_for(timeout=600_000)


def _waits(page: Page) -> None:
    page.get_by_test_id("gauge-wait").click()


def _range(page: Page) -> None:
    page.get_by_test_id("peak-sentence").filter(has_text="such weeks").wait_for()


def _year(page: Page) -> None:
    page.get_by_test_id("year").wait_for()
    _range(page)


def _checked(page: Page) -> None:
    page.get_by_test_id("simulate").click()
    page.get_by_test_id("checked").wait_for()


def _pools(page: Page) -> None:
    page.get_by_test_id("ask-kinds").click()
    page.get_by_test_id("kinds").get_by_role("table").wait_for()


def _findings(page: Page) -> None:
    page.get_by_test_id("finding").first.wait_for()


def _preview(page: Page) -> None:
    page.get_by_test_id("ask-stand-in").click()
    page.locator("[data-testid=import][data-state=ready]").wait_for()


def main(site: str) -> None:
    """Take one picture of each main view at 1280 × 800."""
    folder = CHECKOUT / "docs" / "screenshots"
    folder.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium(), args=list(ARGUMENTS))

        def shoot(
            name: str, path: str, act: Callable[[Page], None], *, night: bool = False
        ) -> None:
            page = browser.new_page(
                viewport={"width": 1280, "height": 800},
                color_scheme="dark" if night else "light",
            )
            page.goto(site + path)
            # Events keep a connection open for as long as the page is: it is never idle.
            page.wait_for_timeout(_SETTLES)
            act(page)
            page.wait_for_timeout(600)
            page.screenshot(path=folder / f"{name}.png")
            page.close()

        shoot("plans", "/", _nothing)
        shoot("board", "/plans/1/board", _waits)
        shoot("board-night", "/plans/1/board?day=2", _nothing, night=True)
        shoot("load-rule", "/plans/1/board?band=1", _load_rule)
        shoot("year", "/plans/1/board", _kinds)
        shoot("jobs", "/plans/1/board?pool=line", _weekly)
        shoot("tuner", "/plans/1/tuner?pool=office", _tuned)
        shoot("all-pools", "/plans/1/tuner?pool=all pools", _together)
        shoot("sentences", "/plans/1/board", _sentences)
        shoot("hosts", "/plans/1/hosts?size=ketch", _checked)
        shoot("pools", "/plans/1/pools?pool=metering", _pools)
        shoot("checks", "/plans/1/checks", _findings)
        people = "/plans/1/people"
        shoot("people", people, _range)
        shoot("people-pattern", f"{people}?group=billing", _range)
        shoot("people-year", f"{people}?show=year&week=2027-10-18", _year)
        shoot("people-directory", f"{people}?panel=directory", _preview)
        page = browser.new_page()
        plan = {"name": "Harbour office", "week_of": "2027-03-01"}
        page.request.post(f"{site}/api/plans", data={"plan": plan})
        listed = page.request.get(f"{site}/api/plans").json()["plans"]
        number = next(p["id"] for p in listed if p["name"] == plan["name"])
        shoot("first", f"/plans/{number}/board", _nothing)
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else SITE)
