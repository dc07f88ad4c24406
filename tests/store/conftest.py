"""A database of the test's own, opened."""

from collections.abc import Iterator

import pytest

from idle_harbor.store.database import Database


@pytest.fixture
def store(database_address: str) -> Iterator[Database]:
    with Database(database_address) as opened:
        yield opened
