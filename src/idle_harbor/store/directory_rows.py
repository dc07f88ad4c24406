"""Rows of the directory and of its imports, as queries return them."""

from __future__ import annotations

from datetime import datetime
from typing import Any, TypedDict


class Totals(TypedDict):
    """The directory in numbers, and its groups with their people."""

    people: int
    in_none: int
    in_several: int
    groups: list[dict[str, Any]]


class PeopleOfGroups(TypedDict):
    """How many people are in exactly these groups."""

    groups: list[str]
    people: int


class ImportLine(TypedDict):
    """An import: where it comes from, how far it is, and its preview."""

    id: int
    source: str
    format: str
    state: str
    bytes_total: int | None
    bytes_read: int
    rows_read: int
    problem: str
    preview: dict[str, Any] | None
    begun_at: datetime
    ended_at: datetime | None
