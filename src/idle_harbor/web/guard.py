"""Who may ask for a change, and under which name the application answers.

A page of another origin that is open in the same browser can send requests here, though it cannot
read the answers. What changes something is therefore refused unless it comes from a page of ours
or from no page at all, and bodies must be of a type that other pages cannot send unasked. A name
that somebody else's address book leads here under (DNS rebinding) is not ours either.
"""

from __future__ import annotations

import os
import re
from collections.abc import Mapping
from urllib.parse import urlsplit

from flask import Flask, Response, request

from idle_harbor.web.shared.problems import problem

_SAFE = ("GET", "HEAD", "OPTIONS")
#: Content types that any page may send anywhere without asking first.
_SIMPLE = ("text/plain", "multipart/form-data", "application/x-www-form-urlencoded")
_HOST = re.compile(r"(\[[0-9A-Fa-f:]+\]|[A-Za-z0-9._-]+)(?::\d{1,5})?")
#: The one path whose body is a file and not JSON.
FILES = "/api/directory/import"


def own_hosts() -> dict[str, str]:
    """Names that the application answers under, whatever the port, with the scheme of their pages:
    IDLE_HARBOR_HOSTS adds some, as ``name``, or ``https://name`` where a proxy serves them so."""
    more = [each.strip() for each in os.environ.get("IDLE_HARBOR_HOSTS", "").split(",")]
    found = dict.fromkeys(("127.0.0.1", "localhost", "[::1]"), "http")
    for each in filter(None, more):
        scheme, _, name = each.rpartition("://")
        found[name.lower()] = scheme or "http"
    return found


def guard(app: Flask) -> None:
    """Refuse requests under a strange name, and changes that another page asks for."""
    names = own_hosts()

    @app.before_request
    def _refuse() -> Response | None:
        if _name_of(request.host) not in names:
            return problem(
                "strange-host",
                400,
                "This is not called so here",
                f"a request came for the host {request.host[:200]!r}",
                "open the address that the start printed; IDLE_HARBOR_HOSTS adds names to it",
            )
        if request.method in _SAFE:
            return None
        if not _from_here(names):
            return problem(
                "other-origin",
                403,
                "This comes from another page",
                f"a page of {request.headers.get('Origin', 'another origin')[:200]} asked for a "
                "change here",
                "open Idle Harbor itself and do it there",
            )
        if not _body_is_ours():
            return problem(
                "media-type",
                415,
                "A body of this type is not taken",
                f"the content type is {request.mimetype[:80] or 'missing'}",
                "send application/json; files of a directory as application/octet-stream",
            )
        return None


def _name_of(host: str) -> str:
    """The name in a Host header, without its port."""
    found = _HOST.fullmatch(host)
    return found.group(1).lower() if found else ""


def _from_here(names: Mapping[str, str]) -> bool:
    """Whether the browser says that a page of ours asks, or there is no browser that says so."""
    if request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none"):
        return False
    origin = request.headers.get("Origin")
    if origin is None:
        return True
    try:
        parts = urlsplit(origin)
    except ValueError:
        return False
    return parts.scheme == names[_name_of(request.host)] and parts.netloc == request.host


def _body_is_ours() -> bool:
    has_body = bool(request.content_length) or "chunked" in request.headers.get(
        "Transfer-Encoding", ""
    )
    if not has_body:
        return True
    if request.path == FILES:
        return request.mimetype not in _SIMPLE
    return request.mimetype == "application/json"
