"""Studies of the Tuner: questions and answers, stored until somebody removes them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, cast

from psycopg.types.json import Jsonb

from idle_harbor.store.database import Database, StoreError, queries
from idle_harbor.store.jobs import JobRow


class NoSuchStudy(StoreError):
    """There is no such study."""


class StudyRow(JobRow):
    """A study without its plan, with the progress of its job.

    ``promised`` is the limit on the study's axis in its plan. ``answer`` is None until the job is
    done; ``so_far`` has the intermediate results.
    """

    plan_id: int | None
    question: dict[str, Any]
    currency: str
    promised: float
    answer: dict[str, Any] | None
    so_far: dict[str, Any] | None


class Studies:
    """The table of studies, on a database's connections."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def note(
        self, job_id: int, given: Mapping[str, Any], promised: float, plan_id: int | None
    ) -> None:
        """Keep the study that a job works on, by the job's input (``plan`` and ``question``)."""
        with self.database.connection() as connection:
            queries.note_study(
                connection,
                job_id=job_id,
                plan_id=plan_id,
                question=Jsonb(given["question"]),
                plan=Jsonb(given["plan"]),
                currency=given["plan"]["currency"],
                promised=promised,
            )

    def study(self, study_id: int) -> StudyRow:
        """A study; raises NoSuchStudy."""
        with self.database.connection() as connection:
            row = queries.get_study(connection, study_id=study_id)
        if row is None:
            raise NoSuchStudy(f"there is no study {study_id}")
        return cast(StudyRow, row)

    def of_plan(self, plan_id: int, most: int = 50) -> list[StudyRow]:
        """The studies of a plan, the newest first; of answers the verdict, today's plan and the
        tuned one."""
        with self.database.connection() as connection:
            return cast(
                list[StudyRow], list(queries.studies_of(connection, plan_id=plan_id, most=most))
            )

    def plan(self, study_id: int) -> dict[str, Any]:
        """The plan that a study is of, as a document; raises NoSuchStudy."""
        with self.database.connection() as connection:
            row = queries.study_plan(connection, study_id=study_id)
        if row is None:
            raise NoSuchStudy(f"there is no study {study_id}")
        return cast(dict[str, Any], row["plan"])

    def remove(self, study_id: int) -> None:
        """Forget a study, and the job that works on it; raises NoSuchStudy."""
        with self.database.connection() as connection:
            if queries.remove_study(connection, study_id=study_id) is None:
                raise NoSuchStudy(f"there is no study {study_id}")
            queries.remove_job(connection, job_id=study_id)
