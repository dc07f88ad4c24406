"""Answers that a page asks for while it is edited: kept ones at once, others from the desk.

Work goes on for as long as somebody waits for it: until a newer edit of the page comes, or the
page has gone.
"""

from __future__ import annotations

import sys
from collections.abc import Callable, Iterator
from decimal import Decimal
from typing import Any, TypeVar

import orjson
from flask import Response, current_app, make_response, request, stream_with_context
from pydantic import BaseModel

from idle_harbor.core.errors import NotWantedError
from idle_harbor.runtime import engine_version
from idle_harbor.store.database import Database, StoreError
from idle_harbor.store.plans import Plans
from idle_harbor.store.results import Results
from idle_harbor.store.studies import Studies
from idle_harbor.web.shared.desk import Busy, Desk, Superseded
from idle_harbor.web.shared.models import AskedBody

T = TypeVar("T")


def desk() -> Desk:
    """The application's desk."""
    found = current_app.extensions["desk"]
    assert isinstance(found, Desk)
    return found


def database() -> Database:
    """The application's database."""
    found = current_app.extensions["database"]
    assert isinstance(found, Database)
    return found


def stored_plans() -> Plans:
    """The plans of the application's database."""
    return Plans(database())


def studies() -> Studies:
    """The studies of the application's database."""
    return Studies(database())


def results() -> Results:
    """The kept results of the application's database."""
    found = current_app.extensions["results"]
    assert isinstance(found, Results)
    return found


def to_json(values: object) -> bytes:
    """Values as JSON; arrays as lists, sums of money as the texts they are.

    What was stored by others may hold numbers or texts that JSON has no form for: they are told as
    near as can be, so that one does not take the rest with it.
    """
    try:
        return orjson.dumps(values, default=_plain, option=orjson.OPT_SERIALIZE_NUMPY)
    except TypeError:
        return orjson.dumps(_near(values), default=_plain, option=orjson.OPT_SERIALIZE_NUMPY)


#: The largest number that a reader of JSON has.
_LARGEST = int(sys.float_info.max)


def _near(value: Any) -> Any:
    """The value without whole numbers beyond 64 bits and halves of characters."""
    if isinstance(value, dict):
        return {_near(name): _near(each) for name, each in value.items()}
    if isinstance(value, list | tuple):
        return [_near(each) for each in value]
    if isinstance(value, int) and value.bit_length() > 63:
        return float(value) if abs(value) < _LARGEST else None
    return value.encode(errors="replace").decode() if isinstance(value, str) else value


def _plain(value: object) -> object:
    if isinstance(value, BaseModel):
        return value.model_dump(mode="json")
    if isinstance(value, Decimal):
        return str(value)
    raise TypeError(f"a {type(value).__name__} has no form in JSON")


def json_response(values: object, status: int = 200) -> Response:
    """Values, or a text that is JSON already, as a JSON response."""
    text = values if isinstance(values, bytes | str) else to_json(values)
    response = make_response(text, status)
    response.mimetype = "application/json"
    return response


def nothing() -> Response:
    """Nothing: the page has sent a newer edit and waits for the answer to that one."""
    return make_response("", 204)


def wanted_by(name: str = "", edit: int = 0) -> Callable[[], bool]:
    """Whether the request's answer is still waited for: by an open connection and by the page."""
    gone = request.environ.get("waitress.client_disconnected", bool)
    at_desk = desk()
    return lambda: not gone() and at_desk.wanted(name, edit)


def announced(view: str, body: AskedBody) -> Callable[[], bool]:
    """Note a page's edit, which ends the work for its older ones of the same view.

    The sooner the better: what it ends takes the processor from it.
    """
    name = f"{view} {body.tab}" if body.tab else ""
    desk().announce(name, body.edit)
    return wanted_by(name, body.edit)


def at_desk(wanted: Callable[[], bool], work: Callable[[], T], *, urgent: bool = False) -> T | None:
    """Work done at the desk when it is its turn; None where nobody waits for it any more."""
    try:
        return desk().run(wanted, work, urgent=urgent)
    except (Superseded, NotWantedError):
        return None


def computed(
    view: str,
    body: AskedBody,
    key: str,
    work: Callable[[], dict[str, Any]],
    *,
    kind: str = "",
    saved: bool = False,
    whole: bool = True,
    keeps: bool = True,
    urgent: bool = False,
) -> Response:
    """The kept answer, or the one the desk computes; nothing where a newer edit has come.

    Answers of one ``key`` are told apart by their ``kind``. Those about a ``saved`` plan are kept
    in the database too; a kept one counts only where it is ``whole``, with all that belongs to it,
    and a new one is kept unless ``keeps`` says otherwise. An ``urgent`` one goes before others.
    """
    wanted = announced(view, body)
    name = f"{view} {kind}".rstrip()
    text = _kept(name, key, saved) if whole else None
    if text is None:
        text = at_desk(wanted, lambda: to_json({"input_hash": key, **work()}), urgent=urgent)
        if text is None:
            return nothing()
        if keeps:
            _keep(name, key, text, saved)
    return json_response(text)


def known(view: str, key: str, work: Callable[[], dict[str, Any]], *, kind: str = "") -> Response:
    """The kept answer about a saved plan, or the one the desk computes, for no page's edit."""
    name = f"{view} {kind}".rstrip()
    text = _kept(name, key, True)
    if text is None:
        text = at_desk(wanted_by(), lambda: to_json(work()))
        if text is None:
            return nothing()
        _keep(name, key, text, True)
    return json_response(text)


def _kept(name: str, key: str, saved: bool) -> bytes | None:
    found = desk().answer(f"{name} {key}")
    if found is None and saved:
        try:
            stored = results().find(key, engine_version(), name)
        except StoreError:
            return None
        found = None if stored is None else stored.encode()
    return found


def _keep(name: str, key: str, text: bytes, saved: bool) -> None:
    desk().keep_answer(f"{name} {key}", text)
    if saved:
        try:
            results().keep(key, engine_version(), name, text.decode())
        except StoreError:
            return  # a result that is not kept is computed again


#: A step of a long answer: steps done, steps in all, and what this one brought.
Step = tuple[int, int, dict[str, Any]]


def in_parts(view: str, body: AskedBody, steps: Iterator[Step]) -> Response:
    """A long answer, a JSON value a line as each part gets done: progress, and what it brought.

    Each step takes a place at the desk of its own, so that others come in between; the answer
    ends early, without its last part, once nobody waits for it.
    """
    wanted = announced(view, body)

    def step() -> Step | None:
        return at_desk(wanted, lambda: next(steps, None))

    # The first step is done before anything is sent, so that what is refused is refused whole.
    first = step()

    def lines() -> Iterator[bytes]:
        now = first
        while now is not None:
            done, of, brought = now
            yield to_json({"done": done, "of": of, **brought}) + b"\n"
            try:
                now = step()
            except Busy:
                yield to_json({"busy": True}) + b"\n"
                return

    if first is None:
        return nothing()
    response = Response(stream_with_context(lines()), mimetype="application/x-ndjson")
    response.headers["Cache-Control"] = "no-store"
    return response
