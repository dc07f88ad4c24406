"""What every part of a plan document is made of: described fields, texts, money, timeouts."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import (
    AfterValidator,
    BaseModel,
    BeforeValidator,
    ConfigDict,
    PlainSerializer,
    StringConstraints,
)
from pydantic import Field as PydanticField

from idle_harbor.core.calendar import EARLIEST, LATEST
from idle_harbor.core.field import REQUIRED
from idle_harbor.core.fields import BY_PATH

Id = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,62}$")]
Clock = Annotated[str, StringConstraints(pattern=r"^([01]\d|2[0-3]):[0-5]\d$")]
#: A key of the directory, as it came from there.
DirectoryKey = Annotated[str, StringConstraints(pattern=r"^[^\x00]{1,400}$")]
#: A text as PostgreSQL can hold it: without zero bytes.
Text = Annotated[str, StringConstraints(pattern=r"^[^\x00]*$")]
Name = Annotated[str, StringConstraints(pattern=r"^[^\x00]+$", max_length=120)]


def _within_reach(day: date) -> date:
    """Dates of other centuries are refused: clocks and holidays then are not known."""
    if not EARLIEST <= day <= LATEST:
        raise ValueError(f"is {day}; give a date from {EARLIEST} to {LATEST}")
    return day


#: A date as a plan may hold it.
Day = Annotated[date, AfterValidator(_within_reach)]
Share = Annotated[float, PydanticField(ge=0, le=1)]


def _no_float_money(value: object) -> object:
    """Money travels as text: a float would already have been rounded."""
    if isinstance(value, float):
        raise ValueError('is money and has to be a text such as "0.412"')
    return value


Money = Annotated[
    Decimal,
    BeforeValidator(_no_float_money),
    PlainSerializer(lambda value: format(value, "f"), return_type=str),
    PydanticField(max_digits=12, decimal_places=6, json_schema_extra={"type": "string"}),
]
Never = Literal["never"]
#: The most names that a list of them holds.
MOST_NAMES = 200


def described(path: str, *, alias: str | None = None) -> Any:
    """A Pydantic field with the unit, bounds, default and meaning of the table."""
    spec = BY_PATH[path]
    extra: dict[str, Any] = {"unit": spec.unit, "source": spec.source}
    keywords: dict[str, Any] = {"description": spec.meaning, "json_schema_extra": extra}
    if spec.low is not None:
        keywords["ge"] = spec.low
    if spec.high is not None:
        keywords["le"] = spec.high
    if alias is not None:
        keywords["alias"] = alias
    if spec.default is REQUIRED:
        return PydanticField(**keywords)
    if isinstance(spec.default, tuple):
        return PydanticField(default_factory=list, max_length=MOST_NAMES, **keywords)
    if isinstance(spec.default, str) and "money" in spec.unit:
        return PydanticField(Decimal(spec.default), **keywords)
    return PydanticField(spec.default, **keywords)


def timeout(path: str) -> Any:
    """Like :func:`described` for whole seconds or "never"; bounds apply to the seconds."""
    spec = BY_PATH[path]
    return PydanticField(
        spec.default,
        description=spec.meaning,
        json_schema_extra={"unit": spec.unit, "source": spec.source},
    )


def seconds(path: str) -> Any:
    """The type of whole seconds within the bounds of the table, or "never"."""
    spec = BY_PATH[path]
    return Annotated[int, PydanticField(ge=spec.low, le=spec.high)] | Never


class Part(BaseModel):
    """Base of every part of the document: unknown fields are faults, not ignored."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
