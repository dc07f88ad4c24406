"""Errors as problem documents (RFC 9457), each with a remedy."""

from __future__ import annotations

import logging
from dataclasses import dataclass
from http import HTTPStatus
from typing import Any

from flask import Flask, Response, make_response
from pydantic import ValidationError
from werkzeug.exceptions import HTTPException

from idle_harbor.core.errors import Fault, PlanError, TooMuchError, UnknownNameError
from idle_harbor.formats.plan.codec import UnknownPartsError
from idle_harbor.formats.plan.faults import fault_from
from idle_harbor.store.database import (
    StoreBusy,
    StoreFull,
    StoreGone,
)
from idle_harbor.store.directories import NoSuchDirectory
from idle_harbor.store.directory import ImportUnderWay, NotReady
from idle_harbor.store.jobs import NoSuchJob, TooManyJobs
from idle_harbor.store.plans import NameTaken, NoSuchPlan
from idle_harbor.store.studies import NoSuchStudy
from idle_harbor.web.shared.desk import Busy
from idle_harbor.web.shared.models import FaultModel, Problem

MEDIA_TYPE = "application/problem+json"
_log = logging.getLogger("idle_harbor.web")


#: Faults that one answer lists.
MOST_FAULTS = 1_000


def respond(problem: Problem) -> Response:
    """The problem as a response."""
    response = make_response(problem.model_dump_json(), problem.status)
    response.mimetype = MEDIA_TYPE
    return response


def problem(
    kind: str,
    status: int,
    title: str,
    detail: str,
    remedy: str = "",
    faults: tuple[Fault, ...] = (),
) -> Response:
    """A problem response; ``kind`` becomes its type. Of very many faults it has the first."""
    if len(faults) > MOST_FAULTS:
        detail = f"{detail} (the first {MOST_FAULTS:,} of {len(faults):,} faults)"
    listed = [
        FaultModel(pointer=f.pointer, message=f.message, remedy=f.remedy)
        for f in faults[:MOST_FAULTS]
    ]
    return respond(
        Problem(
            type=f"/problems/{kind}",
            title=title,
            status=status,
            detail=detail,
            remedy=remedy,
            faults=listed,
        )
    )


def refused_plan(faults: tuple[Fault, ...]) -> Response:
    """The plan cannot be; each fault has its pointer and remedy."""
    first = faults[0]
    return problem(
        "plan-cannot-be", 422, "This plan cannot be", first.message, first.remedy, faults
    )


def invalid_request(error: ValidationError) -> Response:
    """A request that does not have the shape the API describes; a plan inside it keeps its
    own pointers."""
    faults = tuple(fault_from(detail) for detail in error.errors())
    inner = tuple(
        Fault(f.pointer.removeprefix("/plan"), f.message, f.remedy)
        for f in faults
        if f.pointer.startswith("/plan/")
    )
    if inner and len(inner) == len(faults):
        return refused_plan(inner)
    first = faults[0]
    return problem(
        "bad-request",
        422,
        "The request is not understood",
        f"{first.pointer}: {first.message}",
        first.remedy,
        faults,
    )


@dataclass(frozen=True, slots=True)
class _Told:
    """How errors of one kind are told; what happened is the error's own text."""

    kind: str
    status: int
    title: str
    remedy: str
    again: bool = False

    def answer(self, error: Exception) -> Response:
        """The problem as which an error is told, with when to try again where that may help."""
        title = self.title.format(error=error)
        response = problem(self.kind, self.status, title, str(error), self.remedy)
        if self.again:
            response.headers["Retry-After"] = "1"
        return response


_TOLD: dict[type[Exception], _Told] = {
    UnknownNameError: _Told("unknown-name", 422, "No such {error.kind}", "choose one that exists"),
    UnknownPartsError: _Told(
        "unknown-parts",
        422,
        "Parts of this plan are not known here any more",
        "send the plan as a whole",
    ),
    Busy: _Told(
        "busy",
        503,
        "Many simulations are under way",
        "this page asks again by itself; fewer at once are answered sooner",
        again=True,
    ),
    NoSuchPlan: _Told("no-such-plan", 404, "No such plan", "open the list of plans and choose"),
    NoSuchDirectory: _Told(
        "no-such-directory", 404, "No such directory", "look at the list of directories"
    ),
    ImportUnderWay: _Told(
        "import-under-way",
        409,
        "Another import is under way",
        "stop it, or wait until it is done",
    ),
    NotReady: _Told(
        "import-not-ready", 409, "This import cannot be applied", "read the file again"
    ),
    NoSuchStudy: _Told("no-such-study", 404, "No such study", "look at the studies of the plan"),
    NoSuchJob: _Told("no-such-job", 404, "No such job", "look at the list of jobs"),
    TooManyJobs: _Told(
        "too-many-jobs", 429, "Too many jobs", "stop one, or wait until one is done", again=True
    ),
    StoreGone: _Told(
        "database-gone",
        503,
        "The database does not answer",
        "your edit is kept on this page; it can be saved once the database is back",
    ),
    StoreBusy: _Told(
        "database-busy",
        503,
        "The database could not do this now",
        "nothing was changed; try again in a moment, your edit is kept on this page",
        again=True,
    ),
    StoreFull: _Told(
        "database-full",
        507,
        "The database cannot take this",
        "nothing was changed; ask whoever runs it to make room, your edit is kept here",
    ),
}


def register(app: Flask) -> None:
    """Turn every error that can reach the edge into a problem document."""

    @app.errorhandler(PlanError)
    def _plan(error: PlanError) -> Response:
        return refused_plan(error.faults)

    @app.errorhandler(TooMuchError)
    def _much(error: TooMuchError) -> Response:
        return problem(
            "too-much",
            422,
            "This would take too long",
            error.fault.message,
            error.fault.remedy,
            (error.fault,),
        )

    for kind, told in _TOLD.items():
        app.register_error_handler(kind, told.answer)

    @app.errorhandler(NameTaken)
    def _taken(error: NameTaken) -> Response:
        fault = Fault("/name", str(error), "give this plan another name")
        return problem("name-taken", 409, "The name is taken", str(error), fault.remedy, (fault,))

    @app.errorhandler(HTTPException)
    def _http(error: HTTPException) -> Response:
        response = make_response(error.get_response())
        status = HTTPStatus(error.code or 500)
        body = Problem(
            type="about:blank",
            title=status.phrase,
            status=status.value,
            detail=str(error.description or status.description),
        )
        response.data = body.model_dump_json()
        response.mimetype = MEDIA_TYPE
        return response

    @app.errorhandler(Exception)
    def _unforeseen(error: Exception) -> Response:
        _log.exception("unforeseen error", exc_info=error)
        return problem(
            "internal",
            500,
            "Something went wrong here",
            "the server met an error of its own",
            "try again; if it comes back, the server's log has the details",
        )


def described(*statuses: int) -> dict[Any, Any]:
    """Response table entries for problems of these statuses."""
    return {
        status: {
            "content": {MEDIA_TYPE: {"schema": {"$ref": "#/components/schemas/Problem"}}},
            "description": HTTPStatus(status).phrase,
        }
        for status in statuses
    }
