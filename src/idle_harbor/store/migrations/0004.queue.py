"""The tables of the queue, as the library that works on them brings them."""

from procrastinate.schema import SchemaManager
from yoyo import step

__depends__ = {"0003.shapes"}

_GONE = """
DROP TABLE procrastinate_events, procrastinate_periodic_defers, procrastinate_jobs,
    procrastinate_workers CASCADE;
DROP TYPE procrastinate_job_to_defer_v1, procrastinate_job_status,
    procrastinate_job_event_type CASCADE;
"""

steps = [step(SchemaManager.get_schema(), _GONE)]
