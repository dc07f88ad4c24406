"""What is said of one field of a plan."""

from __future__ import annotations

from dataclasses import dataclass

REQUIRED = "required"


@dataclass(frozen=True, slots=True)
class Field:
    """One field: where, in what unit, its default and bounds (inclusive), what it means."""

    path: str
    unit: str
    default: object
    low: float | None
    high: float | None
    meaning: str
    source: str


DAY = 86_400
OURS = "our choice for a first try"
TYPED = "the planner"
MEASURE = "measure it: published rules of thumb are too optimistic for real work"
