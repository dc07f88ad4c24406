"""A view's routes: one blueprint each, below ``/api``."""

from __future__ import annotations

from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.models.tag import Tag

from idle_harbor.web.shared.models import Problem


def view(name: str, path: str | None = None) -> APIBlueprint:
    """The routes of a view below ``/api/<path>``, by default its name; what is not understood is a
    problem document."""
    return APIBlueprint(
        name,
        f"idle_harbor.web.{name}",
        url_prefix="/api" if path == "" else f"/api/{path or name}",
        abp_tags=[Tag(name=name)],
        abp_responses={422: Problem},
    )
