"""Shapes of requests and responses about the directory."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import Field

from idle_harbor.core.plan.declare import Line, Text
from idle_harbor.web.shared.models import Model


class ImportQuery(Model):
    """In which format a file is, and what it is called."""

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
    """What the directory holds."""

    people: int
    in_none: int
    in_several: int
    groups: list[DirectoryGroup]


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

    import_id: int = Field(ge=1, le=2**62)


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
