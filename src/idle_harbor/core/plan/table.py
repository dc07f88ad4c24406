"""Every field of a plan as a table, and how the things of its lists are known: from the types.

Each is made when it is first asked for: a server's start needs none of them.
"""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from types import UnionType
from typing import Annotated, Any, Final, Literal, Union, get_args, get_origin, get_type_hints

from pydantic.fields import FieldInfo

from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.declare import About, As

#: Stands for the default of a field that has none.
REQUIRED: Final = "required"


@dataclass(frozen=True, slots=True)
class Field:
    """One field: its path in the document without list positions, and what is declared of it.

    The default is as a document has it.
    """

    path: str
    default: object
    about: About
    #: Whether only whole numbers stand there; None where no number does.
    whole: bool | None = None
    #: The words that may stand there; none where anything else may.
    choices: tuple[str, ...] = ()

    @property
    def step(self) -> float | None:
        """How far one press of an arrow key moves the value; None where no number stands there.

        Where none is declared, whole numbers move by one. Others move by the largest power of ten
        that leaves thirty steps between their bounds, at most by one.
        """
        if self.whole is None:
            return None
        if self.about.step is not None:
            return self.about.step
        low, high = self.about.low, self.about.high
        if self.whole or low is None or high is None:
            return 1.0
        return float(min(1.0, 10.0 ** math.floor(math.log10((high - low) / 30))))


def _unwrap(hint: Any) -> tuple[list[Any], list[type]]:
    """What is said of a type anywhere in it, and the dataclasses that it holds."""
    if get_origin(hint) is Annotated:
        inner, *said = get_args(hint)
        below, parts = _unwrap(inner)
        return [*said, *below], parts
    if get_origin(hint) in (Union, UnionType, tuple):
        found = [_unwrap(each) for each in get_args(hint)]
        return [s for said, _ in found for s in said], [p for _, parts in found for p in parts]
    return [], [hint] if isinstance(hint, type) and dataclasses.is_dataclass(hint) else []


def _numbers(hint: Any) -> set[type]:
    """The kinds of numbers that a document may have in a field of this type."""
    if get_origin(hint) is Annotated:
        inner, *said = get_args(hint)
        return _numbers(next((each.written for each in said if isinstance(each, As)), inner))
    if get_origin(hint) in (Union, UnionType):
        return {kind for each in get_args(hint) for kind in _numbers(each)}
    return {hint} & {int, float}


def _words(hint: Any) -> tuple[str, ...]:
    """The words of which a field of this type is one; none where it may be anything else."""
    if get_origin(hint) is Annotated:
        return _words(get_args(hint)[0])
    if get_origin(hint) in (Union, UnionType):
        kinds = [each for each in get_args(hint) if each is not type(None)]
        return _words(kinds[0]) if len(kinds) == 1 else ()
    words = get_args(hint) if get_origin(hint) is Literal else ()
    return words if all(isinstance(each, str) for each in words) else ()


@dataclass(frozen=True, slots=True)
class _Member:
    """A field of a part: its name in the document, its type, its default, what is said, what it
    holds."""

    name: str
    hint: Any
    default: Any
    said: list[Any]
    parts: list[type]

    def about(self) -> About | None:
        return next((each for each in self.said if isinstance(each, About)), None)

    def written(self) -> object:
        """The default as a document has it."""
        if self.default is dataclasses.MISSING:
            return REQUIRED
        if self.default is None or self.default == ():
            return self.default
        for each in self.said:
            if isinstance(each, As):
                return each.write(self.default)
        return self.default


def _members(part: Any) -> Iterator[_Member]:
    hints = get_type_hints(part, include_extras=True)
    for field in dataclasses.fields(part):
        said, parts = _unwrap(hints[field.name])
        names = [s.alias for s in said if isinstance(s, FieldInfo) and s.alias is not None]
        name = names[0] if names else field.name
        yield _Member(name, hints[field.name], field.default, said, parts)


def _walk(part: type, path: str) -> Iterator[Field]:
    for member in _members(part):
        here, about = f"{path}{member.name}", member.about()
        if about is not None:
            numbers = _numbers(member.hint)
            whole = float not in numbers if numbers else None
            yield Field(here, member.written(), about, whole, _words(member.hint))
        for below in member.parts:
            yield from _walk(below, f"{here}.")


@cache
def plan_fields() -> tuple[Field, ...]:
    """Every field of a plan, in the order of the document."""
    return tuple(_walk(Plan, ""))


@cache
def by_path() -> dict[str, Field]:
    """The same by their paths."""
    return {field.path: field for field in plan_fields()}


def _lists(part: type) -> Iterator[tuple[str, list[_Member]]]:
    for member in _members(part):
        for below in member.parts:
            yield member.name, list(_members(below))
            yield from _lists(below)


def _marked(mark: str) -> dict[str, tuple[str, ...]]:
    found: dict[str, tuple[str, ...]] = {}
    for name, members in _lists(Plan):
        marked = [m.name for m in members if getattr(m.about(), mark, False)]
        if marked:
            found[name] = tuple(marked)
    return found


@cache
def list_keys() -> dict[str, tuple[str, ...]]:
    """By which fields the things of a list are known, by the list's name; all others by their
    id."""
    return _marked("key")


@cache
def list_orders() -> dict[str, str]:
    """The field that the things of a list are in order of, by the list's name."""
    return {name: marked[0] for name, marked in _marked("ordered").items()}


def _tags(part: type) -> Iterator[str]:
    kind = get_type_hints(part).get("kind")
    if get_origin(kind) is Literal and len(get_args(kind)) == 1:
        yield from get_args(kind)
    for member in _members(part):
        for below in member.parts:
            yield from _tags(below)


@cache
def kind_tags() -> frozenset[str]:
    """What tells parts that may stand in one place from each other: their kinds."""
    return frozenset(_tags(Plan))
