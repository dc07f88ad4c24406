"""Answers that a page asks for while it is edited: kept ones at once, others from the desk."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask import Response, current_app, make_response
from pydantic_core import to_json

from idle_harbor.web.desk import Desk, Superseded


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


def computed(
    kind: str, tab: str, edit: int, key: str, work: Callable[[], dict[str, Any]]
) -> Response:
    """The kept answer, or the one the desk computes; nothing where a newer edit has come."""
    name = tab_of(kind, tab)
    desk().announce(name, edit)
    text = desk().answers.get(key)
    if text is None:
        try:
            text = desk().run(name, edit, lambda: to_json(work()).decode())
        except Superseded:
            return make_response("", 204)
        desk().answers.put(key, text)
    response = make_response(f'{{"edit":{edit},"input_hash":"{key}",{text[1:]}')
    response.mimetype = "application/json"
    return response
