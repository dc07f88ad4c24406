"""Shapes of requests and responses about price sheets."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from idle_harbor.core.plan.declare import Day
from idle_harbor.web.shared.models import ChangedPlan, Model, PlanBody


class SheetBody(PlanBody):
    """A plan, and the price sheet (JSON or CSV) to bring into it."""

    text: str = Field(max_length=4_000_000)


class FeedBody(PlanBody):
    """A plan, and the day for which to ask the simulated price feed."""

    day: Day


class PriceChange(Model):
    """One value of the price sheet that differs."""

    item: str
    field: str
    before: str
    after: str


class SheetAnswer(ChangedPlan):
    """The plan with another price sheet, and what differs."""

    changes: list[PriceChange]


class SheetFormBody(PlanBody):
    """A plan whose price sheet goes out, and in which form."""

    form: Literal["csv", "json"]


class SheetText(Model):
    """A price sheet as text."""

    name: str
    text: str
