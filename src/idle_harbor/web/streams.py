"""Server-sent events of jobs: connections that stay open and hold no thread.

A request for them is answered by the application like any other, with the head of the answer; then
its connection is handed over to one thread that listens to the database and writes to all of them.
"""

from __future__ import annotations

import logging
import threading
import time
from contextlib import suppress
from typing import Any

import psycopg
from waitress.task import WSGITask

from idle_harbor.store.database import Database, StoreError
from idle_harbor.store.jobs import Jobs, NoSuchJob
from idle_harbor.web.shared.asked import to_json
from idle_harbor.web.shared.jobs import job_values

_log = logging.getLogger("idle_harbor.web")
MEDIA_TYPE = "text/event-stream"
CHANNEL = "idle_harbor_jobs"
#: Open streams at most; who comes beyond is told so and asks again.
MOST_STREAMS = 400
#: Seconds for which what happens to a job is gathered, between two signs of life, and after which
#: a database that has gone is looked for again.
_GATHER, _SIGN, _PAUSE = 0.1, 20.0, 1.0
#: Bytes that a reader who is slow may be behind.
_MOST_BEHIND = 1_000_000


def _chunk(data: bytes) -> bytes:
    return b"%X\r\n%b\r\n" % (len(data), data)


class Streams:
    """The open streams, and the thread that writes to them."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._jobs = Jobs(database)
        self._open: list[tuple[Any, bool]] = []
        self._lock = threading.Lock()
        self._thread: threading.Thread | None = None

    @property
    def full(self) -> bool:
        """Whether there are as many as may be; those that have gone give their places back."""
        with self._lock:
            self._open = [each for each in self._open if each[0].connected]
            return len(self._open) >= MOST_STREAMS

    def take(self, channel: Any, *, chunked: bool) -> None:
        """Have a connection whose head is written: what else was asked on it is not answered."""
        channel.streams = True
        with channel.requests_lock:
            del channel.requests[1:]
        with self._lock:
            self._open.append((channel, chunked))
            if self._thread is None:
                self._thread = threading.Thread(target=self._listen, name="streams", daemon=True)
                self._thread.start()

    def _tell(self, text: bytes) -> None:
        with self._lock:
            streams = list(self._open)
        gone = set()
        for channel, chunked in streams:
            if channel.connected and channel.total_outbufs_len < _MOST_BEHIND:
                # The server's own thread writes it: no other may, while no request is worked on.
                channel.events.append(_chunk(text) if chunked else text)
            else:
                channel.will_close = True
                gone.add(channel)
        if streams:
            streams[0][0].server.pull_trigger()
        if gone:
            with self._lock:
                self._open = [each for each in self._open if each[0] not in gone]

    def _listen(self) -> None:
        while True:
            try:
                with self._database.session() as session:
                    session.execute(f"LISTEN {CHANNEL}")
                    # What happened meanwhile was not heard: whoever looks, looks anew.
                    self._tell(b"event: anew\ndata: {}\n\n")
                    self._hear(session)
            except (psycopg.Error, StoreError):
                time.sleep(_PAUSE)
            except Exception:
                _log.exception("the streams of jobs have stumbled")
                time.sleep(_PAUSE)

    def _hear(self, session: psycopg.Connection[Any]) -> None:
        while True:
            named = {note.payload for note in session.notifies(timeout=_SIGN, stop_after=1)}
            if not named:
                self._tell(b": here\n\n")
                continue
            named |= {note.payload for note in session.notifies(timeout=_GATHER)}
            for name in sorted(named, key=int):
                with suppress(NoSuchJob):
                    self._tell(b"event: job\ndata: %b\n\n" % to_json(self._job(int(name))))

    def _job(self, job_id: int) -> dict[str, Any]:
        return job_values(self._jobs.job(job_id))


class StreamingTask(WSGITask):  # type: ignore[misc]
    """A request; one for events leaves its connection open and gives its thread back."""

    channel: Any

    def finish(self) -> None:
        """End the answer, or hand its connection over."""
        kinds = [value for name, value in self.response_headers if name.lower() == "content-type"]
        if self.status.startswith("200") and any(kind.startswith(MEDIA_TYPE) for kind in kinds):
            self.close_on_finish = False
            streams: Streams = self.channel.server.streams
            streams.take(self.channel, chunked=self.chunked_response)
        else:
            super().finish()
