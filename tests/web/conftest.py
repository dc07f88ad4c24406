"""The application on a database of its own."""

from collections.abc import Iterator

import pytest
from flask.testing import FlaskClient

from idle_harbor.web.app import create_app
from tests.web.asking import body


@pytest.fixture
def client(database_address: str) -> Iterator[FlaskClient]:
    app = create_app(database_address)
    yield app.test_client()
    app.extensions["database"].close()


@pytest.fixture
def stored(client: FlaskClient) -> int:
    answer = client.post("/api/plans", json=body(words="first"))
    assert answer.status_code == 201
    return int(answer.json["id"])
