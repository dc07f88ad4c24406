"""Working on a job: parts are claimed, worked out and kept until none is left."""

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
from idle_harbor.jobs.kinds import KINDS
from idle_harbor.jobs.queue import ask_for_help
from idle_harbor.runtime import engine_version
from idle_harbor.store.database import Database, StoreError
from idle_harbor.store.jobs import Jobs, NoSuchJob

_log = logging.getLogger("idle_harbor.jobs")
#: Seconds after which what is done is kept: what a kill costs, against what keeping costs.
_AT_ONCE = 0.5
#: Seconds after which work looks up whether it is still wanted.
_LOOK_UP = 0.3
_MOST_CLAIMED = 256
#: A claim takes at most ``_MORE`` times as many parts as the one before. Near the end of a job it
#: takes at least the parts of ``_LEAST_CLAIM`` seconds: a claim costs as much as a short part.
_MORE, _LEAST_CLAIM = 4, 0.1
#: Seconds that one part may take.
LONGEST_PART = 1_800.0
#: Seconds after which a job lets another that is as urgent have its worker.
_TURN = 2.0


#: Seconds between two looks whether others have done their parts of a round, and between two times
#: that is told what is known so far.
_ROUND, _TELL = 0.02, 0.5


class _Wanted:
    """Whether a job still runs, looked up now and then, and whoever works on it does."""

    def __init__(self, jobs: Jobs, job_id: int, ends: Callable[[], bool]) -> None:
        self._jobs, self._job_id, self._ends = jobs, job_id, ends
        self._looked = self._begun = time.monotonic()
        self._runs = True
        #: Whether a part has taken longer than it may.
        self.too_long = False

    def begin(self) -> None:
        """A part begins, or some at once."""
        self._begun = time.monotonic()

    def __call__(self) -> bool:
        now = time.monotonic()
        if now - self._looked >= _LOOK_UP:
            self._looked = now
            self._runs = self._jobs.state(self._job_id) == "running"
            self.too_long = now - self._begun > LONGEST_PART
        return self._runs and not self.too_long and not self._ends()


def is_known(jobs: Jobs, job_id: int, kind: str) -> bool:
    """Whether this version can do a job of a kind; where not, it is left for a worker that can,
    and says so."""
    if kind not in KINDS:
        jobs.note(job_id, f"no worker of this version knows work of the kind '{kind}'")
    return kind in KINDS


def _begun(jobs: Jobs, job_id: int) -> dict[str, Any] | None:
    """A job that there is something to do of, for this version."""
    with suppress(NoSuchJob):
        if not is_known(jobs, job_id, jobs.job(job_id)["kind"]):
            return None
    given = jobs.begin(job_id)
    if given is not None and given["engine"] not in ("", engine_version()):
        # Parts of two engines do not belong together.
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
    """Work on a job's parts until none is left that nobody works on, it is stopped, or ``ends``
    says that this worker is to end.

    What goes wrong with a part ends the job as failed; raises StoreError where the database goes.
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
    except Exception as error:  # Whatever it is, it would come again: the job says so, and ends.
        _log.exception("job %d has failed", job_id)
        jobs.end(job_id, "failed", f"{type(error).__name__}: {error}"[:2_000])
    jobs.give_back(job_id, holder)
    if jobs.state(job_id) == "running":
        with database.connection() as connection:
            ask_for_help(connection, job_id, kind.name, given["priority"])


class _Keeping:
    """Keeps parts that are done while the next ones are worked out: the database takes as long
    for them as for a week. Use as a context manager; on leaving, everything is kept."""

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
        """Keep parts; raises what became of those before them."""
        self.wait()
        if done:
            self._last = self._thread.submit(self._jobs.keep, self._job_id, done)

    def wait(self) -> None:
        """Wait until everything is kept; raises StoreError."""
        last, self._last = self._last, None
        if last is not None:
            last.result()


@dataclass(frozen=True, slots=True)
class _Worked:
    """A job that this process works on."""

    database: Database
    jobs: Jobs
    holder: int
    job_id: int
    kind: Kind
    given: Mapping[str, Any]
    executor: Executor

    def go_on(self, wanted: _Wanted) -> None:
        """Claim parts, work them out and keep them, until none is left or others wait."""
        with _Keeping(self.jobs, self.job_id) as keeping:
            if not self._through(wanted, keeping):
                return
        # Whoever keeps the last part finds none left; it may be several.
        if self.jobs.left(self.job_id) == 0:
            self.jobs.end(self.job_id, "done", result=self._whole())

    def _through(self, wanted: _Wanted, keeping: _Keeping) -> bool:
        """Work until no part is left to be claimed; False where another job has its turn."""
        work: Work | None = None
        jobs, job_id, room = self.jobs, self.job_id, self.executor.room
        many = fewest = room
        since = time.monotonic()
        while claimed := jobs.claim(job_id, self.holder, many, fewest):
            if work is None:
                # Others may help with what is left, while this one reads the input.
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
        """Work out parts, by their numbers or as (number, piece), and keep them, now and then; what
        is done is kept, whatever becomes of the others."""
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
    """The rounds of a job as far as this process has followed them, from what is kept of them."""

    def __init__(self, key: str, rounds: Rounds) -> None:
        self.key, self.rounds = key, rounds
        self._going = rounds.run()
        self.done: dict[int, Any] = {}
        #: Seconds after its beginning when parts were kept.
        self.after: dict[int, float] = {}
        self.since = 0
        #: The round that is open: its pieces, and the number of its first.
        self.pieces: list[Any] = []
        self.first = 0
        self.over = False
        self.whole: Any = None
        self._begun = False

    @property
    def last(self) -> int:
        """One past the last part of the round that is open."""
        return self.first + len(self.pieces)

    def left(self) -> list[int]:
        """Parts of the open round that are not done."""
        return [number for number in range(self.first, self.last) if number not in self.done]

    def go_on(self) -> None:
        """Open the next round, with what came of the last."""
        numbers = range(self.first, self.last)
        results = [self.done.pop(number) for number in numbers]
        self.rounds.took(max((self.after.pop(number) for number in numbers), default=0.0))
        self.first = self.last
        try:
            self.pieces = self._going.send(results if self._begun else None)  # type: ignore[arg-type]
        except StopIteration as over:
            self.pieces, self.over, self.whole = [], True, over.value
        self._begun = True


#: Jobs in rounds that this process was asked to help with last: two that take turns on one worker
#: would else be followed anew each time. Numbers of jobs say something within one database alone.
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
    """A job in rounds that this process works on: it follows all rounds by itself, and works out
    what nobody else does of the one that is open."""

    def __init__(self, worked: _Worked) -> None:
        self._worked = worked
        self._told = time.monotonic()
        self._work: Work | None = None

    def go_on(self, wanted: _Wanted) -> None:
        """Work until the last round is over or others wait."""
        worked = self._worked
        jobs, job_id = worked.jobs, worked.job_id
        known = _followed.setdefault(worked.database, OrderedDict())
        followed = _follow(known, job_id, worked.given, worked.kind)
        while not followed.over:
            if not self._round(followed, wanted):
                # Only what was followed to where it stands is kept: half a step would be lost.
                known[job_id] = followed
                while len(known) > _MOST_FOLLOWED:
                    known.popitem(last=False)
                return
            followed.go_on()
        jobs.drop_parts(job_id, followed.first)
        jobs.end(job_id, "done", result=followed.whole)

    def _look(self, followed: _Followed) -> None:
        """Take in what was kept since the last time."""
        for row in self._worked.jobs.parts(self._worked.job_id, followed.since):
            if row["part"] >= followed.first:
                followed.done[row["part"]] = row["body"]
                followed.after[row["part"]] = row["after"] or 0.0
            followed.since = max(followed.since, row["kept"])

    def _round(self, followed: _Followed, wanted: _Wanted) -> bool:
        """Work on a round until all of it is kept; False where another job has its turn."""
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
