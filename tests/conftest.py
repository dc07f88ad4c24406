"""Shared pieces of the tests; the engine's compiled folder is set before anything imports it."""

from idle_harbor.runtime import prepare_engine

prepare_engine()

import gc  # noqa: E402
import os  # noqa: E402
from collections.abc import Iterator  # noqa: E402
from contextlib import contextmanager  # noqa: E402
from uuid import uuid4  # noqa: E402

import psycopg  # noqa: E402
import pytest  # noqa: E402
from psycopg.sql import SQL  # noqa: E402

from tests.sizes import LONG  # noqa: E402


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Leave out what only a long run has."""
    left_out = [each for each in items if not LONG and each.get_closest_marker("only_long")]
    if left_out:
        config.hook.pytest_deselected(items=left_out)
        items[:] = [each for each in items if each not in left_out]


def pytest_unconfigure() -> None:
    """The end of a process need not look through everything that was imported."""
    gc.freeze()


@pytest.fixture(scope="session")
def cluster_address() -> Iterator[str]:
    """A PostgreSQL cluster of the tests' own; the check runner starts one for all workers."""
    given = os.environ.get("IDLE_HARBOR_TEST_CLUSTER")
    if given:
        yield given
        return
    from idle_harbor.launch.cluster import Cluster

    cluster = Cluster(f"test-{os.getpid()}", passing=True)
    try:
        yield cluster.start()
    finally:
        cluster.remove()


@pytest.fixture(scope="session")
def migrated(cluster_address: str) -> str:
    """The name of an empty, migrated database, from which the tests' own are copied."""
    from idle_harbor.store.database import migrate

    name = f"m{uuid4().hex[:16]}"
    with psycopg.connect(cluster_address, autocommit=True) as admin:
        admin.execute(f'CREATE DATABASE "{name}"')
    migrate(cluster_address.replace("/postgres?", f"/{name}?"))
    return name


@contextmanager
def fresh_database(cluster_address: str, migrated: str) -> Iterator[str]:
    """The address of an empty, migrated database, dropped afterwards."""
    name = f"t{uuid4().hex[:16]}"
    with psycopg.connect(cluster_address, autocommit=True) as admin:
        admin.execute(f'CREATE DATABASE "{name}" TEMPLATE "{migrated}"')
    address = cluster_address.replace("/postgres?", f"/{name}?")
    yield address
    with psycopg.connect(cluster_address, autocommit=True) as admin:
        admin.execute(f'DROP DATABASE "{name}" WITH (FORCE)')


@pytest.fixture(scope="session")
def shared_database(cluster_address: str, migrated: str) -> Iterator[str]:
    """A database that the tests of this process have in turn."""
    with fresh_database(cluster_address, migrated) as address:
        yield address


@pytest.fixture
def database_address(shared_database: str) -> str:
    """An empty database, as after a migration: to empty one is several times as fast as to make
    one. Whoever changes its tables or its settings takes a ``fresh_database``, or changes them
    back."""
    _empty(shared_database)
    return shared_database


def _empty(address: str) -> None:
    with psycopg.connect(address) as connection:
        connection.execute(
            "SELECT pg_terminate_backend(pid) FROM pg_stat_activity "
            "WHERE datname = current_database() AND pid <> pg_backend_pid()"
        )
        # Not even what guards revisions against every change is asked.
        connection.execute("SET session_replication_role = replica")
        rows = connection.execute(
            "SELECT format('%I.%I', schemaname, tablename) FROM pg_tables "
            "WHERE schemaname = 'public' AND tablename NOT LIKE '%yoyo%'"
        ).fetchall()
        for (schema,) in connection.execute(
            "SELECT format('%I', nspname) FROM pg_namespace WHERE nspname LIKE 'directory_%'"
        ).fetchall():
            connection.execute(SQL(f"DROP SCHEMA {schema} CASCADE"))
        tables = ", ".join(name for (name,) in rows)
        connection.execute(SQL(f"TRUNCATE {tables} RESTART IDENTITY CASCADE"))
        for (name,) in connection.execute(
            "SELECT format('%I.%I', schemaname, sequencename) FROM pg_sequences "
            "WHERE schemaname = 'public'"
        ).fetchall():
            connection.execute(SQL(f"ALTER SEQUENCE {name} RESTART"))
