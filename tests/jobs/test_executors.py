"""Parts are worked out here or on machines of a scheduler, and are the same to the last bit."""

import os
import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

import pytest

from idle_harbor.core.base.stopping import while_wanted
from idle_harbor.core.errors import NotWantedError
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import plan_of
from idle_harbor.jobs.executors import HERE, Here, Machines, executor_at
from idle_harbor.jobs.kinds.registry import KINDS
from idle_harbor.jobs.kinds.weeks import RANGE, ManyWeeks
from idle_harbor.jobs.kinds.year import YEAR, PoolYear
from idle_harbor.jobs.queue import ask
from idle_harbor.jobs.work import help_with
from idle_harbor.launch.machines import check_scheduler, compute_for, dispatch_at, make_key
from idle_harbor.launch.tools import LaunchError, free_port
from idle_harbor.launch.webserver import end
from idle_harbor.processes import end_with_parent
from idle_harbor.store.jobs import Holder, Jobs

PLAN = plan_of(demo_plan())


def begin(*command: str) -> subprocess.Popen[bytes]:
    """Start a part of the machines, as their verbs do."""
    code = f"from idle_harbor.launch.machines import *; {command[0]}(*{command[1:]!r})"
    return subprocess.Popen(
        [sys.executable, "-c", code],
        start_new_session=True,
        preexec_fn=end_with_parent,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
        env=os.environ,
    )


class Estate:
    """A scheduler and machines of one process each, by a key where one is given."""

    def __init__(self, many: int, key: str = "") -> None:
        port = free_port()
        self.address = f"{'tls' if key else 'tcp'}://127.0.0.1:{port}"
        self.scheduler = begin("dispatch_at", "127.0.0.1", str(port), key)
        self.computers = [begin("compute_for", self.address, "1", "", key) for _ in range(many)]
        self._children = [*self.computers, self.scheduler]
        # The processes import for as long as a busy machine lets them.
        self.machines = Machines(self.address, key, wait="60s")
        self.machines._client.wait_for_workers(many, timeout=60)
        assert self.machines.room == many

    def end(self) -> None:
        self.machines.close()
        for child in self._children:
            end(child)


@pytest.fixture(scope="module")
def machines() -> Iterator[Machines]:
    estate = Estate(2)
    yield estate.machines
    estate.end()


@pytest.mark.parametrize(
    "wish",
    [RANGE.wish(ManyWeeks(PLAN, "counters", 30)), YEAR.wish(PoolYear(PLAN, "field", 2027))],
    ids=lambda wish: wish.kind,
)
def test_parts_are_the_same_wherever_they_are_worked_out(database, machines, wish):
    kind = KINDS[wish.kind]
    numbers = range(wish.parts)
    here = dict(HERE.begin(database, kind, wish.key, wish.input).run(numbers))
    there = dict(machines.begin(database, kind, wish.key, wish.input).run(numbers))
    assert there == here and len(here) == wish.parts


def test_a_job_is_done_on_machines(database, machines):
    job = ask(database, RANGE.wish(ManyWeeks(PLAN, "counters", 25)))
    with Holder(database) as holder:
        help_with(database, holder.number, job["id"], executor=machines)
    there = Jobs(database).result(job["id"])
    assert there["state"] == "done"
    part = KINDS["range"].open(RANGE.wish(ManyWeeks(PLAN, "counters", 25)).input)
    bodies = [row["body"] for row in Jobs(database).parts(job["id"])]
    assert bodies == [part(k) for k in range(25)]


def test_what_goes_wrong_elsewhere_is_said_here(database, machines):
    job = ask(database, RANGE.wish(ManyWeeks(PLAN, "nowhere", 3)))
    with Holder(database) as holder:
        help_with(database, holder.number, job["id"], executor=machines)
    told = Jobs(database).job(job["id"])
    assert told["state"] == "failed" and "no pool called 'nowhere'" in told["problem"]


def test_what_nobody_waits_for_is_given_up(database, machines):
    wish = RANGE.wish(ManyWeeks(PLAN, "office", 400))
    work = machines.begin(database, KINDS["range"], wish.key, wish.input)
    done = []

    def take():
        for one in work.run(range(400)):
            done.append(one)

    with while_wanted(lambda: not done), pytest.raises(NotWantedError):
        take()
    assert 0 < len(done) < 400


def listening(group: int) -> set[str]:
    """Addresses at which processes of a group listen, as the kernel writes them."""
    held = set()
    for folder in Path("/proc").glob("[0-9]*"):
        with suppress(OSError):
            if os.getpgid(int(folder.name)) == group:
                held |= {os.readlink(each) for each in (folder / "fd").iterdir()}
    rows = [
        row.split()
        for table in ("/proc/net/tcp", "/proc/net/tcp6")
        for row in Path(table).read_text().splitlines()[1:]
    ]
    return {row[1].split(":")[0] for row in rows if row[3] == "0A" and f"socket:[{row[9]}]" in held}


def running_loops() -> int:
    """How many threads talk to machines."""
    return sum(thread.name == "IO loop" for thread in threading.enumerate())


def test_machines_with_a_key_listen_on_loopback_and_take_nobody_without_it(database, tmp_path):
    keys = [tmp_path / "ours", tmp_path / "theirs"]
    for key in keys:
        make_key(key)
    assert keys[0].stat().st_mode & 0o077 == 0
    estate = Estate(1, str(keys[0]))
    try:
        wish = RANGE.wish(ManyWeeks(PLAN, "counters", 2))
        work = estate.machines.begin(database, KINDS["range"], wish.key, wish.input)
        assert len(dict(work.run(range(2)))) == 2
        loops = running_loops()
        for key in ("", str(keys[1])):
            with pytest.raises((OSError, TypeError)):
                Machines(estate.address, key)
        # A client that is left open would be closed by the garbage collector, and could wait there
        # for a lock that its own thread holds.
        assert running_loops() == loops
        # 127.0.0.1, and one port for the scheduler: no page beside it.
        groups = [os.getpgid(child.pid) for child in (estate.scheduler, *estate.computers)]
        assert [listening(group) for group in groups] == [{"0100007F"}] * 2
    finally:
        estate.end()


def test_beyond_loopback_there_has_to_be_a_key(tmp_path):
    make_key(key := tmp_path / "key")
    for call, says in (
        (lambda: check_scheduler("tcp://192.0.2.1:8786", ""), "make a key"),
        (lambda: check_scheduler("tls://127.0.0.1:8786", ""), "make a key"),
        (lambda: check_scheduler("tcp://127.0.0.1:8786", str(key)), "tls://"),
        (lambda: check_scheduler("192.0.2.1", ""), "no address"),
        (lambda: dispatch_at("0.0.0.0", 8786), "make a key"),
        (lambda: compute_for("tcp://127.0.0.1:8786", 1, "192.0.2.1"), "make a key"),
        (lambda: compute_for("tls://192.0.2.1:8786", 1, "", str(key)), "--host"),
        (lambda: dispatch_at("192.0.2.1", 8786, "nowhere"), "there is no key"),
        (lambda: make_key(key), "never written over"),
    ):
        with pytest.raises(LaunchError, match=says):
            call()


def test_without_machines_parts_are_worked_out_here():
    assert isinstance(executor_at(""), Here)
    assert isinstance(executor_at(f"tcp://127.0.0.1:{free_port()}"), Here)


@pytest.mark.parametrize("gone", ["scheduler", "machine"])
def test_machines_that_go_are_done_without(database, gone):
    estate = Estate(1)
    wish = RANGE.wish(ManyWeeks(PLAN, "counters", 150))
    work = estate.machines.begin(database, KINDS["range"], wish.key, wish.input)
    found = {}
    for number, body in work.run(range(150)):
        if not found:
            end(estate.scheduler if gone == "scheduler" else estate.computers[0])
        found[number] = body
    part = KINDS["range"].open(wish.input)
    assert sorted(found) == list(range(150)) and found[149] == part(149)
    # What comes next is not even sent.
    assert estate.machines.room == 1
    other = estate.machines.begin(database, KINDS["range"], wish.key, wish.input)
    assert dict(other.run([3])) == {3: part(3)}
    estate.end()
