"""Jobs in the database: long work, the parts of it that are done, and who works on which.

A part belongs to its holder for as long as their process lives; what is kept of it is kept once,
however often it was worked out.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, TypedDict, cast

import psycopg
from psycopg.rows import DictRow
from psycopg.types.json import Jsonb

from idle_harbor.store.database import Database, StoreError, queries, store_errors

#: Jobs that wait or run at once: of everybody, and of one owner.
MOST_LIVE, MOST_OF_OWNER = 200, 20
#: Jobs that are over and still known, and for how many days.
MOST_KEPT, DAYS_KEPT = 200, 30
#: Seconds for which a job may be worked on.
LONGEST = 12 * 3_600
#: More parts than any job has.
MOST_PARTS = 2**31 - 1


class TooManyJobs(StoreError):
    """As many jobs wait or run as may."""


class NoSuchJob(StoreError):
    """There is no such job."""


class JobRow(TypedDict):
    """A job without its input and its result: what it is about, for whom, and how far it is."""

    id: int
    kind: str
    title: str
    owner: str
    link: str
    priority: int
    state: str
    problem: str
    parts: int
    done: int
    #: How much of it was done when it was begun, or begun again.
    begun_with: int
    asked_at: datetime
    begun_at: datetime | None
    ended_at: datetime | None


class PartRow(TypedDict):
    """A finished part of a job; ``kept`` numbers parts in the order of storing, ``after`` are the
    seconds since the job was begun."""

    part: int
    body: Any
    kept: int
    after: float


class ResultRow(TypedDict):
    """How a job stands, with its result."""

    state: str
    problem: str
    result: Any


class InputRow(TypedDict):
    """What a job is asked for."""

    id: int
    kind: str
    key: str
    input: dict[str, Any]
    engine: str
    parts: int
    state: str
    priority: int


class HelpRow(TypedDict):
    """A job that needs workers."""

    id: int
    kind: str
    priority: int


@dataclass(frozen=True, slots=True)
class Wish:
    """A job that somebody asks for: so many parts, by a kind and its input; ``key`` is the same for
    the same work, ``link`` the page that shows it, ``engine`` the only version that may do it, if
    any."""

    kind: str
    key: str
    title: str
    owner: str
    priority: int
    input: Mapping[str, Any]
    parts: int
    link: str = ""
    engine: str = ""


def insert_job(connection: psycopg.Connection[DictRow], wish: Wish) -> dict[str, Any]:
    """The job that does what is wished, made or found (``made``); raises TooManyJobs."""
    before = live_jobs(connection, wish.owner)
    row = queries.insert_job(
        connection,
        kind=wish.kind,
        key=wish.key,
        title=wish.title,
        owner=wish.owner,
        link=wish.link,
        priority=wish.priority,
        input=Jsonb(dict(wish.input)),
        engine=wish.engine,
        parts=wish.parts,
    )
    check_live(connection, wish.owner, before)
    if row["made"]:
        queries.insert_parts(connection, job_id=row["id"], parts=wish.parts)
    queries.tell_job(connection, job_id=row["id"])
    return dict(row)


def live_jobs(connection: psycopg.Connection[DictRow], owner: str) -> dict[str, int]:
    """How many jobs wait or run, of everybody and of an owner; nobody adds to them before the
    transaction ends."""
    queries.lock_live_jobs(connection)
    return dict(queries.count_live_jobs(connection, owner=owner) or {})


def check_live(
    connection: psycopg.Connection[DictRow], owner: str, before: Mapping[str, int]
) -> None:
    """Raise TooManyJobs where there are more jobs than before, and more than may be."""
    now = queries.count_live_jobs(connection, owner=owner) or {}
    for whose, most, said in (
        ("owners", MOST_OF_OWNER, "jobs of yours"),
        ("everybodys", MOST_LIVE, "jobs"),
    ):
        if now[whose] > before[whose] and now[whose] > most:
            raise TooManyJobs(f"{before[whose]} {said} wait or run already")


def _found(row: DictRow | None, job_id: int) -> dict[str, Any]:
    if row is None:
        raise NoSuchJob(f"there is no job {job_id}")
    return dict(row)


class Jobs:
    """The tables of jobs, on a database's connections."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def job(self, job_id: int) -> JobRow:
        """A job and how many of its parts are done; raises NoSuchJob."""
        with self.database.connection() as connection:
            row = _found(queries.get_job(connection, job_id=job_id), job_id)
        return cast(JobRow, row)

    def jobs(self, most: int = 50) -> list[JobRow]:
        """What runs or waits first, then what ended last."""
        with self.database.connection() as connection:
            return cast(list[JobRow], list(queries.list_jobs(connection, most=most)))

    def parts(self, job_id: int, since: int = 0) -> list[PartRow]:
        """Return the parts that were stored after number ``since``, in the order of the parts."""
        with self.database.connection() as connection:
            rows = queries.job_parts_done(connection, job_id=job_id, since=since)
            return cast(list[PartRow], list(rows))

    def result(self, job_id: int) -> ResultRow:
        """Return state, problem and result of a job; raises NoSuchJob."""
        with self.database.connection() as connection:
            row = _found(queries.job_result(connection, job_id=job_id), job_id)
        return cast(ResultRow, row)

    def given(self, job_id: int) -> InputRow:
        """Return kind and input of a job; raises NoSuchJob."""
        with self.database.connection() as connection:
            row = _found(queries.job_input(connection, job_id=job_id), job_id)
        return cast(InputRow, row)

    def workers(self) -> int:
        """How many processes are there to help."""
        with self.database.connection() as connection:
            return int(queries.count_workers(connection))

    def end(self, job_id: int, state: str, problem: str = "", result: Any = None) -> None:
        """Note how a job that waits or runs has ended; one that is over stays as it is."""
        told = None if result is None else Jsonb(result)
        with self.database.connection() as connection:
            queries.end_job(connection, job_id=job_id, state=state, problem=problem, result=told)
            queries.tell_job(connection, job_id=job_id)

    def note(self, job_id: int, problem: str) -> None:
        """Say why a job that waits is not begun."""
        with self.database.connection() as connection:
            if queries.note_problem(connection, job_id=job_id, problem=problem) is not None:
                queries.tell_job(connection, job_id=job_id)

    def begin(self, job_id: int) -> InputRow | None:
        """Begin a job, and return its kind and input; None if it is not to be worked on."""
        with self.database.connection() as connection:
            if queries.begin_job(connection, job_id=job_id) is None:
                return None
            return cast(InputRow, dict(queries.job_input(connection, job_id=job_id)))

    def state(self, job_id: int) -> str | None:
        """The state of a job, None where there is none."""
        with self.database.connection() as connection:
            found: str | None = queries.job_state(connection, job_id=job_id)
        return found

    def claim(
        self, job_id: int, holder: int, many: int, fewest: int = 1, below: int = MOST_PARTS
    ) -> list[int]:
        """So many parts at most that nobody else works on, now the holder's; towards the end of a
        job fewer, down to ``fewest``. Of parts that follow from others only those ``below`` one."""
        with self.database.connection() as connection:
            rows = queries.claim_parts(
                connection, job_id=job_id, holder=holder, many=many, fewest=fewest, below=below
            )
            return sorted(row["part"] for row in rows)

    def add_parts(self, job_id: int, parts: int) -> None:
        """Have a job of at least so many parts."""
        with self.database.connection() as connection, connection.transaction():
            queries.lock_job(connection, job_id=job_id)
            queries.add_parts(connection, job_id=job_id, parts=parts)

    def drop_parts(self, job_id: int, parts: int) -> None:
        """Have a job of its first parts alone."""
        with self.database.connection() as connection:
            queries.drop_parts(connection, job_id=job_id, parts=parts)

    def tell_so_far(self, job_id: int, found: Any) -> None:
        """Keep what a job that runs has found before its result."""
        with self.database.connection() as connection:
            queries.tell_so_far(connection, job_id=job_id, result=Jsonb(found))
            queries.tell_job(connection, job_id=job_id)

    def give_back(self, job_id: int, holder: int) -> None:
        """Let others have the parts that a holder has claimed and not done."""
        with self.database.connection() as connection:
            queries.give_back_parts(connection, job_id=job_id, holder=holder)

    def keep(self, job_id: int, done: Sequence[tuple[int, Any]]) -> None:
        """Keep finished parts (number, body), all together."""
        if not done:
            return
        with self.database.connection() as connection:
            queries.keep_parts(connection, job_id=job_id, done=Jsonb(done))
            queries.tell_job(connection, job_id=job_id)

    def left(self, job_id: int) -> int:
        """How many parts are still to be done."""
        with self.database.connection() as connection:
            return int(queries.parts_left(connection, job_id=job_id))

    def others_wait(self, job_id: int, queue: str, priority: int, *, fairly: bool) -> bool:
        """Whether a more urgent job of a queue waits for help; with ``fairly``, or one that is as
        urgent."""
        with self.database.connection() as connection:
            return bool(
                queries.others_wait(
                    connection, job_id=job_id, queue=queue, priority=priority, fairly=fairly
                )
            )

    def late(self) -> list[int]:
        """Jobs that have been worked on for longer than they may."""
        with self.database.connection() as connection:
            return [row["id"] for row in queries.late_jobs(connection, seconds=LONGEST)]

    def without_help(self) -> list[HelpRow]:
        """Return jobs with free parts and without an entry in the queue."""
        with self.database.connection() as connection:
            return cast(list[HelpRow], list(queries.jobs_without_help(connection)))

    def tidy(self) -> None:
        """Forget what ended long ago."""
        with self.database.connection() as connection:
            queries.forget_old_jobs(connection, most=MOST_KEPT, days=DAYS_KEPT)
            queries.forget_old_entries(connection)


class Holder:
    """A number that is this process's for as long as it lives and the database does; use as a
    context manager."""

    def __init__(self, database: Database) -> None:
        self._session = database.session()
        with store_errors():
            self.number = int(queries.next_holder(self._session))
            queries.hold(self._session, holder=self.number)

    def __enter__(self) -> Holder:
        return self

    def __exit__(self, *_: object) -> None:
        self._session.close()

    def alive(self) -> bool:
        """Whether the lock is still held: a database that was restarted has forgotten it."""
        try:
            self._session.execute("SELECT 1")
        except psycopg.Error:
            return False
        return True
