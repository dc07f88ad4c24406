"""Shapes of what is told about fields and about the application itself."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from idle_harbor.web.shared.models import Model


class HintModel(Model):
    """What a field means, in what unit, bounds and steps it is typed."""

    path: str
    unit: str
    low: float | None
    high: float | None
    step: float | None
    whole: bool | None
    choices: list[str] = Field(description="The words that may stand there.")
    meaning: str


class HintsAnswer(Model):
    """The field table, and what the choices mean."""

    fields: list[HintModel]
    choices: dict[str, dict[str, str]]
    earliest: str
    latest: str


class ZonesAnswer(Model):
    """The time zones that a plan may name."""

    zones: list[str]


class Health(Model):
    """Whether the parts of the application answer; which of its processes this one is."""

    database: Literal["ok", "gone"]
    engine: str
    process: int
