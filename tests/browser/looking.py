"""What the browser's tests look at in every view."""

from __future__ import annotations

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page


def nothing_serious(page: Page) -> None:
    """Nothing that would keep somebody with assistive technology from using the page."""
    found = Axe().run(page, options={"resultTypes": ["violations"]}).response["violations"]
    serious = [v for v in found if v["impact"] in ("serious", "critical")]
    assert [(v["id"], [n["html"][:120] for n in v["nodes"][:3]]) for v in serious] == []
