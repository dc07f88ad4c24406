"""Answers and files compressed on their way."""

import gzip
import json

import pytest
from flask import Flask, Response

from idle_harbor.web.pages import serve_pages
from idle_harbor.web.shared.packing import pack_answers

LONG = json.dumps({"values": list(range(2_000))})


@pytest.fixture
def client(tmp_path):
    (tmp_path / "assets").mkdir()
    for name, text in {
        "a.js": "plain",
        "a.js.br": "brotli",
        "a.js.gz": "gzip",
        "b.css": "x",
    }.items():
        (tmp_path / "assets" / name).write_text(text)
    app = Flask("packing", static_folder=None)
    serve_pages(app, tmp_path)
    pack_answers(app)
    closed = []

    def lines():
        try:
            for k in range(3):
                yield f'{{"line": {k}}}\n'
        finally:
            closed.append(True)

    answers = {
        "/long": lambda: Response(LONG, mimetype="application/json"),
        "/short": lambda: Response("{}", mimetype="application/json"),
        "/lines": lambda: Response(lines(), mimetype="application/x-ndjson"),
    }
    for path, answer in answers.items():
        app.add_url_rule(path, path, answer)
    client = app.test_client()
    client.closed = closed
    return client


def got(client, path, accepts=None):
    return client.get(path, headers={"Accept-Encoding": accepts} if accepts else {})


@pytest.mark.parametrize(
    ("accepts", "body", "coding"),
    [
        ("gzip, deflate, br", b"brotli", "br"),
        ("gzip", b"gzip", "gzip"),
        ("br;q=0, gzip;q=0.5", b"gzip", "gzip"),
        ("deflate", b"plain", None),
        (None, b"plain", None),
    ],
)
def test_a_file_is_sent_as_the_browser_takes_it(client, accepts, body, coding):
    found = got(client, "/assets/a.js", accepts)
    assert (found.data, found.content_encoding) == (body, coding)
    assert found.mimetype == "text/javascript"
    assert "Accept-Encoding" in found.headers["Vary"]


def test_a_file_without_a_compressed_one_is_sent_as_it_is(client):
    found = got(client, "/assets/b.css", "br, gzip")
    assert (found.data, found.content_encoding) == (b"x", None)


def test_long_answers_are_compressed_where_that_is_accepted(client):
    packed = got(client, "/long", "gzip")
    assert packed.content_encoding == "gzip"
    assert gzip.decompress(packed.data).decode() == LONG
    assert int(packed.headers["Content-Length"]) == len(packed.data) < len(LONG) / 2
    plain = got(client, "/long", "br")
    assert (plain.content_encoding, plain.data.decode()) == (None, LONG)
    assert "Accept-Encoding" in plain.headers["Vary"]
    assert got(client, "/short", "gzip").data == b"{}"


def test_each_line_of_a_long_answer_comes_as_soon_as_it_is_there(client):
    found = client.get("/lines", headers={"Accept-Encoding": "gzip"}, buffered=False)
    reader, text = gzip.zlib.decompressobj(31), b""
    for k, part in enumerate(found.response):
        text += reader.decompress(part)
        # Each chunk can be decompressed up to its last line.
        assert text.count(b"\n") == min(k + 1, 3)
    assert json.loads(text.splitlines()[-1]) == {"line": 2}


def test_a_long_answer_that_nobody_reads_any_more_is_ended(client):
    found = client.get("/lines", headers={"Accept-Encoding": "gzip"}, buffered=False)
    next(iter(found.response))
    found.close()
    assert client.closed == [True]
