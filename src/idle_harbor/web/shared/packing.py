"""Answers compressed on their way, where who asks takes them so."""

from __future__ import annotations

import zlib
from collections.abc import Iterable, Iterator

from flask import Flask, Response, request

#: Shorter answers fit into a packet as they are.
_SMALL = 1_400
#: Two milliseconds for the largest pictures; a lower level is hardly quicker and sends more.
_LEVEL = 6
#: Makes zlib write the header of gzip.
_GZIP = 16 + zlib.MAX_WBITS
_KINDS = ("application/json", "application/x-ndjson", "application/problem+json")


def _streamed(parts: Iterable[bytes | str]) -> Iterator[bytes]:
    """Each part as soon as it is there: none waits for what comes after it."""
    packer = zlib.compressobj(_LEVEL, zlib.DEFLATED, _GZIP)
    for part in parts:
        text = part.encode() if isinstance(part, str) else part
        yield packer.compress(text) + packer.flush(zlib.Z_SYNC_FLUSH)
    yield packer.flush()


def packed(response: Response) -> Response:
    """Compress an answer in JSON where the request accepts gzip; all others stay as they are."""
    if response.mimetype not in _KINDS or response.content_encoding:
        return response
    response.vary.add("Accept-Encoding")
    if request.accept_encodings.best_match(["gzip", "identity"]) != "gzip":
        return response
    if response.is_streamed:
        parts = response.response
        response.response = _streamed(parts)
        if hasattr(parts, "close"):
            response.call_on_close(parts.close)
    else:
        body = response.get_data()
        if len(body) < _SMALL:
            return response
        response.set_data(zlib.compress(body, _LEVEL, _GZIP))
    response.content_encoding = "gzip"
    return response


def pack_answers(app: Flask) -> None:
    """Compress the application's answers in JSON."""
    app.after_request(packed)
