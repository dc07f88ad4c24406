"""Changes to a plan document: a text "/pools/0/zones = ['z1']", or a function of the document."""

import ast
from collections.abc import Callable
from copy import deepcopy
from typing import Any

Change = str | Callable[[dict], Any]

#: Names of places that many changes begin with, in a plan with one pool and one schedule.
PLACES = {
    "POOL": "/pools/0",
    "START": "/pools/0/start",
    "SIZE": "/sizes/0",
    "PROFILE": "/profiles/0",
    "PEOPLE": "/groups/0/demand",
    "BREAK": "/groups/0/demand/patterns/0/breaks/0",
    "WORKDAY": "/schedules/0/day_types/0",
    "REST_DAY": "/schedules/0/day_types/1",
    "DAY": "/schedules/0/day_types/0/bands/1",
    "EVENING": "/schedules/0/day_types/0/bands/2",
    "RULE": "/schedules/0/load_rules/0",
}


def at(path: str) -> str:
    """The pointer that a path stands for: its first step may be one of PLACES."""
    first, slash, more = path.partition("/")
    return PLACES[first] + slash + more if first else path


def put(given: dict, path: str, value: object) -> None:
    """Set one value; the last step of its path need not be there yet, and "-" adds to a list."""
    *way, last = at(path).split("/")[1:]
    here: Any = given
    for step in way:
        here = here[int(step) if isinstance(here, list) else step]
    if last == "-":
        here.append(value)
    else:
        here[int(last) if isinstance(here, list) else last] = value


def changed(given: dict, *changes: Change) -> dict:
    """The document after the changes, which are made in it."""
    for change in changes:
        if callable(change):
            change(given)
            continue
        for line in filter(str.strip, change.replace("\n", ";").split(";")):
            path, value = line.strip().split(" = ")
            try:
                put(given, path, ast.literal_eval(value))
            except (ValueError, SyntaxError):  # a word, a time or a date
                put(given, path, value)
    return given


def several(changes: Change | tuple[Any, ...]) -> tuple[Any, ...]:
    return changes if isinstance(changes, tuple) else (changes,)


def another_pool(given: dict) -> None:
    """A second pool, "other", as the first is."""
    given["pools"].append({**deepcopy(given["pools"][0]), "id": "other"})


def table(text: str) -> list[tuple[str, ...]]:
    """Rows of a table written as text, a line for each, with " | " between its cells."""
    return [tuple(map(str.strip, row.split(" | "))) for row in text.strip().splitlines()]
