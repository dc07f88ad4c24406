"""Working on a job: parts are claimed, worked out and kept until none is left."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from idle_harbor.core.errors import HarborError, NotWantedError
from idle_harbor.core.stopping import go_on, on_one_thread, while_wanted
from idle_harbor.jobs.executors import HERE, Done, Executor, Work
from idle_harbor.jobs.kind import Kind, Rounds
from idle_harbor.jobs.kinds import KINDS
from idle_harbor.jobs.queue import ask_for_help
from idle_harbor.runtime import engine_version
from idle_harbor.store.database import Database, StoreError
from idle_harbor.store.jobs import Jobs

_log = logging.getLogger("idle_harbor.jobs")
#: Seconds after which what is done is kept: what a kill costs, against what keeping costs.
_AT_ONCE = 0.5
#: Seconds after which work looks up whether it is still wanted.
_LOOK_UP = 0.3
_MOST_CLAIMED = 256
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
    given = jobs.begin(job_id)
    if given is None:
        return
    if given["engine"] not in ("", engine_version()):
        # Parts of two engines do not belong together.
        jobs.end(job_id, "failed", "it was asked of another version of Idle Harbor; ask again")
        return
    kind, wanted = KINDS[given["kind"]], _Wanted(jobs, job_id, ends)
    try:
        with while_wanted(wanted), on_one_thread():
            work = _Worked(database, jobs, holder, job_id, kind, given, executor)
            if kind.rounds is None:
                work.go_on(wanted)
            else:
                _InRounds(work, kind.rounds(given["input"])).go_on(wanted)
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
        work: Work | None = None
        jobs, job_id, room = self.jobs, self.job_id, self.executor.room
        many, since = room, time.monotonic()
        while claimed := jobs.claim(job_id, self.holder, many, room):
            if work is None:
                # Others may help with what is left, while this one reads the input.
                self.ask_for_help()
                given = self.given
                work = self.executor.begin(self.database, self.kind, given["key"], given["input"])
            begun = time.monotonic()
            self.work_out(work, claimed, wanted)
            took = time.monotonic() - begun
            if jobs.others_wait(
                job_id, self.kind.queue, self.given["priority"], fairly=begun - since > _TURN
            ):
                self.ask_for_help()
                return
            pace = len(claimed) / max(took, 1e-6)
            most = min(2 * many, _MOST_CLAIMED * room)
            many = max(room, min(int(pace * self.executor.seconds), most))
        # Whoever keeps the last part finds none left; it may be several.
        if jobs.left(job_id) == 0:
            jobs.end(job_id, "done", result=self._whole())

    def work_out(self, work: Work, claimed: Sequence[Any], wanted: _Wanted) -> None:
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
                    self.jobs.keep(self.job_id, done)
                    done, kept = [], time.monotonic()
        finally:
            self.jobs.keep(self.job_id, done)

    def _whole(self) -> Any:
        if self.kind.whole is None:
            return None
        bodies = [row["body"] for row in self.jobs.parts(self.job_id)]
        return self.kind.whole(self.given["input"], bodies)

    def ask_for_help(self) -> None:
        with self.database.connection() as connection:
            ask_for_help(connection, self.job_id, self.kind.name, self.given["priority"])


class _InRounds:
    """A job in rounds that this process works on: it follows all rounds by itself, from what is
    kept of them, and works out what nobody else does of the one that is open."""

    def __init__(self, worked: _Worked, rounds: Rounds) -> None:
        self._worked, self._rounds = worked, rounds
        self._done: dict[int, Any] = {}
        self._since = 0
        self._told = time.monotonic()

    def go_on(self, wanted: _Wanted) -> None:
        """Work until the last round is over or others wait."""
        worked, going = self._worked, self._rounds.run()
        jobs, job_id, given = worked.jobs, worked.job_id, worked.given
        begun = time.monotonic()
        work: Work | None = None
        first, results = 0, None
        while True:
            try:
                pieces = going.send(results)  # type: ignore[arg-type]
            except StopIteration as over:
                jobs.drop_parts(job_id, first)
                jobs.end(job_id, "done", result=over.value)
                return
            last = first + len(pieces)
            self._look()
            if any(number not in self._done for number in range(first, last)):
                if last > given["parts"]:
                    jobs.add_parts(job_id, last)
                if work is None:
                    worked.ask_for_help()
                    work = worked.executor.begin(
                        worked.database, worked.kind, given["key"], given["input"]
                    )
                if not self._round(work, pieces, first, last, wanted, begun):
                    return
            results = [self._done[number] for number in range(first, last)]
            first = last

    def _look(self) -> None:
        """Take in what was kept since the last time."""
        for row in self._worked.jobs.parts(self._worked.job_id, self._since):
            self._done[row["part"]] = row["body"]
            self._since = max(self._since, row["kept"])

    def _round(
        self, work: Work, pieces: Sequence[Any], first: int, last: int, wanted: _Wanted,
        begun: float,
    ) -> bool:  # fmt: skip
        """Work on a round until all of it is kept; False where another job has its turn."""
        worked = self._worked
        jobs, job_id, room = worked.jobs, worked.job_id, worked.executor.room
        others = max(jobs.workers(), 1)
        while left := [n for n in range(first, last) if n not in self._done]:
            many = max(room, len(left) // (2 * others))
            claimed = jobs.claim(job_id, worked.holder, many, many, below=last)
            if claimed:
                worked.work_out(work, [(n, pieces[n - first]) for n in claimed], wanted)
            else:
                time.sleep(_ROUND)
                go_on()
            self._look()
            self._tell()
            if jobs.others_wait(
                job_id, worked.kind.queue, worked.given["priority"],
                fairly=time.monotonic() - begun > _TURN,
            ):  # fmt: skip
                worked.ask_for_help()
                return False
        return True

    def _tell(self) -> None:
        now = time.monotonic()
        if now - self._told > _TELL:
            self._told = now
            self._worked.jobs.tell_so_far(self._worked.job_id, self._rounds.so_far())
