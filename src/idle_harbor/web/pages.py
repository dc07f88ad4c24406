"""The single page for every view's address, and its files, read once into memory.

Nothing of a request becomes a path of the file system, and a server that has given up its rights
need not be able to read the checkout.
"""

from __future__ import annotations

import mimetypes
from pathlib import Path

from flask import Flask, Response, abort, make_response

_POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
    "frame-ancestors 'none'; base-uri 'none'; form-action 'none'"
)


def _files(folder: Path) -> dict[str, tuple[bytes, str]]:
    """Every file by its path below the folder, with its type."""
    found: dict[str, tuple[bytes, str]] = {}
    for path in sorted(folder.rglob("*")) if folder.is_dir() else ():
        if path.is_file() and not path.name.startswith("."):
            kind = mimetypes.guess_type(path.name)[0] or "application/octet-stream"
            found[path.relative_to(folder).as_posix()] = (path.read_bytes(), kind)
    return found


def serve_pages(app: Flask, folder: Path) -> None:
    """Serve the built front end, and say on every response what a browser may do with it."""
    files = _files(folder)

    def sent(name: str, caching: str) -> Response:
        if name not in files:
            abort(404)
        body, kind = files[name]
        response = make_response(body)
        response.mimetype = kind
        response.headers["Cache-Control"] = caching
        return response

    @app.route("/assets/<path:name>")
    def asset(name: str) -> Response:
        return sent(f"assets/{name}", "public, max-age=31536000, immutable")

    @app.route("/favicon.svg")
    def icon() -> Response:
        return sent("favicon.svg", "public, max-age=86400")

    @app.route("/")
    @app.route("/plans/<path:_rest>")
    def page(_rest: str = "") -> Response:
        return sent("index.html", "no-cache")

    @app.after_request
    def _headers(response: Response) -> Response:
        response.headers["Content-Security-Policy"] = _POLICY
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "same-origin"
        response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
        return response
