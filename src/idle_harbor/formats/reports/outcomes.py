"""Values of the core as JSON, and back to the last bit: for what several processes work out."""

from __future__ import annotations

from collections.abc import Hashable, Iterable
from functools import cache
from typing import Any, TypeVar, cast

from pydantic import TypeAdapter

from idle_harbor.core.weeks.summary import figures_of
from idle_harbor.core.weeks.week import Case, Outcome
from idle_harbor.formats.reports.figures import figures_values

T = TypeVar("T")


@cache
def _adapter(kind: Any) -> TypeAdapter[Any]:
    return TypeAdapter(kind)


def as_values(value: object) -> Any:
    """A dataclass of the core as values that JSON holds; numbers come back as they were."""
    return _adapter(cast(Hashable, type(value))).dump_python(value, mode="json")


def from_values(kind: type[T], values: Any) -> T:
    """A dataclass of what :func:`as_values` gave."""
    found: T = _adapter(cast(Hashable, kind)).validate_python(values)
    return found


def told_figures(case: Case, outcomes: Iterable[Any]) -> dict[str, Any]:
    """Figures over outcomes, given as values."""
    return figures_values(figures_of(case, [from_values(Outcome, each) for each in outcomes]))
