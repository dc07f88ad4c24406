"""How much a JSON text may hold: known before it is read, so that no text takes gigabytes."""

from __future__ import annotations

from typing import Any, Literal

from pydantic_core import from_json

from idle_harbor.core.errors import Fault, TooMuchError

#: Lists and objects of a JSON text, and values that commas part.
MOST_CONTAINERS, MOST_VALUES = 200_000, 500_000
#: Fields of one object: no declared one has as many.
MOST_FIELDS = 1_000
#: A text below this holds little whatever it is.
_LITTLE_BYTES = 8_000
_LARGE_BYTES = 1_000_000
_REMEDY = "send less at once"


def _too_many(count: int, most: int, what: str) -> TooMuchError:
    return TooMuchError(Fault("", f"this has {count:,} {what}, more than {most:,}", _REMEDY))


def _outside_texts(text: bytes) -> list[bytes]:
    """What stands between the quoted texts of a JSON text."""
    return text.replace(b"\\\\", b"").replace(b'\\"', b"").split(b'"')[::2]


def _check_amount(text: bytes) -> None:
    """Raise TooMuchError where a JSON text has more lists, objects or values than may be."""
    found = text.count(b"[") + text.count(b"{")
    values = text.count(b",")
    if found <= MOST_CONTAINERS and values <= MOST_VALUES:
        return
    # Tables come as quoted texts: their commas count for nothing.
    texts = text.count(b'"') // 2
    if texts > MOST_VALUES:
        raise _too_many(texts, MOST_VALUES, "texts")
    pieces = _outside_texts(text)
    found = sum(piece.count(b"[") + piece.count(b"{") for piece in pieces)
    values = sum(piece.count(b",") for piece in pieces)
    if found > MOST_CONTAINERS:
        raise _too_many(found, MOST_CONTAINERS, "lists and objects")
    if values > MOST_VALUES:
        raise _too_many(values, MOST_VALUES, "values")


def read_json(text: bytes | str) -> Any:
    """The value of a JSON text in UTF-8.

    Raises ValueError where it is none, TooMuchError where it holds more than ``MOST_CONTAINERS``
    lists and objects or ``MOST_VALUES`` values, or an object of more than ``MOST_FIELDS`` fields.
    """
    raw = text.encode() if isinstance(text, str) else text
    _check_amount(raw)
    # Names of fields that are all different fill the cache of texts for nothing, and nobody else is
    # answered meanwhile.
    caches: Literal["all", "none"] = "all" if len(raw) < _LARGE_BYTES else "none"
    value = from_json(raw, allow_inf_nan=False, cache_strings=caches)
    # Each field has a colon: few of them are quicker to count than all values.
    if len(raw) > _LITTLE_BYTES and raw.count(b":") > MOST_FIELDS:
        weight_of(value)
    return value


def check_weight(value: object, most: int) -> None:
    """Raise TooMuchError where there are more values in all than ``most``."""
    if (found := weight_of(value, most)) > most:
        raise _too_many(found, most, "values beside the plan")


def weight_of(value: object, most: int = MOST_CONTAINERS + MOST_VALUES) -> int:
    """How many values there are in all; not counted on beyond ``most``.

    Raises TooMuchError where an object has more than ``MOST_FIELDS`` fields.
    """
    count = 0
    left: list[Any] = [value]
    while left and count <= most:
        each = left.pop()
        count += 1
        if isinstance(each, dict):
            if len(each) > MOST_FIELDS:
                raise _too_many(len(each), MOST_FIELDS, "fields in one object")
            left.extend(each.values())
        elif isinstance(each, list):
            left.extend(each)
    return count
