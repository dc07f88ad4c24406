"""Figures of a simulation as one JSON object."""

from __future__ import annotations

from collections.abc import Container
from dataclasses import fields, is_dataclass
from datetime import date
from decimal import Decimal
from functools import lru_cache
from math import isfinite
from typing import TYPE_CHECKING, Any

from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.weeks.summary import Figures

if TYPE_CHECKING:
    from _typeshed import DataclassInstance

#: Digits that matter: counts of a week to hundredths, shares to a millionth.
_DIGITS = 6


def estimate_values(estimate: Estimate) -> dict[str, Any]:
    """A mean with its 95 % interval; an infinite one is null and says so."""
    values: dict[str, Any] = {"mean": None, "low": None, "high": None}
    if estimate.mean is not None:
        half = estimate.half_width
        values["mean"] = round(estimate.mean, _DIGITS)
        if half is not None:
            values["low"] = round(estimate.mean - half, _DIGITS)
            values["high"] = round(estimate.mean + half, _DIGITS)
    if estimate.unbounded:
        values["unbounded"] = True
    return values


def figures_values(figures: Figures) -> dict[str, Any]:
    """Everything the figures hold, named as they name it; money is decimal text."""
    return values_of(figures)


def values_of(told: DataclassInstance, without: Container[str] = ()) -> dict[str, Any]:
    """A value of the core as JSON: its fields by their names, rounded to the digits that matter.

    Money is decimal text, a date ISO text; what is not finite is null.
    """
    names = [name for name in _names(told.__class__) if name not in without]
    return {name: _value(getattr(told, name)) for name in names}


def _value(told: object) -> Any:
    if isinstance(told, Estimate):
        return estimate_values(told)
    if isinstance(told, Decimal):
        return format(told, "f")
    if isinstance(told, float):
        return round(told, _DIGITS) if isfinite(told) else None
    if isinstance(told, tuple | list):
        return [_value(each) for each in told]
    if isinstance(told, dict):
        return {name: _value(each) for name, each in told.items()}
    if isinstance(told, date):
        return told.isoformat()
    if is_dataclass(told) and not isinstance(told, type):
        return values_of(told)
    return told


@lru_cache(maxsize=256)
def _names(kind: Any) -> tuple[str, ...]:
    return tuple(field.name for field in fields(kind))
