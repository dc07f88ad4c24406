"""Jobs on a database of their own, and workers as they run."""

from collections.abc import Iterator

import pytest

from idle_harbor.store.database import Database


@pytest.fixture
def database(database_address: str) -> Iterator[Database]:
    with Database(database_address) as opened:
        yield opened
