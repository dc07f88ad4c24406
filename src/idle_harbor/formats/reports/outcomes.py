"""Values of the core as JSON, and back to the last bit: for what several processes work out."""

from __future__ import annotations

from collections.abc import Hashable
from functools import cache
from typing import Any, TypeVar, cast

from pydantic import TypeAdapter

T = TypeVar("T")


@cache
def _adapter(kind: Any) -> TypeAdapter[Any]:
    return TypeAdapter(kind)


def as_values(value: object, kind: Any = None) -> Any:
    """A dataclass of the core as values that JSON holds; numbers come back as they were. ``kind``
    is its type, where that is not the dataclass itself: a list of some, one of several."""
    adapter = _adapter(cast(Hashable, type(value) if kind is None else kind))
    return adapter.dump_python(value, mode="json")


def from_values(kind: type[T], values: Any) -> T:
    """A value of a type, read from the JSON values that :func:`as_values` returned for it."""
    found: T = _adapter(cast(Hashable, kind)).validate_python(values)
    return found
