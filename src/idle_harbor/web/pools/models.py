"""Shapes of requests and responses about all pools, and about drills."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal

from pydantic import Field

from idle_harbor.core.plan import PoolKind
from idle_harbor.core.weeks.drills import BY_ID, KINDS, Drilled
from idle_harbor.web.shared.models import (
    Answer,
    FiguresModel,
    Model,
    Part,
    PoolBody,
    VerdictsModel,
    model_of,
)


class PoolRow(Model):
    """A pool in the table-picture of all pools."""

    id: str
    kind: PoolKind
    groups: list[str]
    people: int
    peak: float
    session_limit: int
    standing: int
    surge: int
    holds: int
    size: str
    place: str | None
    zones: list[str] = Field(description="Zones over which its hosts are dealt out.")
    figures: FiguresModel
    verdicts: VerdictsModel
    findings: int


class PoolsWhole(Model):
    """Every pool of a plan side by side, as means of so many weeks."""

    currency: str
    month: str
    weeks: int
    credit_months: float | None = Field(description="How long the credits last; null without.")
    pools: list[PoolRow]


class PoolsAnswer(Answer, PoolsWhole):
    """Every pool of a plan side by side."""


class PoolsPart(Part):
    """The rows of the pools that got done; with the last step the whole."""

    rows: list[PoolRow] = Field(default_factory=list)
    answer: PoolsWhole | None = None


if TYPE_CHECKING:
    DrillId = str
else:
    DrillId = Literal[tuple(BY_ID)]


class DrillBody(PoolBody):
    """A drill in a week: a zone by its number, or so many hosts."""

    day: int = Field(ge=0, le=6, description="Day of the plan's week, 0 = Monday.")
    minute: int = Field(ge=0, le=1439, description="Minute of that day, in the pool's zone.")
    minutes: int = Field(60, ge=1, le=2880)
    zone: int | None = Field(None, ge=0, le=20)
    hosts: int = Field(1, ge=0, le=10_000)
    kind: DrillId = Field(KINDS[0].id, description="What befalls the hosts.")


DrillAnswer: Any = model_of(Drilled, name="DrillAnswer")
