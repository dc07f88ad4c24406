"""Working on a job: parts are claimed, worked out and kept until none is left."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from idle_harbor.core.errors import HarborError, NotWantedError
from idle_harbor.core.stopping import on_one_thread, while_wanted
from idle_harbor.jobs.executors import HERE, Done, Executor, Work
from idle_harbor.jobs.kind import Kind
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
            _Worked(database, jobs, holder, job_id, kind, given, executor).go_on(wanted)
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
                self._ask_for_help()
                given = self.given
                work = self.executor.begin(self.database, self.kind, given["key"], given["input"])
            begun = time.monotonic()
            self._work_out(work, claimed, wanted)
            took = time.monotonic() - begun
            if jobs.others_wait(
                job_id, self.kind.queue, self.given["priority"], fairly=begun - since > _TURN
            ):
                self._ask_for_help()
                return
            pace = len(claimed) / max(took, 1e-6)
            most = min(2 * many, _MOST_CLAIMED * room)
            many = max(room, min(int(pace * self.executor.seconds), most))
        # Whoever keeps the last part finds none left; it may be several.
        if jobs.left(job_id) == 0:
            jobs.end(job_id, "done", result=self._whole())

    def _work_out(self, work: Work, claimed: list[int], wanted: _Wanted) -> None:
        """Work out parts and keep them, now and then; what is done is kept, whatever becomes of
        the others."""
        done: list[Done] = []
        kept = time.monotonic()
        wanted.begin()
        try:
            for one in work.run(claimed):
                done.append(one)
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

    def _ask_for_help(self) -> None:
        with self.database.connection() as connection:
            ask_for_help(connection, self.job_id, self.kind.name, self.given["priority"])
