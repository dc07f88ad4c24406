"""The database stopped, the server killed: the page says so, keeps the edit, and recovers."""

import os
import re
import signal
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from idle_harbor.demo.load import load_demo
from idle_harbor.launch.cluster import Cluster
from idle_harbor.launch.tools import free_port
from idle_harbor.launch.webserver import end, serve
from idle_harbor.store.database import migrate
from tests.browser.looking import enter


@pytest.fixture
def cluster() -> Iterator[Cluster]:
    own = Cluster(f"fault-{os.getpid()}", passing=True)
    own.start()
    yield own
    own.remove()


def opened(browser: Browser, address: str) -> Page:
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.goto(f"{address}/plans/1/board")
    expect(page.get_by_test_id("basis")).to_contain_text("Means of 8", timeout=20_000)
    return page


def test_faults(browser: Browser, cluster: Cluster, site: str, tmp_path: Path):
    """One server through both faults, since starting it is what takes time."""
    address = cluster.whereabouts.address
    migrate(address)
    load_demo(address)
    port, log = free_port(), tmp_path / "server.log"
    child = serve(port, address, log)
    try:
        page = opened(browser, f"http://127.0.0.1:{port}")
        floor = page.get_by_label("Floor", exact=True)

        # The database stops: an edit is still simulated, saving says what is wrong and keeps it.
        cluster.stop()
        enter(floor, "30")
        expect(page.get_by_test_id("basis")).to_contain_text("Means of 8", timeout=20_000)
        page.get_by_test_id("save").click()
        page.get_by_test_id("save-now").click()
        note = page.get_by_test_id("problem")
        expect(note).to_contain_text("The database does not answer", timeout=15_000)
        expect(floor).to_have_value("30")
        expect(page.get_by_test_id("state")).to_contain_text("edited")
        cluster.start()
        page.get_by_test_id("save").click()
        page.get_by_test_id("save-now").click()
        expect(page.get_by_test_id("state")).to_have_text("r2", timeout=15_000)
        expect(note).to_have_count(0)

        # The server is killed: the page says so once, and goes on by itself once it is back.
        os.killpg(child.pid, signal.SIGKILL)
        child.wait(10)
        with page.expect_event("requestfailed", lambda each: each.url.endswith("/words")):
            enter(floor, "36")
        expect(note).to_contain_text("The server does not answer")
        child = serve(port, address, log)
        expect(note).to_have_count(0, timeout=15_000)
        expect(page.get_by_test_id("basis")).to_contain_text("Means of 8", timeout=20_000)
        expect(floor).to_have_value("36")
        assert re.search(r"\d", page.get_by_test_id("month").inner_text())
    finally:
        end(child)
