"""Very many connections to the real server: idle ones and streams give their places to others."""

import contextlib
import http.client
import socket
import time
from collections.abc import Iterator

import pytest

from idle_harbor.launch.tools import free_port
from idle_harbor.launch.webserver import end, serve
from idle_harbor.web import server, streams

STREAM = b"GET /api/jobs/events HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n"


@pytest.fixture
def port(database_address, tmp_path) -> Iterator[int]:
    chosen = free_port()
    child = serve(chosen, database_address, tmp_path / "server.log")
    yield chosen
    end(child)


@contextlib.contextmanager
def opened(port: int, many: int, text: bytes = b"") -> Iterator[list[socket.socket]]:
    held = [socket.create_connection(("127.0.0.1", port), timeout=30) for _ in range(many)]
    try:
        for each in held if text else []:
            each.sendall(text)
        yield held
    finally:
        for each in held:
            each.close()


def status(port: int, path: str = "/api/hints") -> int:
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
    try:
        connection.request("GET", path)
        return connection.getresponse().status
    finally:
        connection.close()


def test_idle_connections_make_room_and_streams_stay(port):
    """More idle connections than there are places: they would be closed after a minute alone."""
    with opened(port, 1, STREAM) as (stream,):
        assert stream.recv(1_000).startswith(b"HTTP/1.1 200")
        with opened(port, server._CONNECTIONS + 20):
            assert status(port) == 200
        stream.settimeout(0.5)
        with contextlib.suppress(TimeoutError):
            assert stream.recv(1_000) != b"", "the stream was closed"


def test_a_connection_has_one_stream_however_many_it_asks_for(port):
    each, many = 40, streams.MOST_STREAMS // 40 + 2
    with opened(port, many, STREAM * each) as held:
        for connection in held:
            assert connection.recv(1_000).startswith(b"HTTP/1.1 200")
        assert status(port, "/api/jobs/events") == 200


def test_streams_that_have_gone_give_their_places_back(port):
    with opened(port, streams.MOST_STREAMS, STREAM) as held:
        for connection in held:
            assert connection.recv(1_000).startswith(b"HTTP/1.1 200")
        assert status(port, "/api/jobs/events") == 503
    # The server sees that they have gone, well before it would write to them.
    for _ in range(50):
        if status(port, "/api/jobs/events") == 200:
            return
        time.sleep(0.1)
    raise AssertionError("they keep their places")
