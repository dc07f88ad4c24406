"""The directory over HTTP: what it holds, and imports with a preview."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from flask import Response, request
from flask_openapi3.models import RawModel

from idle_harbor.core.plan.following import behind, caught_up, followed
from idle_harbor.demo.directory import demo_directory
from idle_harbor.formats.plan.codec import edited
from idle_harbor.store.directory import Directory
from idle_harbor.web.directory.models import (
    BehindAnswer,
    DirectoryAnswer,
    ImportAnswer,
    ImportPath,
    ImportQuery,
    StandInBody,
)
from idle_harbor.web.shared.asked import database, json_response
from idle_harbor.web.shared.bodies import read_body
from idle_harbor.web.shared.models import ChangedPlan, PlanBody
from idle_harbor.web.shared.problems import described
from idle_harbor.web.shared.view import view

directory = view("directory")

#: Ten million people are about a gigabyte.
MOST_BYTES = 8_000_000_000
_CHUNK = 1 << 20


def _held() -> Directory:
    return Directory(database())


def _latest() -> dict[str, Any]:
    return {"latest": _held().latest_import()}


@directory.get("", responses={200: DirectoryAnswer, **described(503)})
def read_directory() -> Response:
    """Totals, and every group with how many people are in it."""
    return json_response(_held().summary())


def _people() -> dict[str, int]:
    return {group["key"]: group["people"] for group in _held().summary()["groups"]}


@directory.post("/behind", responses={200: BehindAnswer, **described(503)})
def read_behind(body: PlanBody) -> Response:
    """Groups of a plan whose headcount the directory tells otherwise."""
    found = behind(read_body(body).plan, _people())
    return json_response({"behind": [asdict(each) for each in found]})


@directory.post("/take", responses={200: ChangedPlan, **described(503)})
def take_directory(body: PlanBody) -> Response:
    """The plan with the directory's headcounts, and the people who are in several groups."""
    plan = read_body(body).plan
    keys = list(followed(plan))
    classes = [(each["groups"], each["people"]) for each in _held().classes(keys)]
    return json_response({"plan": edited(caught_up(plan, _people(), classes))})


@directory.get("/import", responses={200: ImportAnswer, **described(503)})
def read_import() -> Response:
    """The newest import: how far it is, or what it would change."""
    return json_response(_latest())


class FileBody(RawModel):
    """A file of people and groups, as it is."""

    mimetypes: list[str] = ["application/octet-stream"]  # noqa: RUF012


@directory.post("/import", responses={202: ImportAnswer, **described(409, 413, 415, 503)})
def take_file(query: ImportQuery, raw: FileBody) -> Response:
    """Take a file, the request's body, and begin to read it."""
    from idle_harbor.jobs.kinds.directory import begin_import

    request.max_content_length = MOST_BYTES
    pieces = iter(lambda: raw.stream.read(_CHUNK), b"")
    begin_import(database(), query.name, query.format, pieces, query.owner)
    return json_response(_latest(), 202)


@directory.post("/stand-in", responses={202: ImportAnswer, **described(409, 503)})
def ask_stand_in(body: StandInBody) -> Response:
    """Read the simulated directory as it stands on a day, as SCIM."""
    from idle_harbor.jobs.kinds.directory import begin_import

    told = demo_directory().as_scim(body.day)
    name = f"simulated directory, day {body.day}"
    begin_import(database(), name, "scim", [told], body.owner)
    return json_response(_latest(), 202)


@directory.post("/import/<int:import_id>/apply", responses={202: ImportAnswer, **described(409)})
def apply_import(path: ImportPath) -> Response:
    """Put a read import in the directory's place: all of it or nothing."""
    from idle_harbor.jobs.kinds.directory import begin_apply

    begin_apply(database(), path.import_id)
    return json_response(_latest(), 202)


@directory.post("/import/<int:import_id>/drop", responses={200: ImportAnswer, **described(409)})
def drop_import(path: ImportPath) -> Response:
    """Let a read import go, or stop one that is being read."""
    held = _held()
    held.drop(path.import_id)
    return json_response({"latest": held.latest_import()})
