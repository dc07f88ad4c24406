"""Outcomes of simulated weeks as JSON, and back: for weeks that several processes simulate."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cache
from typing import Any

from pydantic import TypeAdapter

from idle_harbor.core.summary import figures_of
from idle_harbor.core.weeks import Case, Outcome
from idle_harbor.formats.reports.figures import figures_values


@cache
def _adapter() -> TypeAdapter[Outcome]:
    return TypeAdapter(Outcome)


def outcome_values(outcome: Outcome) -> dict[str, Any]:
    """An outcome as values that JSON holds; numbers come back as they were, to the last bit."""
    values: dict[str, Any] = _adapter().dump_python(outcome, mode="json")
    return values


def outcomes_of(values: Iterable[Any]) -> list[Outcome]:
    """Outcomes of what :func:`outcome_values` gave."""
    return [_adapter().validate_python(each) for each in values]


def told_figures(case: Case, outcomes: list[Outcome]) -> dict[str, Any]:
    """Figures over all of them."""
    return figures_values(figures_of(case, outcomes))
