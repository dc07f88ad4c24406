"""Studies in the queue: the same answer, bit for bit, however many work on it and however often
they are stopped."""

import json
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

import pytest

from idle_harbor.core.tuner import Question, ordinary, tune
from idle_harbor.core.tuner.designs.design import design_of
from idle_harbor.core.tuner.scoring.scores import Slot
from idle_harbor.core.tuner.scoring.trials import Trial, put_together
from idle_harbor.formats.reports.studies import answer_values, question_of, question_values
from idle_harbor.jobs import work
from idle_harbor.jobs.executors import Machines
from idle_harbor.jobs.kinds.study import pieces_of, study_wish
from idle_harbor.jobs.queue import ask, ask_for_help
from idle_harbor.store.database import Database
from idle_harbor.store.jobs import Holder, Jobs
from tests.core.plans import plan
from tests.jobs.test_executors import machines as machines
from tests.sizes import size

PLAN = plan(promise={"lost_returns": 1, "forced_share": 1, "refused_share": 0.01})
QUESTION = Question("main", ordinary(PLAN), budget=size(150, 400))


@pytest.fixture(scope="module")
def answer():
    """As it comes without a database."""
    return json.loads(json.dumps(answer_values(PLAN, QUESTION, tune(PLAN, QUESTION))))


def test_a_question_is_written_and_read_to_the_same():
    asked = Question("main", ordinary(PLAN), ("limit",), ("pools.size",), (("x.y", 1.0, 2.5),))
    assert question_of(json.loads(json.dumps(question_values(asked)))) == asked


def test_one_worker_finds_what_a_search_without_a_queue_does(database, answer):
    job = ask(database, study_wish(PLAN, QUESTION))
    with Holder(database) as holder:
        work.help_with(database, holder.number, job["id"])
    jobs = Jobs(database)
    told = jobs.job(job["id"])
    assert (told["state"], told["problem"]) == ("done", "")
    assert told["done"] == told["parts"] == len(jobs.parts(job["id"]))
    assert jobs.result(job["id"])["result"] == answer


def test_two_workers_share_the_rounds(database, database_address, answer):
    job = ask(database, study_wish(PLAN, QUESTION))

    def help_(_):
        with Database(database_address) as own, Holder(own) as holder:
            work.help_with(own, holder.number, job["id"])

    with ThreadPoolExecutor(2) as pool:
        list(pool.map(help_, range(2)))
    assert Jobs(database).result(job["id"])["result"] == answer


def test_machines_elsewhere_find_the_same(database, answer, machines: Machines):
    job = ask(database, study_wish(PLAN, QUESTION))
    with Holder(database) as holder:
        work.help_with(database, holder.number, job["id"], executor=machines)
    assert Jobs(database).result(job["id"])["result"] == answer


def test_one_that_is_stopped_goes_on_where_it_was(database, answer, monkeypatch):
    job = ask(database, study_wish(PLAN, QUESTION))
    jobs = Jobs(database)
    keep, kept = Jobs.keep, []

    def stops(self, job_id, done):
        kept.extend(number for number, _ in done)
        keep(self, job_id, done)
        if 30 <= len(kept) < 34:
            jobs.end(job_id, "stopped")

    monkeypatch.setattr(Jobs, "keep", stops)
    monkeypatch.setattr(work, "_LOOK_UP", 0.0)
    with Holder(database) as holder:
        work.help_with(database, holder.number, job["id"])
        assert jobs.job(job["id"])["state"] == "stopped"
        while jobs.job(job["id"])["state"] != "done":
            ask(database, study_wish(PLAN, QUESTION))
            work.help_with(database, holder.number, job["id"])
    assert jobs.result(job["id"])["result"] == answer
    assert len(kept) == len(set(kept))


def test_what_is_found_so_far_is_told(database, monkeypatch):
    monkeypatch.setattr(work, "_TELL", 0.0)
    told = []
    tell = Jobs.tell_so_far

    def listen(self, job_id, found):
        told.append(found["so_far"])
        tell(self, job_id, found)

    monkeypatch.setattr(Jobs, "tell_so_far", listen)
    job = ask(database, study_wish(PLAN, QUESTION))
    with Holder(database) as holder:
        work.help_with(database, holder.number, job["id"])
    used = [each["used"] for each in told]
    assert used == sorted(used) and used[-1] > used[0]
    assert told[-1]["today"]["money"] > told[-1]["ideal"] > 0
    assert told[-1]["best"]["pool"]["id"] == "main" and len(told[-1]["rules"]) == 5
    assert told[-1]["points"] and told[-1]["budget"] == QUESTION.budget


@pytest.mark.parametrize("weeks", [[1], [16], [3, 1, 2], [1] * 16, [48, 1], [5] * 100])
def test_a_round_falls_into_pieces_that_several_can_work_on(weeks):
    design = design_of(PLAN, "main")
    trials = [
        Trial(design, tuple(Slot(k, 1_000 * k + n) for n in range(many)))
        for k, many in enumerate(weeks)
    ]
    pieces = pieces_of(trials)
    parts = [part for piece in pieces for part in piece]
    asked = [list(part.slots) for part in parts]
    assert put_together(trials, asked) == [list(trial.slots) for trial in trials]
    total = sum(weeks)
    assert min(total, 12) <= len(pieces) <= 26
    assert max(sum(len(part.slots) for part in piece) for piece in pieces) <= max(total // 10, 1)
    assert pieces_of([]) == []


def test_two_studies_that_take_turns_on_one_worker_are_each_followed_once(
    database, answer, monkeypatch
):
    begun = []
    rounds = work._Followed

    def counted(key, found):
        begun.append(key)
        return rounds(key, found)

    monkeypatch.setattr(work, "_Followed", counted)
    monkeypatch.setattr(work, "_TURN", 0.0)
    one = ask(database, study_wish(PLAN, QUESTION))["id"]
    other = ask(database, study_wish(PLAN, replace(QUESTION, seed=2)))["id"]
    jobs = Jobs(database)
    turns = 0
    with Holder(database) as holder:
        while "done" not in (jobs.state(one), jobs.state(other)):
            turns += 1
            for job_id in (one, other):
                with database.connection() as connection:
                    ask_for_help(connection, one + other - job_id, "study", 1)
                work.help_with(database, holder.number, job_id)
        for job_id in (one, other):
            work.help_with(database, holder.number, job_id)
    assert jobs.result(one)["result"] == answer
    assert turns > 5 and len(begun) == 2


def _parts_by_the_clock(monkeypatch, seconds_each):
    """Parts are kept as if each took so long after the one before it."""
    parts = Jobs.parts

    def timed(self, job_id, since=0):
        return [{**row, "after": seconds_each * row["part"]} for row in parts(self, job_id, since)]

    monkeypatch.setattr(Jobs, "parts", timed)


def test_one_that_ends_by_seconds_ends_at_the_same_week_for_all(database, monkeypatch):
    _parts_by_the_clock(monkeypatch, 1.0)
    asked = replace(QUESTION, budget=2_000, seconds=40)
    jobs = Jobs(database)
    with Holder(database) as holder:
        job = ask(database, study_wish(PLAN, asked))
        work.help_with(database, holder.number, job["id"])
        found = jobs.result(job["id"])["result"]
        assert found["early"] and 40 <= found["weeks"] < 1_500

        # Stopped after it was ended early, and followed anew by one that has seen nothing of it.
        again = ask(database, study_wish(PLAN, replace(asked, seconds=41)))
        keep, done = Jobs.keep, 0

        def stops(self, job_id, parts):
            nonlocal done
            keep(self, job_id, parts)
            done += len(parts)
            if 55 <= done < 60:
                jobs.end(job_id, "stopped")

        monkeypatch.setattr(Jobs, "keep", stops)
        monkeypatch.setattr(work, "_LOOK_UP", 0.0)
        while jobs.job(again["id"])["state"] in ("waiting", "running"):
            work.help_with(database, holder.number, again["id"])
        assert jobs.job(again["id"])["state"] == "stopped"
        while jobs.job(again["id"])["state"] != "done":
            work._followed.clear()
            ask(database, study_wish(PLAN, replace(asked, seconds=41)))
            work.help_with(database, holder.number, again["id"])
    whole = jobs.result(again["id"])["result"]
    assert whole == found


def test_parts_are_kept_with_the_seconds_since_the_job_was_begun(database):
    job = ask(database, study_wish(PLAN, replace(QUESTION, seconds=3_600)))
    with Holder(database) as holder:
        work.help_with(database, holder.number, job["id"])
    after = [row["after"] for row in Jobs(database).parts(job["id"])]
    assert 0.0 <= min(after) < max(after) < 3_600
    assert not Jobs(database).result(job["id"])["result"]["early"]
