"""The single page for every view's address, and its files, read once into memory.

Nothing of a request becomes a path of the file system, and a server that has given up its rights
need not be able to read the checkout.
"""

from __future__ import annotations

import mimetypes
from pathlib import Path

from flask import Flask, Response, abort, make_response, request

_POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
    "frame-ancestors 'none'; base-uri 'none'; form-action 'none'"
)


#: Parts of a page and answers, which a browser never runs by themselves: they need no policy.
_PARTS = {
    "text/javascript",
    "text/css",
    "font/woff2",
    "application/json",
    "application/x-ndjson",
}
#: Content codings of files that stand beside themselves compressed, the smallest first.
_CODINGS = {"br": ".br", "gzip": ".gz"}


def _files(folder: Path) -> dict[str, bytes]:
    """Every file by its path below the folder, compressed ones too."""
    paths = sorted(folder.rglob("*")) if folder.is_dir() else []
    return {
        path.relative_to(folder).as_posix(): path.read_bytes()
        for path in paths
        if path.is_file() and not path.name.startswith(".")
    }


def _with_headers(response: Response) -> Response:
    """What a browser may do with an answer."""
    if response.mimetype not in _PARTS:
        response.headers["Content-Security-Policy"] = _POLICY
    response.headers["X-Content-Type-Options"] = "nosniff"
    response.headers["Referrer-Policy"] = "same-origin"
    response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
    return response


def _sent(files: dict[str, bytes], name: str, caching: str) -> Response:
    """A file as the request can take it, compressed if it stands so beside itself; 404 where there
    is none."""
    if name not in files:
        abort(404)
    there = {c: name + end for c, end in _CODINGS.items() if name + end in files}
    coding = request.accept_encodings.best_match([*there, "identity"]) or "identity"
    response = make_response(files[there.get(coding, name)])
    response.mimetype = mimetypes.guess_type(name)[0] or "application/octet-stream"
    if coding in there:
        response.content_encoding = coding
    if there:
        response.vary.add("Accept-Encoding")
    response.headers["Cache-Control"] = caching
    return response


def serve_pages(app: Flask, folder: Path) -> None:
    """Serve the built front end, and say on every response what a browser may do with it."""
    files = _files(folder)

    def sent(name: str, caching: str) -> Response:
        return _sent(files, name, caching)

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

    @app.route("/<path:rest>")
    def nowhere(rest: str) -> Response:
        """An address of no view: the page says so; below it the API and files answer as ever."""
        if rest.startswith(("api/", "assets/")) or not request.accept_mimetypes.accept_html:
            abort(404)
        response = sent("index.html", "no-cache")
        response.status_code = 404
        return response

    app.after_request(_with_headers)
