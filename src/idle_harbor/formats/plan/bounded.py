"""What is wrong with a plan that cannot be read: as much of it as somebody can use.

A document of a few megabytes can be wrong in millions of places. Lists are read a piece at a time
until enough is found, and a piece that is large in itself up to its first fault in each list.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from pydantic_core import ErrorDetails, ValidationError

from idle_harbor.core.errors import Fault
from idle_harbor.formats.bounds import weight_of
from idle_harbor.formats.plan.faults import fault_from
from idle_harbor.formats.plan.reader import PlanReader

#: Faults of one plan that are told.
MOST_FAULTS = 100
#: Values of a piece in which everything that is wrong is looked for.
_PIECE = 2_000


def _pieces(entries: list[Any]) -> Iterator[tuple[int, list[Any], bool]]:
    """Stretches of a list: the place of the first entry, the entries, whether they are few."""
    first, weight = 0, 0
    for place, entry in enumerate(entries):
        more = weight_of(entry, _PIECE)
        if place > first and weight + more > _PIECE:
            yield first, entries[first:place], weight <= _PIECE
            first, weight = place, 0
        weight += more
    yield first, entries[first:], weight <= _PIECE


def _wrong(reader: PlanReader, values: dict[str, Any], light: bool) -> list[ErrorDetails]:
    try:
        (reader.read_all if light else reader.read)(values)
    except ValidationError as error:
        return error.errors(include_url=False)
    return []


def faults_in(reader: PlanReader, values: dict[str, Any]) -> list[Fault]:
    """The first faults of a document, those of its lists in their order; at least one where the
    reader refuses it."""
    lists = {field: raw for field, raw in values.items() if isinstance(raw, list)}
    rest = {field: raw for field, raw in values.items() if field not in lists}
    # A list that is too long is told as that.
    stopped = _wrong(reader, values, light=False)
    found = [d for d in stopped if len(d["loc"]) == 1 and d["loc"][0] in lists]
    for detail in found:
        del lists[str(detail["loc"][0])]
    found += _wrong(reader, rest, weight_of(rest, _PIECE) <= _PIECE)
    for field, entries in lists.items():
        found += _in_list(reader, field, entries, MOST_FAULTS - len(found))
    return [fault_from(detail) for detail in (found or stopped)[:MOST_FAULTS]]


def _in_list(
    reader: PlanReader, field: str, entries: list[Any], most: int
) -> Iterator[ErrorDetails]:
    """At least the first ``most`` faults in the entries of a list."""
    count = 0
    for first, piece, light in _pieces(entries):
        if count >= most:
            return
        for detail in _wrong(reader, {field: piece}, light):
            name, *way = detail["loc"]
            if name != field or not way:
                continue
            place = way[0] + first if isinstance(way[0], int) else way[0]
            yield {**detail, "loc": (field, place, *way[1:])}
            count += 1
