"""The application on a database of its own."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from flask.testing import FlaskClient

from idle_harbor.web.app import create_app


@pytest.fixture
def client(database_address: str) -> Iterator[FlaskClient]:
    app = create_app(database_address)
    yield app.test_client()
    app.extensions["database"].close()
