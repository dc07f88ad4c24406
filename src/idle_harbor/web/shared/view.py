"""A view's routes: one blueprint each, below ``/api``."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.models.tag import Tag

from idle_harbor.web.shared.models import Problem


class View(APIBlueprint):
    """Routes that are described once somebody asks what they are: making the schemas of every
    request and answer takes longer than all else that a server's start needs of them."""

    def __init__(self, *arguments: Any, **more: Any) -> None:
        super().__init__(*arguments, **more)
        self._undescribed: list[tuple[str, Callable[..., Any], dict[str, Any]]] = []

    def _collect_openapi_info(self, rule: str, func: Callable[..., Any], **more: Any) -> Any:
        self._undescribed.append((rule, func, more))
        return super()._collect_openapi_info(rule, func, **{**more, "doc_ui": False})

    def describe(self) -> None:
        """Make the descriptions; an application that the routes are registered with afterwards
        has them."""
        while self._undescribed:
            rule, func, more = self._undescribed.pop(0)
            super()._collect_openapi_info(rule, func, **more)


def _called(*, name: str, path: str, method: str) -> str:
    """An operation is called as its function is."""
    return name


def view(name: str, path: str | None = None, tag: str | None = None) -> View:
    """The routes of a view below ``/api/<path>``, by default its name; what is not understood is a
    problem document. The ``tag`` under which the API's document lists them is its name too."""
    return View(
        name,
        f"idle_harbor.web.{name}",
        url_prefix="/api" if path == "" else f"/api/{path or name}",
        abp_tags=[Tag(name=tag or name)],
        operation_id_callback=_called,
        abp_responses={422: Problem},
    )
