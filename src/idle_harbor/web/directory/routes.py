"""The directory over HTTP: what it holds, and imports with a preview."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from flask import Response, request
from flask_openapi3.models import RawModel

from idle_harbor.core.plan.following import behind, caught_up, followed
from idle_harbor.demo.directory import demo_directory
from idle_harbor.formats.plan.codec import edited
from idle_harbor.store.directories import Directories
from idle_harbor.store.directory import Directory, NotReady
from idle_harbor.web.directory.models import (
    BehindAnswer,
    DirectoryAnswer,
    DirectoryList,
    GivenDirectory,
    ImportAnswer,
    ImportPath,
    ImportQuery,
    PlanQuery,
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


#: What a plan without a directory has.
_NOTHING = {"people": 0, "in_none": 0, "in_several": 0, "groups": []}


def _held(query: PlanQuery) -> Directory | None:
    """The directory of a plan, if it has one."""
    found = Directories(database()).of_plan(query.plan)
    return None if found is None else Directory(database(), found)


def _own(plan_id: int) -> Directory:
    """The directory of a plan, made where it has none."""
    return Directory(database(), Directories(database()).for_plan(plan_id))


def _latest(held: Directory | None) -> dict[str, Any]:
    return {"latest": held and held.latest_import()}


@directory.get("", responses={200: DirectoryAnswer, **described(404, 503)})
def read_directory(query: PlanQuery) -> Response:
    """Totals of a plan's directory, and every group with how many people are in it."""
    held = _held(query)
    found = _NOTHING if held is None else held.summary()
    return json_response({**found, "id": held and held.directory_id})


def _listed() -> Response:
    return json_response({"directories": Directories(database()).all()})


@directory.get("/all", responses={200: DirectoryList, **described(503)})
def list_directories() -> Response:
    """Every directory, with the plans that share it."""
    return _listed()


@directory.put("", responses={200: DirectoryList, **described(404, 503)})
def give_directory(query: PlanQuery, body: GivenDirectory) -> Response:
    """Give a plan a directory that other plans may have too, or none."""
    Directories(database()).give(query.plan, body.directory)
    return _listed()


def _people(held: Directory | None) -> dict[str, int]:
    return {group["key"]: group["people"] for group in held.summary()["groups"]} if held else {}


@directory.post("/behind", responses={200: BehindAnswer, **described(404, 503)})
def read_behind(query: PlanQuery, body: PlanBody) -> Response:
    """Groups of a plan whose headcount its directory tells otherwise; none without a directory."""
    held, plan = _held(query), read_body(body).plan
    found = behind(plan, _people(held)) if held else []
    return json_response({"behind": [asdict(each) for each in found]})


@directory.post("/take", responses={200: ChangedPlan, **described(404, 503)})
def take_directory(query: PlanQuery, body: PlanBody) -> Response:
    """The plan with its directory's headcounts, and the people who are in several groups."""
    held, plan = _held(query), read_body(body).plan
    if held is None:
        return json_response({"plan": edited(plan)})
    keys = list(followed(plan))
    classes = [(each["groups"], each["people"]) for each in held.classes(keys)]
    return json_response({"plan": edited(caught_up(plan, _people(held), classes))})


@directory.get("/import", responses={200: ImportAnswer, **described(404, 503)})
def read_import(query: PlanQuery) -> Response:
    """The newest import of a plan's directory: how far it is, or what it would change."""
    return json_response(_latest(_held(query)))


class FileBody(RawModel):
    """A file of people and groups, as it is."""

    mimetypes: list[str] = ["application/octet-stream"]  # noqa: RUF012


@directory.post("/import", responses={202: ImportAnswer, **described(404, 409, 413, 415, 503)})
def take_file(query: ImportQuery, raw: FileBody) -> Response:
    """Take a file for a plan's directory, the request's body, and begin to read it."""
    from idle_harbor.jobs.kinds.directory import begin_import

    request.max_content_length = MOST_BYTES
    pieces = iter(lambda: raw.stream.read(_CHUNK), b"")
    held = _own(query.plan)
    begin_import(held, query.name, query.format, pieces, query.owner)
    return json_response(_latest(held), 202)


@directory.post("/stand-in", responses={202: ImportAnswer, **described(404, 409, 503)})
def ask_stand_in(query: PlanQuery, body: StandInBody) -> Response:
    """Read the simulated directory as it stands on a day, as SCIM."""
    from idle_harbor.jobs.kinds.directory import begin_import

    told = demo_directory().as_scim(body.day)
    name = f"simulated directory, day {body.day}"
    held = _own(query.plan)
    begin_import(held, name, "scim", [told], body.owner)
    return json_response(_latest(held), 202)


@directory.post("/import/<int:import_id>/apply", responses={202: ImportAnswer, **described(409)})
def apply_import(path: ImportPath) -> Response:
    """Put a read import in the directory's place: all of it or nothing."""
    from idle_harbor.jobs.kinds.directory import begin_apply

    return json_response(_latest(begin_apply(database(), path.import_id)), 202)


@directory.post("/import/<int:import_id>/drop", responses={200: ImportAnswer, **described(409)})
def drop_import(path: ImportPath) -> Response:
    """Let a read import go, or stop one that is being read."""
    found = Directories(database()).of_import(path.import_id)
    if found is None:
        raise NotReady("there is no such import")
    held = Directory(database(), found)
    held.drop(path.import_id)
    return json_response(_latest(held))
