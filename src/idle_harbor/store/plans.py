"""Plans and their revisions."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime
from typing import Any, TypedDict, cast

import psycopg
from psycopg.rows import DictRow

from idle_harbor.formats.plan.codec import canonical, plan_shape, text_hash
from idle_harbor.store.database import Database, StoreError, queries


class NameTaken(StoreError):
    """Another plan has that name."""


class NoSuchPlan(StoreError):
    """There is no such plan or revision."""


class StaleSave(StoreError):
    """The plan was saved by somebody else since ``base``; ``latest`` is the newest revision."""

    def __init__(self, latest: int) -> None:
        self.latest = latest
        super().__init__(f"revision {latest} was saved in the meantime")


class RevisionLine(TypedDict):
    """A revision without its document."""

    number: int
    author: str
    words: str
    content_hash: str
    saved_at: datetime


class RevisionRow(RevisionLine):
    """A revision of a plan: its document as canonical text, and the shape that documents had."""

    id: int
    name: str
    canonical: str
    shape: str
    latest: int


class RemovedRow(TypedDict):
    """A removed plan, and until when it can be restored."""

    id: int
    name: str
    removed_at: datetime
    kept_until: datetime


class PlanRow(TypedDict):
    """A plan with its latest revision, and how many pools it has."""

    id: int
    name: str
    number: int
    author: str
    words: str
    saved_at: datetime
    pools: int


#: Days for which a removed plan can be restored.
DAYS_REMOVED = 30


@contextmanager
def _names_unique(name: str) -> Iterator[None]:
    try:
        yield
    except psycopg.errors.UniqueViolation as error:
        raise NameTaken(f"another plan is called '{name}'") from error


@contextmanager
def _beside(check: Callable[[], object]) -> Iterator[Future[object]]:
    """A check that goes on in a thread of its own, done at the end of the block."""
    with ThreadPoolExecutor(1) as side:
        yield side.submit(check)


@dataclass(frozen=True, slots=True)
class _Saving:
    """A document that is to be a revision, with what its author says of it."""

    name: str
    text: str
    words: str
    author: str


def _insert(
    connection: psycopg.Connection[DictRow], plan_id: int, number: int, saving: _Saving
) -> RevisionRow:
    """Store a revision; returns what reading it would."""
    line = {
        "number": number,
        "author": saving.author,
        "words": saving.words,
        "content_hash": text_hash(saving.text),
        "canonical": saving.text,
        "shape": plan_shape(),
    }
    row = queries.insert_revision(connection, plan_id=plan_id, **line)
    told = {**line, "id": plan_id, "name": saving.name, "latest": number}
    return cast(RevisionRow, {**told, "saved_at": row["saved_at"]})


class Plans:
    """The plans of a database."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def all(self) -> list[PlanRow]:
        """Every plan with its latest revision, the last saved first."""
        with self._database.connection() as connection:
            return cast(list[PlanRow], list(queries.list_plans(connection)))

    def count(self) -> int:
        """How many plans there are."""
        with self._database.connection() as connection:
            row = queries.count_plans(connection)
            return int(row)

    def create(
        self,
        document: dict[str, Any],
        words: str,
        author: str,
        check: Callable[[], object] = bool,
        alike: int | None = None,
    ) -> RevisionRow:
        """Store a new plan; returns its revision 1 with its canonical text.

        It shares the directory of the plan ``alike``, if it is a copy of one. Nothing is stored
        where ``check`` raises, as :meth:`save` says. Raises NameTaken.
        """
        saving = _Saving(document["name"], canonical(document), words, author)
        with (
            _names_unique(saving.name),
            _beside(check) as checked,
            self._database.connection() as connection,
        ):
            plan_id = int(queries.insert_plan(connection, name=saving.name, alike=alike)["id"])
            row = _insert(connection, plan_id, 1, saving)
            checked.result()
            return row

    def save(
        self,
        plan_id: int,
        base: int,
        document: dict[str, Any],
        words: str,
        author: str,
        check: Callable[[], object] = bool,
    ) -> RevisionRow:
        """Store the next revision of a plan, based on revision ``base``, and return it.

        ``check`` looks at the plan while the server takes it in, and nothing is stored where it
        raises: for a large plan each takes half a second. Raises StaleSave where ``base`` is no
        longer the latest, NoSuchPlan, NameTaken.
        """
        # Written out before the plan is locked: others wait for the lock, not for this.
        saving = _Saving(document["name"], canonical(document), words, author)
        with (
            _names_unique(saving.name),
            _beside(check) as checked,
            self._database.connection() as connection,
        ):
            row = queries.lock_plan(connection, plan_id=plan_id)
            if row is None:
                raise NoSuchPlan(f"there is no plan {plan_id}")
            if row["latest"] != base:
                raise StaleSave(row["latest"])
            saved = _insert(connection, plan_id, base + 1, saving)
            queries.advance_plan(connection, plan_id=plan_id, number=base + 1, name=saving.name)
            checked.result()
            return saved

    def remove(self, plan_id: int) -> None:
        """Take a plan off the list; it can be restored for a while. Raises NoSuchPlan."""
        with self._database.connection() as connection:
            if queries.remove_plan(connection, plan_id=plan_id) is None:
                raise NoSuchPlan(f"there is no plan {plan_id}")

    def restore(self, plan_id: int) -> None:
        """Put a removed plan back on the list; one that is there stays. Raises NoSuchPlan, and
        NameTaken where another plan has its name by now."""
        name = next((each["name"] for each in self.removed() if each["id"] == plan_id), "")
        with _names_unique(name), self._database.connection() as connection:
            if queries.restore_plan(connection, plan_id=plan_id) is None:
                raise NoSuchPlan(f"there is no plan {plan_id}")

    def removed(self) -> list[RemovedRow]:
        """The plans that can be restored, the last removed first."""
        with self._database.connection() as connection:
            found = queries.list_removed_plans(connection, days=DAYS_REMOVED)
            return cast(list[RemovedRow], list(found))

    def tidy(self) -> None:
        """Delete the plans that were removed long ago, with their revisions and studies."""
        with self._database.connection() as connection:
            queries.forget_removed_plans(connection, days=DAYS_REMOVED)

    def revision(self, plan_id: int, number: int | None = None) -> RevisionRow:
        """One revision with its canonical text, the latest by default; raises NoSuchPlan."""
        with self._database.connection() as connection:
            row = queries.get_revision(connection, plan_id=plan_id, number=number)
        if row is None:
            which = f"plan {plan_id}" if number is None else f"revision {number} of plan {plan_id}"
            raise NoSuchPlan(f"there is no {which}")
        return cast(RevisionRow, dict(row))

    def revisions(self, plan_id: int) -> list[RevisionLine]:
        """Every revision of a plan without its document, newest first; raises NoSuchPlan."""
        with self._database.connection() as connection:
            rows = list(queries.list_revisions(connection, plan_id=plan_id))
        if not rows:
            raise NoSuchPlan(f"there is no plan {plan_id}")
        return cast(list[RevisionLine], rows)

    def find(self, name: str) -> dict[str, Any] | None:
        """The latest document of the plan of that name (or number)."""
        with self._database.connection() as connection:
            row = queries.find_document(connection, name=name)
        return None if row is None else dict(row["document"])
