"""The application: blueprints, errors, the single page and its files."""

from __future__ import annotations

from copy import deepcopy
from threading import Lock
from typing import Any

from flask import Response, has_request_context, make_response
from flask.json.provider import DefaultJSONProvider
from flask_openapi3.models.info import Info
from flask_openapi3.openapi import OpenAPI

from idle_harbor import __version__
from idle_harbor.core.plan.declare import clock_text
from idle_harbor.formats.bounds import check_weight, read_json
from idle_harbor.runtime import CHECKOUT
from idle_harbor.store.database import Database
from idle_harbor.store.results import Results
from idle_harbor.web.board.routes import board
from idle_harbor.web.checks.routes import checks
from idle_harbor.web.directory.routes import directory
from idle_harbor.web.guard import guard
from idle_harbor.web.help.routes import help_
from idle_harbor.web.hosts.routes import hosts
from idle_harbor.web.jobs.routes import jobs
from idle_harbor.web.pages import serve_pages
from idle_harbor.web.people.routes import people
from idle_harbor.web.plans.routes import plans
from idle_harbor.web.plans.shelf import shelf
from idle_harbor.web.pools.routes import pools
from idle_harbor.web.prices.routes import prices
from idle_harbor.web.server import MOST_BYTES
from idle_harbor.web.shared.desk import Desk
from idle_harbor.web.shared.long import part_cache, question_cache
from idle_harbor.web.shared.models import Problem
from idle_harbor.web.shared.packing import pack_answers
from idle_harbor.web.shared.problems import MEDIA_TYPE, invalid_request, register
from idle_harbor.web.tuner.routes import tuner

_PAGES = CHECKOUT / "frontend" / "dist"
_VIEWS = (shelf, plans, board, people, directory, hosts, pools, prices, checks, help_, jobs, tuner)
_describing = Lock()
#: Values of a body beside its plan, looked at where there can be as many.
_BESIDE, _FEW_BYTES = 5_000, 8_000
_SCHEMAS = "#/components/schemas/"
_PROBLEM = {"$ref": f"{_SCHEMAS}Problem"}


class _Json(DefaultJSONProvider):
    """Bodies as the models' own library reads them: nested, long and odd ones are faults."""

    sort_keys = False

    def loads(self, s: str | bytes, **_: Any) -> Any:
        """The value of a JSON text; raises ValueError for whatever it cannot be, TooMuchError where
        a request's body holds too much."""
        value = read_json(s)
        if isinstance(value, dict) and len(s) > _FEW_BYTES and has_request_context():
            check_weight({name: each for name, each in value.items() if name != "plan"}, _BESIDE)
        return value


def _api() -> OpenAPI:
    app = OpenAPI(
        "idle_harbor.web.app",
        info=Info(title="Idle Harbor", version=__version__),
        security_schemes={},
        responses={422: Problem},
        validation_error_callback=invalid_request,
        doc_ui=False,
        static_folder=None,
    )
    app.config["MAX_CONTENT_LENGTH"] = MOST_BYTES
    app.json = _Json(app)
    for view in _VIEWS:
        app.register_api(view)

    @app.route("/api/openapi.json")
    def read_document() -> Response:
        return make_response(app.json.response(api_document()))

    return app


def _enumerated(schema: dict[str, Any]) -> dict[str, Any]:
    """A constant as the one value that there is."""
    more = {"enum": [schema["const"]]} if "const" in schema else {}
    return {name: each for name, each in schema.items() if name != "const"} | more


def _for_generators(value: Any) -> Any:
    """What generators of clients take: a plan has one name, and no object is a default (what is
    left out has its default all the same; docs/plan.schema.json tells it)."""
    if isinstance(value, list):
        return [_for_generators(each) for each in value]
    if value == f"{_SCHEMAS}PlanFile":
        return f"{_SCHEMAS}Plan"
    if not isinstance(value, dict):
        return value
    if "anyOf" in value:
        # One of several that is no other value is taken for an error of the whole.
        value = {**value, "anyOf": [_enumerated(each) for each in value["anyOf"]]}
    clock = any(":[0-5]" in each.get("pattern", "") for each in value.get("anyOf", []))
    if clock and isinstance(at := value.get("default"), int):
        value = {**value, "default": clock_text(at)}
    return {
        name: _for_generators(each)
        for name, each in value.items()
        if not (name == "default" and isinstance(each, dict) and "type" not in each)
    }


def _document(app: OpenAPI) -> dict[str, Any]:
    """The OpenAPI document; errors are problem documents, whatever model describes them."""
    document: dict[str, Any] = _for_generators(deepcopy(dict(app.api_doc)))
    document["components"]["schemas"].pop("PlanFile", None)
    for name, path in document["paths"].items():
        for operation in path.values():
            if name.endswith("/parts"):
                lines = operation["responses"]["200"]["content"]
                lines["application/x-ndjson"] = lines.pop("application/json")
            for status, response in operation["responses"].items():
                content = response.get("content", {})
                if int(status) >= 400:
                    schema = content.pop("application/json", {}).get("schema", _PROBLEM)
                    ours = schema if schema.get("$ref", "").endswith("Problem") else _PROBLEM
                    response["content"] = {MEDIA_TYPE: {"schema": ours}}
    document["components"]["schemas"].pop("ValidationErrorModel", None)
    return document


def api_document() -> dict[str, Any]:
    """The OpenAPI document, without starting anything."""
    with _describing:
        for view in _VIEWS:
            view.describe()
    return _document(_api())


def create_app(address: str) -> OpenAPI:
    """The application on a database, for the server and tests."""
    app = _api()
    database = Database(address)
    app.extensions["database"] = database
    app.extensions["results"] = Results(database)
    app.extensions["desk"] = Desk()
    app.extensions["questions"] = question_cache()
    app.extensions["parts"] = part_cache()
    register(app)
    guard(app)
    serve_pages(app, _PAGES)
    pack_answers(app)
    return app
