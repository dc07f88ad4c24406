"""A worker: a process that helps with jobs, one at a time, until it gets a signal.

``python -m idle_harbor.jobs.worker`` reads the address of its database from the first line of its
input, or from ``DATABASE_URL``.
"""

from __future__ import annotations

import argparse
import asyncio
import logging
import os
import resource
import signal
import sys
import threading
import time
from contextlib import suppress
from typing import Any

import procrastinate
from procrastinate.exceptions import ConnectorException
from procrastinate.worker import Worker

from idle_harbor.jobs.executors import executor_at
from idle_harbor.jobs.kind import QUEUES
from idle_harbor.jobs.queue import HELP, ask_for_help
from idle_harbor.jobs.work import help_with, is_known
from idle_harbor.processes import become, imports_done
from idle_harbor.reading import read_ahead
from idle_harbor.store.database import Database, StoreError
from idle_harbor.store.directories import Directories
from idle_harbor.store.jobs import Holder, Jobs
from idle_harbor.store.plans import Plans

_log = logging.getLogger("idle_harbor.jobs")
#: Seconds between two searches for jobs that nobody helps with.
_LOOK = 1.0
_TIDY = 600
#: Seconds before a database that has gone is tried again.
_AGAIN = 1.0
#: Seconds that a part may go on after a signal.
_GRACE = 0.05
#: Lower priority than the web server, for which people wait.
_NICE = 5
#: Modules that the queue imports only when it runs.
_LATER = ("procrastinate.worker", "psycopg_pool.pool_async", "concurrent.futures.thread")
#: A worker whose memory has reached so many bytes ends after its job. Its parent starts it again.
MOST_BYTES = 2_000_000_000
#: Hard limit in bytes: a part that needs more fails.
MOST_OF_A_PART = 6_000_000_000


def _look_after(database: Database, done: threading.Event) -> None:
    """Queue jobs whose helper has gone, end jobs that took too long, remove what is old."""
    jobs = Jobs(database)
    looks = 0
    while not done.is_set():
        with suppress(StoreError):
            for job in jobs.without_help():
                if not is_known(jobs, job["id"], job["kind"]):
                    continue
                with database.connection() as connection:
                    ask_for_help(connection, job["id"], job["kind"], job["priority"])
            for job_id in jobs.late():
                jobs.end(job_id, "failed", "it took longer than a job may")
            if looks % _TIDY == 0:
                jobs.tidy()
                Plans(database).tidy()
                Directories(database).tidy()
        looks += 1
        done.wait(_LOOK)


def _too_large() -> bool:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024 > MOST_BYTES


def work_for(address: str, machines: str = "", key: str = "") -> None:
    """Help with jobs until a signal ends this process.

    Args:
        address: the database.
        machines: a scheduler whose machines compute parts; empty for none.
        key: the file of the key shared with the scheduler.

    Raises:
        StoreError: the database does not answer.
    """
    executor = executor_at(machines, key)
    app = procrastinate.App(
        connector=procrastinate.PsycopgConnector(conninfo=address, min_size=1, max_size=5)
    )
    done = threading.Event()
    with Database(address) as database, Holder(database) as holder:

        @app.task(name=HELP, pass_context=True)
        def help_(context: procrastinate.JobContext, job_id: int) -> None:
            if not holder.alive():
                # Its claims would count as free: the database no longer knows this holder.
                os._exit(1)
            help_with(database, holder.number, job_id, context.should_abort, executor)
            if _too_large():
                _log.warning("the worker has held more than it may, and ends")
                os._exit(0)

        after = threading.Thread(target=_look_after, args=(database, done), daemon=True)
        after.start()
        try:
            asyncio.run(_serve(app))
        finally:
            done.set()
            after.join(5)


async def _serve(app: procrastinate.App) -> None:
    """Take entries of the queues, one of each at a time, until a signal comes. Running parts then
    end within the grace period."""
    async with app.open_async():
        workers: list[Any] = [
            Worker(
                app,
                queues=[queue],
                concurrency=1,
                fetch_job_polling_interval=2.0,
                shutdown_graceful_timeout=_GRACE,
                delete_jobs="always",
                update_heartbeat_interval=5.0,
                stalled_worker_timeout=20.0,
                install_signal_handlers=False,
            )
            for queue in QUEUES
        ]

        def end() -> None:
            for worker in workers:
                worker.stop()

        for each in (signal.SIGTERM, signal.SIGINT):
            asyncio.get_running_loop().add_signal_handler(each, end)
        served = [asyncio.ensure_future(worker.run()) for worker in workers]
        # When one of them ends, for whatever reason, the process ends.
        await asyncio.wait(served, return_when=asyncio.FIRST_COMPLETED)
        end()
        await asyncio.gather(*served)


def main() -> None:
    """Work for the database whose address is the first line of the input, or DATABASE_URL."""
    parser = argparse.ArgumentParser(prog="python -m idle_harbor.jobs.worker")
    parser.add_argument("--user", help="go on as this user once everything is read")
    parser.add_argument("--machines", default="", help="the address of a scheduler of machines")
    parser.add_argument("--key", default="", help="the file of the key that they share")
    given = parser.parse_args()
    logging.basicConfig(level=logging.WARNING, format="%(asctime)s %(levelname)s %(message)s")
    # It warns about the way it is started here, which is intended.
    logging.getLogger("procrastinate").setLevel(logging.ERROR)
    address = os.environ.pop("DATABASE_URL", "") or sys.stdin.readline().strip()
    if not address:
        sys.exit("nobody has said where the database is")
    if given.user:
        read_ahead(given.user, *_LATER)
        become(given.user)
    imports_done()
    os.nice(_NICE)
    resource.setrlimit(resource.RLIMIT_DATA, (MOST_OF_A_PART, resource.RLIM_INFINITY))
    while True:
        try:
            work_for(address, given.machines, given.key)
        except (StoreError, ConnectorException) as error:
            # Try again until the parent ends this process.
            _log.warning("the database does not answer: %s", error)
            time.sleep(_AGAIN)
        else:
            return


if __name__ == "__main__":
    main()
