"""Shapes of requests and responses about the directory."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import Field

from idle_harbor.core.plan.declare import Line, Text
from idle_harbor.web.shared.models import Model

#: Numbers of plans and directories that the database can hold.
_MOST = 2**62


class PlanQuery(Model):
    """The plan whose directory it is."""

    plan: int = Field(ge=1, le=_MOST)


class ImportQuery(PlanQuery):
    """For which plan a file is, in which format, and what it is called."""

    format: Literal["csv", "ldif", "scim"]
    name: Text = Field("a file", max_length=400)
    owner: Line = Field("", max_length=64, description="For whom the file is read.")


class DirectoryGroup(Model):
    """A directory group: its people, those of the groups inside it included."""

    key: str
    name: str
    people: int
    holds: list[str]


class DirectoryAnswer(Model):
    """What a plan's directory holds; it has no number where the plan has none."""

    id: int | None
    people: int
    in_none: int
    in_several: int
    groups: list[DirectoryGroup]


class DirectoryLineModel(Model):
    """A directory, and the names of the plans that share it."""

    id: int
    name: str
    people: int
    plans: list[str]


class DirectoryList(Model):
    """Every directory."""

    directories: list[DirectoryLineModel]


class GivenDirectory(Model):
    """The directory that a plan is given; null for none."""

    directory: int | None = Field(ge=1, le=_MOST)


class BehindModel(Model):
    """A group of a plan, the directory group it follows, and how many people each has: null where
    the directory has no such group any more."""

    group: str
    follows: str
    was: int
    now: int | None


class BehindAnswer(Model):
    """What the directory tells otherwise than a plan."""

    behind: list[BehindModel]


class ImportPath(Model):
    """An import."""

    import_id: int = Field(ge=1, le=_MOST)


class StandInBody(Model):
    """The day on which the simulated directory is asked."""

    day: int = Field(0, ge=0, le=60)
    owner: Line = Field("", max_length=64, description="For whom it is asked.")


class Difference(Model):
    """How many people an import adds, changes and drops, and how many it has."""

    added: int
    changed: int
    dropped: int
    total: int


class Sample(Model):
    """A person that an import adds, changes or drops."""

    key: str
    now: str
    before: str


class GroupDifference(Model):
    """A group that comes, goes or changes."""

    key: str
    what: Literal["added", "dropped", "kept"]
    joining: int
    leaving: int


class FaultLine(Model):
    """A wrong row."""

    line: int
    what: str
    mend: str


class Preview(Model):
    """What an import would do, or why it cannot."""

    people: Difference
    added: list[Sample]
    changed: list[Sample]
    dropped: list[Sample]
    groups: list[GroupDifference]
    wrong: int
    faults: list[FaultLine]


class ImportModel(Model):
    """An import and what has become of it."""

    id: int
    source: str
    format: Literal["csv", "ldif", "scim"]
    state: Literal[
        "reading", "judging", "ready", "wrong", "applying", "applied", "dropped", "failed"
    ]
    bytes_total: int
    bytes_read: int
    rows_read: int
    problem: str
    preview: Preview | None
    begun_at: datetime
    ended_at: datetime | None


class ImportAnswer(Model):
    """The newest import, if there ever was one."""

    latest: ImportModel | None
