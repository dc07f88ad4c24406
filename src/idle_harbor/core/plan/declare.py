"""How a field of a plan is declared: once, at the field, with everything that is said of it.

A part of a plan is a frozen dataclass shaped like its place in the document. Beside its type each
field has an :class:`About`: what it means, in what unit, within which bounds, and who knows its
value. Reading, writing, JSON Schema, API, docs, hints and merge keys follow from that.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date
from decimal import Decimal
from functools import cache, partial
from typing import TYPE_CHECKING, Annotated, Any, Literal, TypeAlias, get_args, get_type_hints

from annotated_types import Len
from pydantic import BeforeValidator, Field, WithJsonSchema

if TYPE_CHECKING:
    from pydantic import GetCoreSchemaHandler, GetJsonSchemaHandler
    from pydantic.json_schema import JsonSchemaValue
    from pydantic_core import core_schema

DAY = 86_400
#: Who knows the value of a field.
OURS = "our choice for a first try"
TYPED = "the planner"
MEASURE = "measure it: published rules of thumb are too optimistic for real work"

#: Dates that a plan may hold: beyond them clocks and holidays are not known.
EARLIEST, LATEST = date(1971, 1, 1), date(2199, 12, 31)

_NUMBERS = ("int", "float", "decimal")


def _bounded(schema: Any, low: float | None, high: float | None) -> Any:
    """A core schema with bounds on the numbers in it, however they are wrapped."""
    if schema["type"] in _NUMBERS:
        given = {"ge": low, "le": high}
        exact: Any = Decimal if schema["type"] == "decimal" else _as_it_is
        return schema | {name: exact(v) for name, v in given.items() if v is not None}
    if schema["type"] == "union":
        return schema | {"choices": [_bounded(each, low, high) for each in schema["choices"]]}
    if "schema" in schema:
        return schema | {"schema": _bounded(schema["schema"], low, high)}
    return schema


#: What a planner lets a search change, by what it takes to change it in real life.
Freedom: TypeAlias = Literal[
    "schedule",
    "timeouts",
    "limit",
    "hosts",
    "size",
    "place",
    "starts",
    "shares",
    "lids",
    "drain steps",
    "load rules",
]
FREEDOMS: tuple[Freedom, ...] = get_args(Freedom)

_MINUTE = 60
#: Timeouts that a planner would choose, in seconds; None never strikes.
TIMEOUTS: tuple[int | None, ...] = (
    *(_MINUTE * k for k in (5, 10, 15, 20, 30, 45, 60, 90, 120, 150, 180, 240, 300, 360, 480, 720)),
    DAY,
    None,
)
#: A shorter timeout ends the session of somebody who reads, or is in a call.
KIND_TIMEOUT = 15 * _MINUTE


@dataclass(frozen=True, slots=True)
class Tuned:
    """How a search may vary a field: what it belongs to, and in what steps (within bounds that are
    the field's own unless they are narrower here), or over which ``values`` in their order.

    ``kind_low`` is the least value that is kind to people. A search goes below it only where the
    planner bounds the field, or where the plan of today does already.
    """

    belongs: Freedom
    step: float = 1
    low: float | None = None
    high: float | None = None
    values: tuple[Any, ...] = ()
    kind_low: float | None = None


@dataclass(frozen=True, slots=True)
class About:
    """What is said of a field: its meaning, unit, bounds (inclusive), and who knows its value.

    ``step`` is how far an arrow key moves the value, where that does not follow from the bounds.
    ``choices`` tells what each of a few words means. ``key`` marks the fields by which things of
    a list are known, where that is not their id; ``ordered`` the one that they are in order of.
    ``tuned`` says how a search may vary it; what says nothing stays as it is.
    """

    meaning: str
    unit: str = ""
    low: float | None = None
    high: float | None = None
    source: str = TYPED
    step: float | None = None
    choices: Mapping[str, str] | None = None
    key: bool = False
    ordered: bool = False
    tuned: Tuned | None = None

    def __get_pydantic_core_schema__(
        self, source: Any, handler: GetCoreSchemaHandler
    ) -> core_schema.CoreSchema:
        schema = handler(source)
        if self.low is None and self.high is None:
            return schema
        bounded: core_schema.CoreSchema = _bounded(schema, self.low, self.high)
        return bounded

    def __get_pydantic_json_schema__(
        self, schema: core_schema.CoreSchema, handler: GetJsonSchemaHandler
    ) -> JsonSchemaValue:
        told: JsonSchemaValue = {
            "description": self.meaning,
            "unit": self.unit,
            "source": self.source,
        }
        if self.choices is not None:
            told["choices"] = self.choices
        return handler(schema) | told


@cache
def _hints(part: type) -> dict[str, Any]:
    return get_type_hints(part, include_extras=True)


def about(part: type, field: str) -> About:
    """What is said of a field of a part of the plan."""
    found: About = next(
        each for each in _hints(part)[field].__metadata__ if isinstance(each, About)
    )
    return found


def as_in(part: type, field: str) -> About:
    """What is said of another part's field, for one that may stand in its place for one pool."""
    found = about(part, field)
    return replace(found, meaning=f"For this pool alone. {found.meaning}", choices=None)


@dataclass(frozen=True, slots=True)
class As:
    """A value that the document writes in another way: its type there, and both directions."""

    written: Any
    read: Callable[[Any], Any]
    write: Callable[[Any], Any]

    def __get_pydantic_core_schema__(
        self, source: Any, handler: GetCoreSchemaHandler
    ) -> core_schema.CoreSchema:
        from pydantic_core import core_schema

        return core_schema.no_info_after_validator_function(
            self.read,
            handler.generate_schema(self.written),
            serialization=core_schema.plain_serializer_function_ser_schema(self.write),
        )


class Tagged:
    """A part that its ``kind`` tells from the others that may stand in its place: the document
    has to say it."""

    __slots__ = ()

    @classmethod
    def __get_pydantic_json_schema__(
        cls, schema: core_schema.CoreSchema, handler: GetJsonSchemaHandler
    ) -> JsonSchemaValue:
        told = handler(schema)
        whole = handler.resolve_ref_schema(told)
        whole["required"] = [*whole.get("required", []), "kind"]
        return told


def alias(name: str) -> Any:
    """The name of a field in the document, where it cannot be one in the code."""
    return Field(alias=name)


# Texts ------------------------------------------------------------------------------------------


def _text(pattern: str, most: int | None = None) -> Any:
    return Field(pattern=pattern, max_length=most)


Id: TypeAlias = Annotated[str, _text(r"^[a-z0-9][a-z0-9-]{0,62}$")]
Currency: TypeAlias = Annotated[str, _text(r"^[A-Z]{3}$")]
#: What a reader does not see and a terminal or a page obeys: control characters, and those that
#: turn the direction of what follows.
_ORDERS = r"\x7f-\x9f\u202a-\u202e\u2066-\u2069"
ORDERS = re.compile(rf"[\x00-\x1f{_ORDERS}]")
LINE = rf"^[^\x00-\x1f{_ORDERS}]*$"
#: A key of the directory, as it came from there.
DirectoryKey: TypeAlias = Annotated[str, _text(rf"^[^\x00-\x1f{_ORDERS}]{{1,400}}$")]
#: A text of one or several lines.
Text: TypeAlias = Annotated[str, _text(rf"^(?:\r\n|[\t\n]|[^\x00-\x1f{_ORDERS}])*$")]
#: A text of one line.
Line: TypeAlias = Annotated[str, _text(LINE)]
Name: TypeAlias = Annotated[str, _text(LINE.replace("*$", "+$"), 120)]
_LONGEST = 80
#: A name of a thing of the plan, as people write it.
PartName: TypeAlias = Annotated[str, _text(LINE.replace("*$", "+$"), _LONGEST)]
#: Names of which a list holds at most so many.
Names: TypeAlias = Annotated[tuple[Name, ...], Len(0, 200)]
Ids: TypeAlias = Annotated[tuple[Id, ...], Len(0, 200)]


@dataclass(frozen=True, slots=True)
class Named:
    """A thing of one of the plan's lists: an id that stays, and a name as people write it."""

    id: Id
    name: Annotated[
        str,
        _text(LINE, _LONGEST),
        About("What it is called, as people write it."),
    ] = field(default="", kw_only=True)

    @property
    def called(self) -> str:
        """The name; where there is none, the id as words with a capital."""
        words = self.id.replace("-", " ")
        return self.name or words[:1].upper() + words[1:]


# Numbers and times ------------------------------------------------------------------------------

Share: TypeAlias = Annotated[float, Field(ge=0, le=1)]


def clock(text: str) -> int:
    """HH:MM as seconds of the day."""
    return int(text[:2]) * 3600 + int(text[3:]) * 60


def clock_text(seconds: float) -> str:
    """Seconds from a day's 00:00 as HH:MM on the wall, whatever day they reach into."""
    whole = int(seconds) % DAY
    return f"{whole // 3600:02d}:{whole % 3600 // 60:02d}"


def end_text(seconds: float) -> str:
    """The end of a stretch as HH:MM: a midnight is 24:00."""
    return clock_text(seconds) if int(seconds) % DAY else "24:00"


#: A clock time: seconds of the local day here, "HH:MM" in the document.
Clock: TypeAlias = Annotated[
    int, As(Annotated[str, _text(r"^([01]\d|2[0-3]):[0-5]\d$")], clock, clock_text)
]


def _within_reach(day: date) -> date:
    if not EARLIEST <= day <= LATEST:
        raise ValueError(f"give a date from {EARLIEST} to {LATEST}")
    return day


#: A date as a plan may hold it.
Day: TypeAlias = Annotated[date, As(date, _within_reach, date.isoformat)]


def _no_float(value: object) -> object:
    """Money travels as text: a float would already have been rounded."""
    if isinstance(value, float):
        raise ValueError('money has to be a text such as "0.412"')
    return value


def _as_it_is(value: Any) -> Any:
    return value


def _money_text(value: Decimal) -> str:
    """Digits, never a power of ten."""
    return format(value, "f")


#: Money: Decimal here, a text in the document.
Money: TypeAlias = Annotated[
    Decimal,
    As(
        Annotated[
            Decimal,
            BeforeValidator(_no_float),
            Field(max_digits=12, decimal_places=6),
            WithJsonSchema({"type": "string"}),
        ],
        _as_it_is,
        _money_text,
    ),
]

Never: TypeAlias = Literal["never"]


def _seconds(value: int | str) -> int | None:
    return None if isinstance(value, str) else value


def _or_never(value: int | None) -> int | str:
    return "never" if value is None else value


#: Whole seconds, None where it never strikes; "never" in the document.
Timeout: TypeAlias = Annotated[
    int | None,
    As(
        int | Never,
        _seconds,
        _or_never,
    ),
]


# Weekdays ---------------------------------------------------------------------------------------

Weekday = Literal["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
WEEKDAYS: tuple[Weekday, ...] = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")


def _by_number(names: list[Weekday]) -> tuple[int, ...]:
    return tuple(WEEKDAYS.index(name) for name in names)


def _by_name(numbers: tuple[int, ...]) -> list[Weekday]:
    return [WEEKDAYS[number] for number in numbers]


#: Weekdays by number (0 = Monday) here, by name in the document.
Weekdays: TypeAlias = Annotated[
    tuple[int, ...],
    As(
        list[Weekday],
        _by_number,
        _by_name,
    ),
]


def _in_order(missing: Any, named: Mapping[Weekday, Any]) -> tuple[Any, ...]:
    return tuple(named.get(day, missing) for day in WEEKDAYS)


def _named(missing: Any, values: tuple[Any, ...]) -> dict[Weekday, Any]:
    return {day: value for day, value in zip(WEEKDAYS, values, strict=True) if value != missing}


def by_weekday(each: Any, missing: Any = None) -> As:
    """Seven values from Monday on here, the named ones in the document."""
    return As(dict[Weekday, each], partial(_in_order, missing), partial(_named, missing))
