"""The real interface: a server of the tests' own, and Debian's Chromium."""

import re
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any
from uuid import uuid4

import psycopg
import pytest
from playwright.sync_api import (
    Browser,
    BrowserContext,
    CDPSession,
    ConsoleMessage,
    Page,
    expect,
    sync_playwright,
)

from idle_harbor.demo.load import load_demo
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.launch.browser import ARGUMENTS, chromium
from idle_harbor.launch.frontend import build_frontend
from idle_harbor.launch.tools import free_port
from idle_harbor.launch.webserver import end, serve
from idle_harbor.launch.workers import Workers
from idle_harbor.store.database import migrate

# An answer takes a second; a machine that has other things to do may take many.
expect.set_options(timeout=30_000)


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        opened = playwright.chromium.launch(executable_path=chromium(), args=list(ARGUMENTS))
        yield opened
        opened.close()


def _demo(cluster_address: str) -> str:
    """The address of a database of its own with the demo's data."""
    build_frontend()
    name = f"b{uuid4().hex[:16]}"
    with psycopg.connect(cluster_address, autocommit=True) as admin:
        admin.execute(f'CREATE DATABASE "{name}"')
    address = cluster_address.replace("/postgres?", f"/{name}?")
    migrate(address)
    load_demo(address)
    return address


@pytest.fixture(scope="session")
def site(cluster_address: str, tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """The address of a running application with demo data."""
    address = _demo(cluster_address)
    port = free_port()
    log: Path = tmp_path_factory.mktemp("server") / "server.log"
    child = serve(port, address, log)
    workers = Workers(1, address, log.with_name("workers.log"))
    yield f"http://127.0.0.1:{port}"
    workers.end()
    end(child)


@pytest.fixture
def pair(cluster_address: str, tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """The address that two servers share, on the demo's data, with a worker."""
    address, folder = _demo(cluster_address), tmp_path_factory.mktemp("pair")
    port = free_port()
    children = [serve(port, address, folder / f"{name}.log", shared=True) for name in "ab"]
    workers = Workers(1, address, folder / "workers.log")
    yield f"http://127.0.0.1:{port}"
    workers.end()
    for child in children:
        end(child)


class Watched:
    """A page whose console errors fail the test."""

    def __init__(self, page: Page, site: str) -> None:
        self.page = page
        self.site = site
        self.errors: list[str] = []
        self.allowed: re.Pattern[str] | None = None
        page.on("console", self._hear)
        page.on("pageerror", lambda e: self.errors.append(str(e)))

    def _hear(self, message: ConsoleMessage) -> None:
        if message.type == "error":
            self.errors.append(f"{message.text} ({message.location.get('url', '')})")

    def open(self, path: str, ready: Callable[[Page], None] | None = None) -> Page:
        """The page at a path, when a function has waited until it is ready."""
        self.page.goto(self.site + path)
        if ready is not None:
            ready(self.page)
        return self.page

    def own(self, plan: dict[str, Any], name: str = "Copy") -> str:
        """The path of a plan that nobody else has."""
        named = {**plan, "name": f"{name} {uuid4().hex[:8]}"}
        answer = self.page.request.post(
            f"{self.site}/api/plans", data={"plan": named, "words": "copied"}
        )
        return f"/plans/{answer.json()['id']}"

    def check(self) -> None:
        wrong = [e for e in self.errors if not (self.allowed and self.allowed.search(e))]
        assert wrong == []


@pytest.fixture(scope="session")
def window(browser: Browser) -> Iterator[BrowserContext]:
    """A window for all tests: what it has read and compiled of the page once is not read again."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, color_scheme="light")
    yield context
    context.close()


@pytest.fixture(scope="session")
def rest(window: BrowserContext) -> CDPSession:
    """A page that stays empty: through it the window is told to forget what pages have kept."""
    return window.new_cdp_session(window.new_page())


@pytest.fixture
def watched(window: BrowserContext, rest: CDPSession, site: str) -> Iterator[Watched]:
    resting = list(window.pages)
    found = Watched(window.new_page(), site)
    yield found
    for page in window.pages:
        if page not in resting:
            page.close()
    rest.send("Storage.clearDataForOrigin", {"origin": site, "storageTypes": "all"})
    found.check()


@pytest.fixture
def demo(watched) -> str:
    """The path of a plan of its own, alike to the demo's."""
    return f"{watched.own(demo_plan())}/board"
