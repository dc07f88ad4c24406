"""A server with plans of many people, and pages of it in a real browser."""

from __future__ import annotations

import json
import os
import time
import urllib.request
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from http.client import HTTPConnection
from itertools import chain
from pathlib import Path
from tempfile import TemporaryDirectory
from threading import Barrier
from typing import Any
from uuid import uuid4

from playwright.sync_api import Browser, Page

from benchmarks.weeks import office_of
from idle_harbor.launch.cluster import Cluster
from idle_harbor.launch.frontend import build_frontend
from idle_harbor.launch.tools import free_port
from idle_harbor.launch.webserver import end, serve
from idle_harbor.store.database import migrate

_JSON = {"Content-Type": "application/json"}


@contextmanager
def served() -> Iterator[str]:
    """The address of a server with a database of its own, both gone afterwards."""
    build_frontend()
    cluster = Cluster(f"bench-{os.getpid()}")
    address = cluster.start()
    try:
        migrate(address)
        port = free_port()
        with TemporaryDirectory() as folder:
            child = serve(port, address, Path(folder) / "server.log")
            try:
                yield f"http://127.0.0.1:{port}"
            finally:
                end(child)
    finally:
        cluster.remove()


def store_plan(site: str, people: int, hosts: int | None = None) -> int:
    """The number of a plan of so many people, on as many hosts as they need or so many."""
    plan = {**office_of(people), "name": f"Office of {people}"}
    if hosts is not None:
        plan["pools"][0]["hosts"]["standing"] = hosts
    body = json.dumps({"plan": plan, "words": "bench"}).encode()
    request = urllib.request.Request(f"{site}/api/plans", body, _JSON, method="POST")
    with urllib.request.urlopen(request) as answer:
        number: int = json.load(answer)["id"]
    return number


def time_server(site: str, plan: int, askers: int = 1, edits: int = 60) -> float:
    """The 95th percentile of what the server alone takes for a preview, in milliseconds, where so
    many ask at once: no page is open, every plan is one that was not asked about, and it is sent as
    a page sends it, with names for the lists that have not changed."""
    with urllib.request.urlopen(f"{site}/api/plans/{plan}") as answer:
        document = json.load(answer)["plan"]
    body = {"plan": document, "pool": document["pools"][0]["id"]}
    whole = urllib.request.Request(f"{site}/api/simulations/week", json.dumps(body).encode(), _JSON)
    with urllib.request.urlopen(whole) as answer:
        names = json.loads(answer.headers["Plan-Parts"])
    changing = document.pop("schedules")
    names.pop("schedules", None)
    for field in names:
        document.pop(field)

    def ask(asker: int) -> list[float]:
        schedules = json.loads(json.dumps(changing))
        band = schedules[0]["day_types"][0]["bands"][1]
        asked = {
            **body,
            "plan": {**document, "schedules": schedules},
            "parts": names,
            "preview": True,
            "day": 0,
            "tab": uuid4().hex,
        }
        connection = HTTPConnection(site.removeprefix("http://"))
        took = []
        for number in range(edits):
            band["fill_ceiling"] = round(0.4 + 0.005 * number + 0.001 * asker, 3)
            text = json.dumps({**asked, "edit": number + 1})
            together.wait()
            begun = time.perf_counter()
            connection.request("POST", "/api/simulations/week", text, _JSON)
            got = connection.getresponse()
            said = got.read()
            took.append(1000 * (time.perf_counter() - begun))
            if got.status != 200:
                together.abort()
                raise AssertionError(said)
        connection.close()
        return took

    together = Barrier(askers)
    with ThreadPoolExecutor(askers) as several:
        took = sorted(chain.from_iterable(several.map(ask, range(askers))))
    return took[int(0.95 * len(took))]


def open_page(browser: Browser, address: str, ready: str, script: str = "") -> Page:
    """A page of its own with a script in it, once ``ready`` is there and all is quiet."""
    context: dict[str, Any] = {"viewport": {"width": 1280, "height": 800}, "bypass_csp": True}
    page = browser.new_page(**context)
    page.add_init_script(script)
    page.goto(address)
    page.locator(ready).wait_for()
    page.wait_for_timeout(2500)
    return page
