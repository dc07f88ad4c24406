"""Bounds of jobs under races, and jobs that a worker cannot do."""

from concurrent.futures import ThreadPoolExecutor
from threading import Event, Thread

import pytest

from idle_harbor.jobs import worker
from idle_harbor.jobs.kinds.registry import KINDS
from idle_harbor.jobs.queue import again, ask
from idle_harbor.jobs.work import help_with
from idle_harbor.store import jobs as store
from idle_harbor.store.jobs import Holder, Jobs, TooManyJobs, Wish


def wish(key, owner="page", kind="range", **given):
    return Wish(kind, f"{kind} {key}", "Title", owner, 0, given, 1)


def tried(work):
    try:
        return work()
    except TooManyJobs:
        return None


@pytest.mark.parametrize(
    ("owner", "bound", "most"),
    [(lambda k: "one", "MOST_OF_OWNER", 5), (lambda k: f"o{k % 6}", "MOST_LIVE", 9)],
    ids=["of an owner", "of everybody"],
)
def test_no_race_makes_more_jobs_than_may_be(database, monkeypatch, owner, bound, most):
    monkeypatch.setattr(store, bound, most)
    with ThreadPoolExecutor(8) as many:
        wishes = [wish(k, owner(k)) for k in range(40)]
        made = list(many.map(lambda each: tried(lambda: ask(database, each)), wishes))
    assert sum(each is not None for each in made) == most
    assert len(Jobs(database).jobs(100)) == most


def test_what_is_asked_again_counts(database, monkeypatch):
    monkeypatch.setattr(store, "MOST_OF_OWNER", 2)
    jobs = Jobs(database)
    stopped = [ask(database, wish(k))["id"] for k in range(2)]
    for job_id in stopped:
        jobs.end(job_id, "stopped")
    kept = [ask(database, wish(k))["id"] for k in range(2, 4)]
    for go_on in (lambda: again(database, stopped[0]), lambda: ask(database, wish(0))):
        with pytest.raises(TooManyJobs, match="2 jobs of yours"):
            go_on()
    assert jobs.state(stopped[0]) == "stopped"
    # Nor does anybody take over more of another's than they may have.
    other = ask(database, wish("other", "another"))["id"]
    with pytest.raises(TooManyJobs):
        ask(database, wish("other"))
    assert jobs.job(other)["owner"] == "another"
    jobs.end(kept[0], "stopped")
    again(database, stopped[0])
    assert jobs.state(stopped[0]) == "waiting"


def test_a_job_of_another_version_is_left_and_lost_ones_are_looked_after(database, monkeypatch):
    """A worker that does not know its kind says so, and goes on looking after the others."""
    monkeypatch.setitem(KINDS, "new", KINDS["range"])
    strange = ask(database, wish(1, kind="new"))["id"]
    monkeypatch.delitem(KINDS, "new")
    lost = ask(database, wish(2))["id"]
    with database.connection() as connection:
        connection.execute("DELETE FROM procrastinate_jobs")
    jobs, done = Jobs(database), Event()
    with Holder(database) as holder:
        help_with(database, holder.number, strange)
    assert jobs.state(strange) == "waiting"
    monkeypatch.setattr(worker, "_LOOK", 0.05)
    thread = Thread(target=worker._look_after, args=(database, done))
    thread.start()
    try:
        for _ in range(200):
            with database.connection() as connection:
                found = connection.execute("SELECT args FROM procrastinate_jobs").fetchall()
            if found:
                break
            done.wait(0.05)
        assert [row["args"]["job_id"] for row in found] == [lost] and thread.is_alive()
    finally:
        done.set()
        thread.join(10)
    told = jobs.job(strange)
    assert told["state"] == "waiting" and "knows work of the kind 'new'" in told["problem"]


def test_a_job_about_an_import_that_is_gone_fails_with_its_reason(database):
    job = ask(database, wish(1, kind="import", what="read", **{"import": 999}))["id"]
    with Holder(database) as holder:
        help_with(database, holder.number, job)
    told = Jobs(database).job(job)
    assert (told["state"], told["problem"]) == ("failed", "import 999: there is no such import")
