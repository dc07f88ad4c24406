"""The queue of requests for help with jobs. The state of a job stands in the job tables.

An entry of the queue asks one worker to help with one job. A worker that finds more parts than it
claims adds another entry, so that all free workers join.
"""

from __future__ import annotations

from typing import Any

import procrastinate
import psycopg
from procrastinate.exceptions import AlreadyEnqueued
from psycopg.rows import DictRow

from idle_harbor.jobs.kinds.registry import KINDS
from idle_harbor.store.database import Database, queries, store_errors
from idle_harbor.store.jobs import NoSuchJob, Wish, check_live, insert_job, live_jobs

HELP = "help"

#: Used to write entries only, on our connections and in our transactions.
_app = procrastinate.App(connector=procrastinate.SyncPsycopgConnector())


def ask_for_help(
    connection: psycopg.Connection[DictRow], job_id: int, kind: str, priority: int
) -> None:
    """Put an entry for a job into the queue of its kind, unless one waits there already."""
    try:
        with connection.transaction():
            _app.configure_task(
                HELP,
                queue=KINDS[kind].queue,
                priority=priority,
                connection=connection,
                queueing_lock=f"{HELP} {job_id}",
                allow_unknown=True,
            ).defer(job_id=job_id)
    except AlreadyEnqueued:
        return


def ask_on(connection: psycopg.Connection[DictRow], wish: Wish) -> dict[str, Any]:
    """Make or find the job of a wish within the connection's transaction, and queue it unless it is
    over. Raises TooManyJobs."""
    row = insert_job(connection, wish)
    if row["state"] in ("waiting", "running"):
        ask_for_help(connection, row["id"], wish.kind, wish.priority)
    return row


def ask(database: Database, wish: Wish) -> dict[str, Any]:
    """Make or find the job of a wish in a transaction of its own. Raises TooManyJobs."""
    with store_errors(), database.connection() as connection:
        return ask_on(connection, wish)


def again(database: Database, job_id: int) -> None:
    """Resume a job that was stopped or has failed. A job in another state stays as it is.

    Raises NoSuchJob and TooManyJobs.
    """
    with store_errors(), database.connection() as connection:
        job = queries.get_job(connection, job_id=job_id)
        if job is None:
            raise NoSuchJob(f"there is no job {job_id}")
        before = live_jobs(connection, job["owner"])
        row = queries.start_again(connection, job_id=job_id)
        if row is not None:
            check_live(connection, job["owner"], before)
            if row["kind"] in KINDS:
                ask_for_help(connection, job_id, row["kind"], row["priority"])
            queries.tell_job(connection, job_id=job_id)
