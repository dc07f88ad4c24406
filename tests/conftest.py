"""Shared pieces of the tests; the engine's compiled folder is set before anything imports it."""

from __future__ import annotations

from idle_harbor.runtime import prepare_engine

prepare_engine()

import gc  # noqa: E402
import os  # noqa: E402
from collections.abc import Iterator  # noqa: E402
from contextlib import contextmanager  # noqa: E402
from uuid import uuid4  # noqa: E402

import psycopg  # noqa: E402
import pytest  # noqa: E402

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


@pytest.fixture
def database_address(cluster_address: str, migrated: str) -> Iterator[str]:
    """An empty database of the test's own."""
    with fresh_database(cluster_address, migrated) as address:
        yield address
