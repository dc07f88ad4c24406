"""Shapes of what checks find."""

from __future__ import annotations

from idle_harbor.web.shared.models import Answer, FindingModel, Model, Part


class CheckModel(FindingModel):  # type: ignore[misc]
    """One thing that a check found, with its family and its place in words."""

    family: str
    where: str


class FamilyModel(Model):
    """A family of checks, and how much it found."""

    id: str
    about: str
    found: int


class ChecksWhole(Model):
    """Everything that the checks found, the harmful first."""

    families: list[FamilyModel]
    findings: list[CheckModel]


class ChecksAnswer(Answer, ChecksWhole):
    """Everything that the checks found."""


class ChecksPart(Part):
    """How much has been found so far; with the last step all of it."""

    found: int = 0
    answer: ChecksWhole | None = None
