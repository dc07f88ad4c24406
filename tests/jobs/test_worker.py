"""Workers as processes: they do what is asked, are killed, and nothing finished is lost."""

from __future__ import annotations

import os
import signal
import time
from pathlib import Path

import pytest

from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import plan_of, to_values
from idle_harbor.jobs.asking import range_wish, year_wish
from idle_harbor.jobs.queue import ask
from idle_harbor.launch.workers import Workers
from idle_harbor.store.jobs import Jobs

PLAN = to_values(plan_of(demo_plan()))


@pytest.fixture
def workers(database_address, tmp_path):
    running = []

    def begin(many=1):
        running.append(Workers(many, database_address, tmp_path / "worker.log"))
        return running[-1]

    yield begin
    for each in running:
        each.end()
    log: Path = tmp_path / "worker.log"
    assert "Traceback" not in log.read_text()


def until(database, job_id, *, state="done", done=0, seconds=60.0, each=lambda: None):
    """The job once it is in a state with so many parts done; everything else fails."""
    jobs, end = Jobs(database), time.monotonic() + seconds
    while time.monotonic() < end:
        told = jobs.job(job_id)
        if told["state"] == state and told["done"] >= done:
            return told
        assert told["state"] in ("waiting", "running"), told
        each()
        time.sleep(0.02)
    raise AssertionError(jobs.job(job_id))


def test_a_year_is_worked_on_and_the_same_whatever_is_killed(database, workers):
    wish = year_wish(PLAN, "field", 2027, "page")
    killed = workers(2)
    job = ask(database, wish)
    for which, done in enumerate((2, 12)):
        until(database, job["id"], state="running", done=done, each=killed.look)
        before = {row["part"]: row["body"] for row in Jobs(database).parts(job["id"])}
        os.kill(killed.pids[which], signal.SIGKILL)
        now = {row["part"]: row["body"] for row in Jobs(database).parts(job["id"])}
        assert before.items() <= now.items()
    told = until(database, job["id"], each=killed.look)
    assert told["done"] == told["parts"] == 53
    weeks = Jobs(database).result(job["id"])["result"]["weeks"]

    from idle_harbor.jobs.kinds import KINDS

    part = KINDS["year"].open(wish.input)
    assert weeks == [part(k) for k in range(53)]


def test_a_range_over_many_seeds_is_what_one_process_says(database, workers):
    from idle_harbor.core.summary import simulate
    from idle_harbor.formats.reports.figures import figures_values

    workers(2)
    job = ask(database, range_wish(PLAN, "counters", 40, owner="page"))
    until(database, job["id"])
    told = Jobs(database).result(job["id"])["result"]
    assert told == figures_values(simulate(plan_of(demo_plan()), "counters", 40))


def test_a_stop_is_heard_within_a_second(database, workers):
    running = workers(1)
    job = ask(database, range_wish(PLAN, "office", 5_000, owner="page"))
    until(database, job["id"], state="running", done=5)
    Jobs(database).end(job["id"], "stopped")
    time.sleep(1.0)
    done = Jobs(database).job(job["id"])["done"]
    # The worker is free for somebody else at once.
    other = ask(database, range_wish(PLAN, "counters", 2, owner="page"))
    until(database, other["id"], seconds=3.0)
    assert Jobs(database).job(job["id"])["done"] == done < 5_000
    assert len(running.pids) == 1


def test_what_is_urgent_comes_first(database, workers):
    workers(1)
    long = ask(database, range_wish(PLAN, "office", 3_000, owner="page"))
    until(database, long["id"], state="running", done=3)
    urgent = ask(database, range_wish(PLAN, "counters", 2, owner="page", priority=5))
    until(database, urgent["id"], seconds=3.0)
    assert Jobs(database).job(long["id"])["state"] == "running"
    done = Jobs(database).job(long["id"])["done"]
    until(database, long["id"], state="running", done=done + 1, seconds=5.0)


def test_a_job_that_cannot_be_says_why(database, workers):
    workers(1)
    job = ask(database, range_wish(PLAN, "nowhere", 3, owner="page"))
    told = until(database, job["id"], state="failed")
    assert "no pool called 'nowhere'" in told["problem"]
