"""Requests drawn from the API's own document: no server error, and answers as described."""

from __future__ import annotations

import pytest
import schemathesis
from hypothesis import HealthCheck, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)


@pytest.fixture
def schema(client):
    return schemathesis.openapi.from_wsgi("/api/openapi.json", client.application)


lazy = schemathesis.pytest.from_fixture("schema")


@lazy.parametrize()
@settings(
    max_examples=12,
    deadline=None,
    suppress_health_check=list(HealthCheck),
)
def test_answers_are_as_described(case):
    case.call_and_validate(
        checks=[
            not_a_server_error,
            status_code_conformance,
            content_type_conformance,
            response_schema_conformance,
        ]
    )
