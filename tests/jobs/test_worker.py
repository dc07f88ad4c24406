"""Workers as processes: they do what is asked, are killed, and nothing finished is lost."""

import os
import signal
import time
from pathlib import Path

import pytest

from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import plan_of
from idle_harbor.jobs.asking import LOOKED_AT
from idle_harbor.jobs.kinds.weeks import RANGE, ManyWeeks
from idle_harbor.jobs.kinds.year import YEAR, PoolYear
from idle_harbor.jobs.queue import ask
from idle_harbor.launch.workers import Workers
from idle_harbor.store.jobs import Holder, Jobs

PLAN = plan_of(demo_plan())


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
    wish = YEAR.wish(PoolYear(PLAN, "field", 2027))
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
    weeks = [row["body"] for row in Jobs(database).parts(job["id"])]

    from idle_harbor.jobs.kinds.registry import KINDS

    part = KINDS["year"].open(wish.input)
    assert weeks == [part(k) for k in range(53)]


def test_a_range_over_many_seeds_is_what_one_process_says(database, workers):
    from idle_harbor.core.weeks.summary import simulate
    from idle_harbor.formats.reports.figures import figures_values

    workers(2)
    job = ask(database, RANGE.wish(ManyWeeks(PLAN, "counters", 40)))
    until(database, job["id"])
    told = Jobs(database).result(job["id"])["result"]
    assert told == figures_values(simulate(PLAN, "counters", 40))


def test_a_stop_lets_the_worker_go(database, workers):
    running = workers(1)
    job = ask(database, RANGE.wish(ManyWeeks(PLAN, "office", 5_000)))
    until(database, job["id"], state="running", done=5)
    pids = running.pids
    Jobs(database).end(job["id"], "stopped")
    # The worker is free for somebody else.
    other = ask(database, RANGE.wish(ManyWeeks(PLAN, "counters", 2)))
    until(database, other["id"])
    done = Jobs(database).job(job["id"])["done"]
    assert done < 5_000 and running.pids == pids
    third = ask(database, RANGE.wish(ManyWeeks(PLAN, "counters", 3)))
    until(database, third["id"])
    assert Jobs(database).job(job["id"])["done"] == done


def test_a_worker_that_is_told_to_end_gives_back_what_it_works_on(database, workers):
    running = workers(1)
    job = ask(database, RANGE.wish(ManyWeeks(PLAN, "office", 5_000)))
    until(database, job["id"], state="running", done=5)
    running.end()
    told = Jobs(database).job(job["id"])
    assert told["state"] == "running" and 5 <= told["done"] < 5_000
    with Holder(database) as holder:
        # Every part that is not done is free.
        free = Jobs(database).claim(job["id"], holder.number, 5_000, 5_000)
        assert len(free) == 5_000 - told["done"]


def test_what_is_urgent_comes_first(database, workers):
    workers(1)
    long = ask(database, RANGE.wish(ManyWeeks(PLAN, "office", 3_000)))
    until(database, long["id"], state="running", done=3)
    urgent = ask(database, RANGE.wish(ManyWeeks(PLAN, "counters", 2), priority=LOOKED_AT))
    until(database, urgent["id"])
    assert Jobs(database).job(long["id"])["state"] == "running"
    done = Jobs(database).job(long["id"])["done"]
    until(database, long["id"], state="running", done=done + 1)


def test_a_job_that_cannot_be_says_why(database, workers):
    workers(1)
    job = ask(database, RANGE.wish(ManyWeeks(PLAN, "nowhere", 3)))
    told = until(database, job["id"], state="failed")
    assert "no pool called 'nowhere'" in told["problem"]
