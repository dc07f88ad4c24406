"""The web server's memory while a thousand jobs are asked for, followed and read."""

from __future__ import annotations

import json
import threading
import urllib.request
from dataclasses import dataclass
from datetime import date, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from benchmarks.jobs import database, working
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.launch.tools import free_port
from idle_harbor.launch.webserver import end, serve

_JSON = {"Content-Type": "application/json"}
#: Jobs before the first look: what is read and kept once is there then.
_WARM = 200
_AT_ONCE = 10


@dataclass(frozen=True, slots=True)
class Footprint:
    """Megabytes that the web server holds after the first jobs and after all of them."""

    jobs: int
    before: float
    after: float


def _held(pid: int) -> float:
    lines = Path(f"/proc/{pid}/status").read_text().splitlines()
    return next(int(line.split()[1]) / 1000 for line in lines if line.startswith("VmRSS:"))


def _ask(site: str, path: str, body: Any = None) -> Any:
    data = None if body is None else json.dumps(body).encode()
    with urllib.request.urlopen(
        urllib.request.Request(f"{site}/api/{path}", data, _JSON), timeout=60
    ) as answer:
        return json.loads(answer.readline())


def _listen(site: str) -> None:
    def read() -> None:
        try:
            with urllib.request.urlopen(f"{site}/api/jobs/events") as answer:
                for _ in answer:
                    pass
        except OSError:
            return

    threading.Thread(target=read, daemon=True).start()


def measure_footprint(many: int = 1_000) -> Footprint:
    """Have so many jobs done, a few at a time, while five pages listen."""
    plan = demo_plan()
    with TemporaryDirectory() as folder, database() as (address, _, __):
        port = free_port()
        child = serve(port, address, Path(folder) / "web.log")
        site, before = f"http://127.0.0.1:{port}", 0.0
        try:
            with working(1, address, Path(folder) / "workers.log"):
                for _ in range(5):
                    _listen(site)
                for begin in range(0, many + _WARM, _AT_ONCE):
                    if begin == _WARM:
                        before = _held(child.pid)
                    _some(site, plan, begin)
            return Footprint(many, before, _held(child.pid))
        finally:
            end(child)


def _some(site: str, plan: dict[str, Any], begin: int) -> None:
    """Ask for a few jobs of one week each, and read what comes of them."""
    asked = []
    for number in range(begin, begin + _AT_ONCE):
        first = date(2024, 1, 1) + timedelta(days=number)
        body = {"plan": plan, "pool": "counters", "seeds": 1, "first": str(first)}
        asked.append(_ask(site, "simulations/range/long", body)["job"]["id"])
    for job in asked:
        while not _ask(site, f"simulations/range/long/{job}").get("answer"):
            _ask(site, "jobs")


if __name__ == "__main__":
    print(measure_footprint())
