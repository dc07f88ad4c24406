"""The web server: requests are read whole before they get a thread, and within a time.

``python -m idle_harbor.web.server --port N`` serves the application on loopback.
"""

from __future__ import annotations

import argparse
import copy
import gc
import json
import logging
import signal
import socket
import sys
import time
from collections import deque
from contextlib import suppress
from typing import Any

from waitress.channel import ClientDisconnected, HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.server import create_server
from waitress.utilities import RequestEntityTooLarge

from idle_harbor.processes import become
from idle_harbor.reading import read_ahead
from idle_harbor.web.guard import FILES
from idle_harbor.web.streams import StreamingTask, Streams

#: Requests worked on at once; at most twice ``desk.MOST_WAITING`` and two of them are simulations.
THREADS = 24
#: Connections at once: below the usual limit of open files. With more than so many the idle ones
#: are closed, those first that were heard of longest ago, so that there is always room for others.
_CONNECTIONS, _CROWDED = 800, 600
#: Seconds in which the head of a request has to be there, and an idle connection is closed.
_HEAD_SECONDS = 10.0
_IDLE_SECONDS = 60
#: A body may take longer, in proportion to what has come of it.
_BYTES_A_SECOND = 50_000.0
#: Bytes of a body: a plan, and a directory of ten million people.
MOST_BYTES = 32_000_000
MOST_FILE_BYTES = 8_000_000_000


class _TooLarge(RequestEntityTooLarge):  # type: ignore[misc]
    """The body is over its limit, told as a problem document."""

    def to_response(self, *_: Any) -> tuple[str, list[tuple[str, str]], bytes]:
        body = json.dumps(
            {
                "type": "/problems/too-large",
                "title": "This is too large",
                "status": 413,
                "detail": f"the body has more bytes than are taken here ({self.body})",
                "remedy": "send less at once",
                "faults": [],
            }
        ).encode()
        return "413 Content Too Large", [("Content-Type", "application/problem+json")], body


class Request(HTTPRequestParser):  # type: ignore[misc]
    """A request as it comes in: bounded in bytes by its path, and in time."""

    adj: Any
    error: Any

    def __init__(self, adj: Any) -> None:
        super().__init__(adj)
        self.begun = time.monotonic()

    def parse_header(self, header_plus: bytes) -> None:
        """Read the head; what is not a file has a lower bound on its body."""
        super().parse_header(header_plus)
        if self.path != FILES:
            self.adj = copy.copy(self.adj)
            self.adj.max_request_body_size = MOST_BYTES + 1

    def received(self, data: bytes) -> int:
        """Take what has come; returns how much of it belongs to this request."""
        consumed = int(super().received(data))
        if isinstance(self.error, RequestEntityTooLarge):
            self.error = _TooLarge(f"at most {self.adj.max_request_body_size - 1:,}")
        return consumed

    def late(self, now: float) -> bool:
        """Whether its sender takes too long, as one who wants to hold the server would."""
        allowed = _HEAD_SECONDS
        if self.headers_finished:
            allowed += 10.0 + self.body_bytes_received / _BYTES_A_SECOND
        return now - self.begun > allowed


class Channel(HTTPChannel):  # type: ignore[misc]
    """A connection whose requests are bounded in time."""

    parser_class = Request
    task_class = StreamingTask

    def __init__(self, *arguments: Any, **more: Any) -> None:
        super().__init__(*arguments, **more)
        #: What another thread has for this connection while no request is worked on.
        self.events: deque[bytes] = deque()
        #: Whether it is a stream of events, which nothing more is asked of.
        self.streams = False

    @property
    def idle(self) -> bool:
        """Whether nothing is worked on for it, nor is it a stream."""
        return not (self.requests or self.streams or self.total_outbufs_len)

    def received(self, data: bytes) -> bool:
        """Read bytes that have arrived, unless this is a stream; return whether they were read."""
        return not self.streams and bool(super().received(data))

    def writable(self) -> bool:
        """Whether there is anything to be written."""
        return bool(self.events) or bool(super().writable())

    def handle_write(self) -> None:
        """Write what there is: this thread alone does so where no request is worked on."""
        with suppress(ClientDisconnected):
            while self.events:
                self.write_soon(self.events.popleft())
        super().handle_write()


def _listening(port: int, *, shared: bool) -> socket.socket:
    """A socket on loopback; a ``shared`` one has its port together with others, and the system
    deals out connections between them."""
    found = socket.socket()
    found.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    if shared:
        found.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEPORT, 1)
    found.bind(("127.0.0.1", port))
    return found


def _make_room(channels: list[Channel]) -> None:
    """Close connections whose request takes too long to come, and of very many the idle ones."""
    clock = time.monotonic()
    for channel in channels:
        if channel.request is not None and channel.request.late(clock):
            channel.will_close = True
    idle = [channel for channel in channels if channel.idle and not channel.will_close]
    idle.sort(key=lambda channel: float(channel.last_activity))
    for channel in idle[: max(len(channels) - _CROWDED, 0)]:
        channel.will_close = True


def make_server(app: Any, port: int, *, shared: bool = False) -> Any:
    """A server on loopback for a WSGI application; ``run()`` serves until it is told to end.

    Several that are ``shared`` serve one port together.
    """
    server = create_server(
        app,
        sockets=[_listening(port, shared=shared)],
        threads=THREADS,
        connection_limit=_CONNECTIONS,
        asyncore_use_poll=True,
        channel_timeout=_IDLE_SECONDS,
        cleanup_interval=1,
        max_request_body_size=MOST_FILE_BYTES + 1,
        max_request_header_size=64_000,
        # A large plan in a few pieces and not in a thousand.
        recv_bytes=1 << 18,
        # Answers are bounded; a reader who is slow holds a file and no thread.
        outbuf_high_watermark=1 << 40,
        # Look whether the other side has gone while its request is worked on.
        channel_request_lookahead=1,
        ident="",
        expose_tracebacks=False,
    )
    server.channel_class = Channel
    usual = server.maintenance

    def maintenance(now: float) -> None:
        usual(now)
        _make_room(list(server.active_channels.values()))

    server.maintenance = maintenance
    return server


def main() -> None:
    """Serve the application on the database whose address is the first line of the input: until
    it comes, everything is read that does not need it."""
    parser = argparse.ArgumentParser(prog="python -m idle_harbor.web.server")
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--shared", action="store_true", help="serve the port with others")
    parser.add_argument("--user", help="go on as this user once everything is read")
    given = parser.parse_args()
    logging.basicConfig(level=logging.WARNING, format="%(asctime)s %(levelname)s %(message)s")
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    from idle_harbor.core.base.compiled import entries_ready
    from idle_harbor.web.app import create_app

    entries_ready()
    if given.user:
        read_ahead(given.user)
    address = sys.stdin.readline().strip()
    if not address:
        sys.exit("nobody has said where the database is")
    app = create_app(address)
    server = make_server(app, given.port, shared=given.shared)
    server.streams = app.extensions["streams"] = Streams(app.extensions["database"])
    # What is here now stays: the collector need not look through it at every large plan.
    gc.collect()
    gc.freeze()
    gc.set_threshold(100_000, 50, 100)
    # Who has just released a handle waits for the thread of an answer that was given up.
    sys.setswitchinterval(0.0005)
    if given.user:
        become(given.user)
    server.run()


if __name__ == "__main__":
    main()
