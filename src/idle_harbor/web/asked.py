"""Answers that a page asks for while it is edited: kept ones at once, others from the desk.

Work goes on for as long as somebody waits for it: until a newer edit of the page comes, or the
page has gone.
"""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator
from typing import Any

from flask import Response, current_app, make_response, request
from pydantic_core import to_json

from idle_harbor.core.errors import NotWantedError
from idle_harbor.web.desk import Busy, Desk, Superseded

_log = logging.getLogger("idle_harbor.web")


def desk() -> Desk:
    """The application's desk."""
    found = current_app.extensions["desk"]
    assert isinstance(found, Desk)
    return found


def json_response(values: dict[str, Any]) -> Response:
    """Values as a JSON response."""
    response = make_response(to_json(values))
    response.mimetype = "application/json"
    return response


def tab_of(kind: str, tab: str) -> str:
    """The name under which a page's questions of one kind supersede each other."""
    return f"{kind} {tab}" if tab else ""


def wanted_by(tab: str = "", edit: int = 0) -> Callable[[], bool]:
    """Whether the request's answer is still waited for: by an open connection and by the page."""
    gone = request.environ.get("waitress.client_disconnected", bool)
    at_desk = desk()
    return lambda: not gone() and at_desk.wanted(tab, edit)


def nothing() -> Response:
    """Nothing: the page has sent a newer edit and waits for the answer to that one."""
    return make_response("", 204)


def answered(text: bytes, edit: int, key: str) -> Response:
    """The computed part of an answer, with the page's edit number put in front."""
    response = make_response(b'{"edit":%d,"input_hash":"%s",' % (edit, key.encode()) + text[1:])
    response.mimetype = "application/json"
    return response


def computed(
    kind: str, tab: str, edit: int, key: str, work: Callable[[], dict[str, Any]]
) -> Response:
    """The kept answer, or the one the desk computes; nothing where a newer edit has come."""
    name = tab_of(kind, tab)
    desk().announce(name, edit)
    text = desk().answer(key)
    if text is None:
        try:
            text = desk().run(wanted_by(name, edit), lambda: to_json(work()))
        except (Superseded, NotWantedError):
            return nothing()
        desk().keep_answer(key, text)
    return answered(text, edit, key)


#: A step of a long answer: steps done, steps in all, and what this one brought.
Step = tuple[int, int, dict[str, Any]]


def in_parts(kind: str, tab: str, edit: int, steps: Iterator[Step]) -> Response:
    """A long answer, a JSON value a line as each part gets done: progress, and what it brought.

    Each step takes a place at the desk of its own, so that others come in between; the answer
    ends early, without its last part, once nobody waits for it.
    """
    name = tab_of(kind, tab)
    at_desk = desk()
    at_desk.announce(name, edit)
    wanted = wanted_by(name, edit)
    # The first step is done before anything is sent, so that what is refused is refused whole.
    first = _step(at_desk, wanted, steps)

    def lines() -> Iterator[bytes]:
        step = first
        while step is not None:
            done, of, brought = step
            yield to_json({"edit": edit, "done": done, "of": of, **brought}) + b"\n"
            try:
                step = _step(at_desk, wanted, steps)
            except Busy:
                yield to_json({"edit": edit, "busy": True}) + b"\n"
                return

    if first is None:
        return nothing()
    response = Response(lines(), mimetype="application/x-ndjson")
    response.headers["Cache-Control"] = "no-store"
    return response


def _step(at_desk: Desk, wanted: Callable[[], bool], steps: Iterator[Step]) -> Step | None:
    try:
        return at_desk.run(wanted, lambda: next(steps, None))
    except (Superseded, NotWantedError):
        return None
