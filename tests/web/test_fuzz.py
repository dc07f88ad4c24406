"""Requests drawn from the API's own document: no server error, and answers as described."""

import schemathesis
from hypothesis import HealthCheck, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from tests.sizes import size

CHECKS = [
    not_a_server_error,
    status_code_conformance,
    content_type_conformance,
    response_schema_conformance,
]


def test_answers_are_as_described(client):
    schema = schemathesis.openapi.from_wsgi("/api/openapi.json", client.application)
    tried = 0
    for found in schema.get_all_operations():
        operation = found.ok()

        @settings(max_examples=size(5, 60), deadline=None, suppress_health_check=list(HealthCheck))
        @given(case=operation.as_strategy())
        def check(case):
            # Without a network between them, nothing takes an answer out of its wrapping.
            case.call_and_validate(checks=CHECKS, headers={"Accept-Encoding": "identity"})

        check()
        tried += 1
    assert tried == 82
