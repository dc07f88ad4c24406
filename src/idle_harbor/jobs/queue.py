"""The queue: which job is to be helped with next. What is true of a job stands in its own tables.

An entry of the queue asks one worker for its help with one job. A worker that finds more parts than
it takes asks for another's help, so that as many come as are free.
"""

from __future__ import annotations

from typing import Any

import procrastinate
import psycopg
from procrastinate.exceptions import AlreadyEnqueued
from psycopg.rows import DictRow

from idle_harbor.store.database import Database, store_errors
from idle_harbor.store.jobs import Jobs, Wish

QUEUE = "jobs"
HELP = "help"

#: Only for what it writes: entries go in on connections of ours, in our transactions.
_app = procrastinate.App(connector=procrastinate.SyncPsycopgConnector())


def ask_for_help(connection: psycopg.Connection[DictRow], job_id: int, priority: int) -> None:
    """Put an entry for a job into the queue, unless one waits there already."""
    try:
        with connection.transaction():
            _app.configure_task(
                HELP, queue=QUEUE, priority=priority, queueing_lock=f"{HELP} {job_id}",
                allow_unknown=True, connection=connection,
            ).defer(job_id=job_id)  # fmt: skip
    except AlreadyEnqueued:
        return


def ask(database: Database, wish: Wish) -> dict[str, Any]:
    """The job that does what is wished, with an entry in the queue where it is not over.

    Raises TooManyJobs.
    """
    jobs = Jobs(database)
    with store_errors(), database.connection() as connection:
        row = jobs.ask(connection, wish)
        if row["state"] in ("waiting", "running"):
            ask_for_help(connection, row["id"], wish.priority)
    return row
