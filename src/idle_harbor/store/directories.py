"""Which directories there are, and which one a plan has: none, its own, or one that it shares."""

from __future__ import annotations

from typing import TypedDict, cast

from idle_harbor.store.database import Database, StoreError, queries
from idle_harbor.store.plans import NoSuchPlan

#: Days for which a directory that no plan has is kept.
DAYS_UNUSED = 30


class NoSuchDirectory(StoreError):
    """There is no directory of that number."""


class DirectoryLine(TypedDict):
    """A directory, its people, and the names of the plans that share it."""

    id: int
    name: str
    people: int
    plans: list[str]


class Directories:
    """The directories of a database."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def all(self) -> list[DirectoryLine]:
        """Every directory, by name."""
        with self._database.connection() as connection:
            return cast(list[DirectoryLine], list(queries.list_directories(connection)))

    def of_plan(self, plan_id: int) -> int | None:
        """The directory of a plan, None where it has none; raises NoSuchPlan."""
        with self._database.connection() as connection:
            row = queries.directory_of_plan(connection, plan_id=plan_id)
        if row is None:
            raise NoSuchPlan(f"there is no plan {plan_id}")
        return cast("int | None", row["directory_id"])

    def for_plan(self, plan_id: int) -> int:
        """The directory of a plan, made with the plan's name where it has none; raises
        NoSuchPlan."""
        with self._database.connection() as connection:
            row = queries.lock_directory_of_plan(connection, plan_id=plan_id)
            if row is None:
                raise NoSuchPlan(f"there is no plan {plan_id}")
            if row["directory_id"] is not None:
                return int(row["directory_id"])
            directory_id = int(queries.insert_directory(connection, name=row["name"]))
            queries.make_directory(connection, directory_id=directory_id)
            queries.give_directory(connection, plan_id=plan_id, directory_id=directory_id)
            return directory_id

    def give(self, plan_id: int, directory_id: int | None) -> None:
        """Give a plan a directory that others may have too, or none; raises NoSuchPlan, and
        NoSuchDirectory."""
        with self._database.connection() as connection:
            if directory_id is not None and not queries.lock_directory(
                connection, directory_id=directory_id
            ):
                raise NoSuchDirectory(f"there is no directory {directory_id}")
            given = {"plan_id": plan_id, "directory_id": directory_id}
            if queries.give_directory(connection, **given) is None:
                raise NoSuchPlan(f"there is no plan {plan_id}")

    def of_import(self, import_id: int) -> int | None:
        """The directory that an import is for; None where there is no such import."""
        with self._database.connection() as connection:
            return cast("int | None", queries.directory_of_import(connection, import_id=import_id))

    def tidy(self) -> None:
        """Delete the directories that no plan has had for long."""
        with self._database.connection() as connection:
            queries.note_unused_directories(connection)
            list(queries.forget_unused_directories(connection, days=DAYS_UNUSED))
