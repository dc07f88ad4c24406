"""Working on a job: claim parts, compute them, store the results, until none is left."""

from __future__ import annotations

import logging
import time
from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import suppress
from dataclasses import dataclass
from typing import Any
from weakref import WeakKeyDictionary

from idle_harbor.core.base.stopping import go_on, on_one_thread, while_wanted
from idle_harbor.core.errors import HarborError, NotWantedError
from idle_harbor.jobs.executors import HERE, Done, Executor, Work
from idle_harbor.jobs.kind import Kind, Rounds
from idle_harbor.jobs.kinds.registry import KINDS
from idle_harbor.jobs.queue import ask_for_help
from idle_harbor.runtime import engine_version
from idle_harbor.store.database import Database, StoreError
from idle_harbor.store.jobs import InputRow, Jobs, NoSuchJob

_log = logging.getLogger("idle_harbor.jobs")
#: Seconds after which finished parts are stored. A kill loses so much work.
_AT_ONCE = 0.5
#: Seconds between two checks whether the job is still wanted.
_LOOK_UP = 0.3
_MOST_CLAIMED = 256
#: A claim takes at most ``_MORE`` times as many parts as the one before. Near the end of a job it
#: takes at least ``_LEAST_CLAIM`` seconds of parts, since a claim costs as much as a short part.
_MORE, _LEAST_CLAIM = 4, 0.1
#: Seconds that one part may take.
LONGEST_PART = 1_800.0
#: Seconds after which a job gives its worker to another job of the same priority.
_TURN = 2.0


#: Seconds between two checks whether other workers have finished their parts of a round, and
#: between two reports of intermediate results.
_ROUND, _TELL = 0.02, 0.5


class _Wanted:
    """Whether a job is still wanted: it runs, its worker goes on, and no part takes too long."""

    def __init__(self, jobs: Jobs, job_id: int, ends: Callable[[], bool]) -> None:
        self._jobs, self._job_id, self._ends = jobs, job_id, ends
        self._looked = self._begun = time.monotonic()
        self._runs = True
        #: Whether a part has taken longer than it may.
        self.too_long = False

    def begin(self) -> None:
        """Note that a part begins, or several at once."""
        self._begun = time.monotonic()

    def __call__(self) -> bool:
        now = time.monotonic()
        if now - self._looked >= _LOOK_UP:
            self._looked = now
            self._runs = self._jobs.state(self._job_id) == "running"
            self.too_long = now - self._begun > LONGEST_PART
        return self._runs and not self.too_long and not self._ends()


def is_known(jobs: Jobs, job_id: int, kind: str) -> bool:
    """Whether this version knows a kind of job. An unknown kind is left for another worker, and the
    job says so."""
    if kind not in KINDS:
        jobs.note(job_id, f"no worker of this version knows work of the kind '{kind}'")
    return kind in KINDS


def _begun(jobs: Jobs, job_id: int) -> InputRow | None:
    """Kind and input of a job that has work left for this version, or None."""
    with suppress(NoSuchJob):
        if not is_known(jobs, job_id, jobs.job(job_id)["kind"]):
            return None
    given = jobs.begin(job_id)
    if given is not None and given["engine"] not in ("", engine_version()):
        # Parts of two engines must not be mixed.
        jobs.end(job_id, "failed", "it was asked of another version of Idle Harbor; ask again")
        return None
    return given


def help_with(
    database: Database,
    holder: int,
    job_id: int,
    ends: Callable[[], bool] = bool,
    executor: Executor = HERE,
) -> None:
    """Work on a job until no part is free, the job is stopped, or ``ends`` says that the worker
    has to end. Parts are claimed under the number ``holder``.

    A part that raises ends the job as failed. Raises StoreError where the database is gone.
    """
    jobs = Jobs(database)
    given = _begun(jobs, job_id)
    if given is None:
        return
    kind, wanted = KINDS[given["kind"]], _Wanted(jobs, job_id, ends)
    try:
        with while_wanted(wanted), on_one_thread():
            work = _Worked(database, jobs, holder, job_id, kind, given, executor)
            if kind.rounds is None:
                work.go_on(wanted)
            else:
                _InRounds(work).go_on(wanted)
        return
    except StoreError:
        raise
    except NotWantedError:
        if wanted.too_long:
            jobs.end(job_id, "failed", "a part of it took longer than it may")
    except HarborError as error:
        jobs.end(job_id, "failed", str(error)[:2_000])
    except MemoryError:
        jobs.end(job_id, "failed", "a part of it needs more memory than a worker may have")
    except Exception as error:  # It would be raised again by the next worker.
        _log.exception("job %d has failed", job_id)
        jobs.end(job_id, "failed", f"{type(error).__name__}: {error}"[:2_000])
    jobs.give_back(job_id, holder)
    if jobs.state(job_id) == "running":
        with database.connection() as connection:
            ask_for_help(connection, job_id, kind.name, given["priority"])


class _Keeping:
    """Stores finished parts in a thread of its own while the next parts are computed: storing takes
    as long as computing a week. Use as a context manager; on leaving, everything is stored."""

    def __init__(self, jobs: Jobs, job_id: int) -> None:
        self._jobs, self._job_id = jobs, job_id
        self._thread = ThreadPoolExecutor(1, thread_name_prefix="keeping")
        self._last: Future[None] | None = None

    def __enter__(self) -> _Keeping:
        return self

    def __exit__(self, *_: object) -> None:
        try:
            self.wait()
        finally:
            self._thread.shutdown()

    def keep(self, done: Sequence[Done]) -> None:
        """Store parts. Raises StoreError where storing the parts before them failed."""
        self.wait()
        if done:
            self._last = self._thread.submit(self._jobs.keep, self._job_id, done)

    def wait(self) -> None:
        """Wait until everything is stored. Raises StoreError."""
        last, self._last = self._last, None
        if last is not None:
            last.result()


@dataclass(frozen=True, slots=True)
class _Worked:
    """A job on which this process works."""

    database: Database
    jobs: Jobs
    holder: int
    job_id: int
    kind: Kind
    given: Mapping[str, Any]
    executor: Executor

    def go_on(self, wanted: _Wanted) -> None:
        """Claim, compute and store parts until none is left or another job has its turn."""
        with _Keeping(self.jobs, self.job_id) as keeping:
            if not self._through(wanted, keeping):
                return
        # Several workers may find that no part is left; the first of them ends the job.
        if self.jobs.left(self.job_id) == 0:
            self.jobs.end(self.job_id, "done", result=self._whole())

    def _through(self, wanted: _Wanted, keeping: _Keeping) -> bool:
        """Work until no part is free. Returns False where another job has its turn."""
        work: Work | None = None
        jobs, job_id, room = self.jobs, self.job_id, self.executor.room
        many = fewest = room
        since = time.monotonic()
        while claimed := jobs.claim(job_id, self.holder, many, fewest):
            if work is None:
                # Other workers can begin while this one reads the input.
                self.ask_for_help()
                given = self.given
                work = self.executor.begin(self.database, self.kind, given["key"], given["input"])
            begun = time.monotonic()
            self.work_out(work, claimed, wanted, keeping)
            took = time.monotonic() - begun
            if jobs.others_wait(
                job_id, self.kind.queue, self.given["priority"], fairly=begun - since > _TURN
            ):
                keeping.wait()
                self.ask_for_help()
                return False
            pace = len(claimed) / max(took, 1e-6)
            most = min(_MORE * many, _MOST_CLAIMED * room)
            many = max(room, min(int(pace * self.executor.seconds), most))
            fewest = max(room, min(int(pace * _LEAST_CLAIM), many))
        return True

    def work_out(
        self, work: Work, claimed: Sequence[Any], wanted: _Wanted, keeping: _Keeping
    ) -> None:
        """Compute parts, given by number or as (number, piece), and store them now and then. Where
        one raises, the finished ones are stored first."""
        done: list[Done] = []
        kept = time.monotonic()
        wanted.begin()
        try:
            for item, found in work.run(claimed):
                done.append((item[0] if isinstance(item, tuple) else item, found))
                wanted.begin()
                if time.monotonic() - kept > _AT_ONCE:
                    keeping.keep(done)
                    done, kept = [], time.monotonic()
        finally:
            keeping.keep(done)

    def _whole(self) -> Any:
        if self.kind.whole is None:
            return None
        bodies = [row["body"] for row in self.jobs.parts(self.job_id)]
        return self.kind.whole(self.given["input"], bodies)

    def ask_for_help(self) -> None:
        with self.database.connection() as connection:
            ask_for_help(connection, self.job_id, self.kind.name, self.given["priority"])


class _Followed:
    """The rounds of a job, as far as this process has replayed them from stored parts."""

    def __init__(self, key: str, rounds: Rounds) -> None:
        self.key, self.rounds = key, rounds
        self._going = rounds.run()
        self.done: dict[int, Any] = {}
        #: Seconds from the start of the job until each part was stored.
        self.after: dict[int, float] = {}
        self.since = 0
        #: The open round: its pieces, and the number of the first of them.
        self.pieces: list[Any] = []
        self.first = 0
        self.over = False
        self.whole: Any = None
        self._begun = False

    @property
    def last(self) -> int:
        """One past the last part of the open round."""
        return self.first + len(self.pieces)

    def left(self) -> list[int]:
        """Unfinished parts of the open round."""
        return [number for number in range(self.first, self.last) if number not in self.done]

    def go_on(self) -> None:
        """Open the next round with the results of the last one."""
        numbers = range(self.first, self.last)
        results = [self.done.pop(number) for number in numbers]
        self.rounds.took(max((self.after.pop(number) for number in numbers), default=0.0))
        self.first = self.last
        try:
            self.pieces = self._going.send(results if self._begun else None)  # type: ignore[arg-type]
        except StopIteration as over:
            self.pieces, self.over, self.whole = [], True, over.value
        self._begun = True


#: The latest jobs in rounds of this process. Without this cache, two jobs that take turns would
#: replay their rounds at each turn. Job numbers are unique within one database only.
_followed: WeakKeyDictionary[Database, OrderedDict[int, _Followed]] = WeakKeyDictionary()
_MOST_FOLLOWED = 4


def _follow(
    known: OrderedDict[int, _Followed], job_id: int, given: Mapping[str, Any], kind: Kind
) -> _Followed:
    assert kind.rounds is not None
    found = known.pop(job_id, None)
    if found is None or found.key != given["key"]:
        found = _Followed(given["key"], kind.rounds(given["input"]))
    return found


class _InRounds:
    """A job in rounds: each worker replays all rounds, and computes free parts of the open one."""

    def __init__(self, worked: _Worked) -> None:
        self._worked = worked
        self._told = time.monotonic()
        self._work: Work | None = None

    def go_on(self, wanted: _Wanted) -> None:
        """Work until the last round is over or another job has its turn."""
        worked = self._worked
        jobs, job_id = worked.jobs, worked.job_id
        known = _followed.setdefault(worked.database, OrderedDict())
        followed = _follow(known, job_id, worked.given, worked.kind)
        while not followed.over:
            if not self._round(followed, wanted):
                # Cached only between rounds: a round that is half replayed cannot be resumed.
                known[job_id] = followed
                while len(known) > _MOST_FOLLOWED:
                    known.popitem(last=False)
                return
            followed.go_on()
        jobs.drop_parts(job_id, followed.first)
        jobs.end(job_id, "done", result=followed.whole)

    def _look(self, followed: _Followed) -> None:
        """Read the parts that were stored since the last look."""
        for row in self._worked.jobs.parts(self._worked.job_id, followed.since):
            if row["part"] >= followed.first:
                followed.done[row["part"]] = row["body"]
                followed.after[row["part"]] = row["after"] or 0.0
            followed.since = max(followed.since, row["kept"])

    def _round(self, followed: _Followed, wanted: _Wanted) -> bool:
        """Work until the round is stored. Returns False where another job has its turn."""
        if not followed.left():
            return True
        self._look(followed)
        if not followed.left():
            return True
        worked = self._worked
        jobs, job_id, room = worked.jobs, worked.job_id, worked.executor.room
        if followed.last > worked.given["parts"]:
            jobs.add_parts(job_id, followed.last)
        if self._work is None:
            worked.ask_for_help()
            self._work = worked.executor.begin(
                worked.database, worked.kind, worked.given["key"], worked.given["input"]
            )
            self._begun = time.monotonic()
        others = max(jobs.workers(), 1)
        while left := followed.left():
            many = max(room, len(left) // (2 * others))
            claimed = jobs.claim(job_id, worked.holder, many, many, below=followed.last)
            if claimed:
                items = [(n, followed.pieces[n - followed.first]) for n in claimed]
                with _Keeping(jobs, job_id) as keeping:
                    worked.work_out(self._work, items, wanted, keeping)
            else:
                time.sleep(_ROUND)
                go_on()
            self._look(followed)
            self._tell(followed)
            if jobs.others_wait(
                job_id,
                worked.kind.queue,
                worked.given["priority"],
                fairly=time.monotonic() - self._begun > _TURN,
            ):
                worked.ask_for_help()
                return False
        return True

    def _tell(self, followed: _Followed) -> None:
        now = time.monotonic()
        if now - self._told > _TELL:
            self._told = now
            self._worked.jobs.tell_so_far(self._worked.job_id, followed.rounds.so_far())
