"""Jobs as one worker works on them: parts, stop, failure, the same asked twice, kept parts."""

import time
from dataclasses import replace

import pytest

from idle_harbor.core.base.stopping import go_on
from idle_harbor.core.errors import Fault, TooMuchError
from idle_harbor.jobs import work
from idle_harbor.jobs.kind import Kind
from idle_harbor.jobs.kinds.registry import KINDS
from idle_harbor.jobs.queue import ask
from idle_harbor.store.jobs import MOST_OF_OWNER, Holder, Jobs, NoSuchJob, TooManyJobs, Wish


@pytest.fixture
def squares(monkeypatch):
    """A kind whose parts are squares, and which parts were worked out."""
    done = []

    def open_(given):
        def part(number):
            if given.get("fails") == number:
                raise TooMuchError(Fault("", f"part {number}", "ask for less"))
            done.append(number)
            return number * number

        return part

    kind = Kind("squares", open_, whole=lambda _, parts: {"sum": sum(parts)})
    monkeypatch.setitem(KINDS, "squares", kind)
    return done


def wish(many=10, key="k", owner="page", priority=0, **given):
    return Wish("squares", key, "Squares", owner, priority, {"many": many, **given}, many)


def test_a_job_is_worked_on_to_its_end(database, squares):
    job = ask(database, wish())
    jobs = Jobs(database)
    assert (job["state"], job["made"]) == ("waiting", True)
    with Holder(database) as holder:
        work.help_with(database, holder.number, job["id"])
    told = jobs.job(job["id"])
    assert (told["state"], told["done"], told["parts"]) == ("done", 10, 10)
    assert jobs.result(job["id"])["result"] == {"sum": 285}
    assert squares == list(range(10))
    assert [row["body"] for row in jobs.parts(job["id"])] == [k * k for k in range(10)]


def test_the_same_asked_twice_is_one_job(database, squares):
    first, second = ask(database, wish()), ask(database, wish(owner="other", priority=5))
    assert second == {**first, "made": False}
    assert Jobs(database).job(first["id"])["priority"] == 5
    with Holder(database) as holder:
        work.help_with(database, holder.number, first["id"])
    assert ask(database, wish())["state"] == "done"
    assert len(squares) == 10
    assert ask(database, wish(key="other"))["id"] != first["id"]


def test_a_part_that_fails_ends_the_job_and_what_was_done_counts_when_it_goes_on(database, squares):
    job = ask(database, wish(fails=4))
    jobs = Jobs(database)
    with Holder(database) as holder:
        work.help_with(database, holder.number, job["id"])
        told = jobs.job(job["id"])
        assert (told["state"], told["problem"]) == ("failed", "/: part 4; ask for less")
        kept = told["done"]
        assert kept >= 1
        # Nobody helps with what is over.
        work.help_with(database, holder.number, job["id"])
        before = len(squares)
        assert ask(database, wish(fails=4))["state"] == "waiting"
        work.help_with(database, holder.number, job["id"])
    assert jobs.job(job["id"])["state"] == "failed"
    assert not set(squares[:before]) & set(squares[before:])
    assert jobs.job(job["id"])["done"] == len(squares)


def test_a_stopped_job_is_left_where_it_is_and_goes_on_there(database, squares, monkeypatch):
    job = ask(database, wish(many=50))
    jobs = Jobs(database)
    claim = jobs.claim

    def stops(self, job_id, holder, many, fewest=1):
        if jobs.job(job_id)["done"] >= 5:
            jobs.end(job_id, "stopped")
        return claim(job_id, holder, many, fewest)

    with Holder(database) as holder:
        with monkeypatch.context() as patch:
            patch.setattr(Jobs, "claim", stops)
            patch.setattr(work, "_LOOK_UP", 0.0)
            patch.setattr(work, "_MOST_CLAIMED", 1)
            work.help_with(database, holder.number, job["id"])
        told = jobs.job(job["id"])
        assert told["state"] == "stopped" and 5 <= told["done"] < 50
        ask(database, wish(many=50))
        work.help_with(database, holder.number, job["id"])
    assert jobs.job(job["id"])["state"] == "done"
    assert squares == list(range(50))


def test_parts_of_a_holder_that_has_gone_are_anybodys(database, squares):
    job = ask(database, wish())
    jobs = Jobs(database)
    jobs.begin(job["id"])
    with Holder(database) as first, Holder(database) as second:
        assert jobs.claim(job["id"], first.number, 4, 4) == [0, 1, 2, 3]
        assert jobs.claim(job["id"], second.number, 4, 4) == [4, 5, 6, 7]
        assert jobs.claim(job["id"], second.number, 9, 9) == [8, 9]
        assert jobs.claim(job["id"], second.number, 9, 9) == []
    with Holder(database) as third:
        # The server lets go of a holder's lock once it has noticed that its connection is closed.
        taken, until = [], time.monotonic() + 20
        while len(taken) < 10 and time.monotonic() < until:
            taken += jobs.claim(job["id"], third.number, 99, 99)
        assert sorted(taken) == list(range(10))
        jobs.give_back(job["id"], third.number)
        assert jobs.without_help() == []  # an entry of the queue is about it
        work.help_with(database, third.number, job["id"])
    assert jobs.job(job["id"])["state"] == "done"


def test_a_part_is_kept_once(database, squares):
    job = ask(database, wish(many=2))
    jobs = Jobs(database)
    jobs.keep(job["id"], [(0, "first")])
    assert jobs.left(job["id"]) == 1
    jobs.keep(job["id"], [(0, "again"), (1, "second")])
    assert jobs.left(job["id"]) == 0
    assert [row["body"] for row in jobs.parts(job["id"])] == ["first", "second"]


def test_one_owner_has_so_many_at_once(database, squares):
    for k in range(MOST_OF_OWNER):
        ask(database, wish(key=str(k)))
    with pytest.raises(TooManyJobs):
        ask(database, wish(key="more"))
    assert ask(database, wish(key="0"))["made"] is False
    assert ask(database, wish(key="more", owner="somebody"))["made"]


def test_what_is_not_there(database):
    with pytest.raises(NoSuchJob):
        Jobs(database).job(10**9)
    assert Jobs(database).begin(10**9) is None and Jobs(database).state(10**9) is None


def test_towards_the_end_fewer_are_taken_at_once(database, squares):
    job = ask(database, wish(many=100))
    jobs = Jobs(database)
    with Holder(database) as first, Holder(database) as second:
        taken = jobs.claim(job["id"], first.number, 256)
        # Half of what is left, dealt out to the two who are there.
        assert taken == list(range(25))
        jobs.keep(job["id"], [(k, k) for k in taken])
        assert len(jobs.claim(job["id"], second.number, 256)) == 18
        assert len(jobs.claim(job["id"], second.number, 5)) == 5
        assert len(jobs.claim(job["id"], second.number, 256, 30)) == 30


def test_no_more_are_claimed_than_asked_for(database, squares):
    job = ask(database, wish(many=400))
    jobs = Jobs(database)
    with Holder(database) as holder:
        for k in range(3):
            assert jobs.claim(job["id"], holder.number, 7, 7) == list(range(7 * k, 7 * k + 7))


def test_what_was_asked_of_another_engine_is_not_mixed_with_ours(database, squares):
    job = ask(database, replace(wish(), engine="of last year"))
    with Holder(database) as holder:
        work.help_with(database, holder.number, job["id"])
    told = Jobs(database).job(job["id"])
    assert told["state"] == "failed" and "another version" in told["problem"] and squares == []


def test_a_part_may_not_take_for_ever(database, monkeypatch):
    def open_(given):
        def part(number):
            while True:
                go_on()

        return part

    monkeypatch.setitem(KINDS, "squares", Kind("squares", open_))
    monkeypatch.setattr(work, "LONGEST_PART", 0.2)
    monkeypatch.setattr(work, "_LOOK_UP", 0.05)
    job = ask(database, wish())
    with Holder(database) as holder:
        work.help_with(database, holder.number, job["id"])
    told = Jobs(database).job(job["id"])
    assert (told["state"], told["done"]) == ("failed", 0) and "longer than it may" in told[
        "problem"
    ]


def test_a_part_that_needs_too_much_memory_says_so(database, monkeypatch):
    def part(number):
        raise MemoryError

    monkeypatch.setitem(KINDS, "squares", Kind("squares", lambda given: part))
    job = ask(database, wish())
    with Holder(database) as holder:
        work.help_with(database, holder.number, job["id"])
    assert "more memory than a worker may have" in Jobs(database).job(job["id"])["problem"]
