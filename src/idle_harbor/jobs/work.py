"""Working on a job: parts are claimed, worked out and kept until none is left."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable
from typing import Any

from idle_harbor.core.errors import HarborError, NotWantedError
from idle_harbor.core.stopping import go_on, while_wanted
from idle_harbor.jobs.kinds import KINDS, Kind
from idle_harbor.jobs.queue import ask_for_help
from idle_harbor.store.database import Database, StoreError
from idle_harbor.store.jobs import Jobs

_log = logging.getLogger("idle_harbor.jobs")
#: Seconds of work that are kept at once: what a kill costs, against what keeping costs.
_AT_ONCE = 0.5
#: Seconds after which work looks up whether it is still wanted.
_LOOK_UP = 0.3
_MOST_CLAIMED = 256
#: Seconds after which a job lets another that is as urgent have its worker.
_TURN = 2.0


class _Wanted:
    """Whether a job still runs, looked up now and then, and whoever works on it does."""

    def __init__(self, jobs: Jobs, job_id: int, ends: Callable[[], bool]) -> None:
        self._jobs, self._job_id, self._ends = jobs, job_id, ends
        self._looked = time.monotonic()
        self._runs = True

    def __call__(self) -> bool:
        now = time.monotonic()
        if now - self._looked >= _LOOK_UP:
            self._looked = now
            self._runs = self._jobs.state(self._job_id) == "running"
        return self._runs and not self._ends()


def help_with(
    database: Database, holder: int, job_id: int, ends: Callable[[], bool] = bool
) -> None:
    """Work on a job's parts until none is left that nobody works on, it is stopped, or ``ends``
    says that this worker is to end.

    What goes wrong with a part ends the job as failed; raises StoreError where the database goes.
    """
    jobs = Jobs(database)
    given = jobs.begin(job_id)
    if given is None:
        return
    kind = KINDS[given["kind"]]
    try:
        with while_wanted(_Wanted(jobs, job_id, ends)):
            _work(database, jobs, holder, job_id, kind, given)
        return
    except StoreError:
        raise
    except NotWantedError:
        pass
    except HarborError as error:
        jobs.end(job_id, "failed", str(error)[:2_000])
    except Exception as error:  # Whatever it is, it would come again: the job says so, and ends.
        _log.exception("job %d has failed", job_id)
        jobs.end(job_id, "failed", f"{type(error).__name__}: {error}"[:2_000])
    jobs.give_back(job_id, holder)
    if jobs.state(job_id) == "running":
        with database.connection() as connection:
            ask_for_help(connection, job_id, given["priority"])


def _work(
    database: Database, jobs: Jobs, holder: int, job_id: int, kind: Kind, given: dict[str, Any]
) -> None:
    part: Callable[[int], Any] | None = None
    many = 1
    priority, since = given["priority"], time.monotonic()
    while claimed := jobs.claim(job_id, holder, many):
        if part is None:
            # Others may help with what is left, while this one reads the input.
            with database.connection() as connection:
                ask_for_help(connection, job_id, priority)
            part = kind.open(given["input"])
        begun = time.monotonic()
        done: list[tuple[int, Any]] = []
        try:
            for number in claimed:
                go_on()
                done.append((number, part(number)))
        finally:
            # What is done is kept, whatever becomes of the others.
            jobs.keep(job_id, done)
        took = time.monotonic() - begun
        if jobs.others_wait(job_id, priority, fairly=begun - since > _TURN):
            with database.connection() as connection:
                ask_for_help(connection, job_id, priority)
            return
        many = max(1, min(int(len(done) * _AT_ONCE / max(took, 1e-6)), 2 * many, _MOST_CLAIMED))
    # Whoever keeps the last part finds none left; it may be several.
    if jobs.left(job_id) == 0:
        bodies = [row["body"] for row in jobs.parts(job_id)]
        jobs.end(job_id, "done", result=kind.whole(given["input"], bodies))
