"""The API's own document, as others read it: a validator, and a client that a generator makes."""

import json
import os
import subprocess
import sys
from pathlib import Path

import jsonschema
from openapi_spec_validator import validate

from idle_harbor.launch.tools import free_port
from idle_harbor.launch.webserver import end, serve
from idle_harbor.web.app import api_document
from tests.core.plans import document

CHECKOUT = Path(__file__).parent.parent.parent


def defaults(node, where=""):
    """Every schema of a document that has a default, with its place."""
    if isinstance(node, dict):
        for name, schema in node.get("properties", {}).items():
            if isinstance(schema, dict) and "default" in schema:
                yield f"{where}/{name}", schema
        for name, each in node.items():
            yield from defaults(each, f"{where}/{name}")
    elif isinstance(node, list):
        for k, each in enumerate(node):
            yield from defaults(each, f"{where}/{k}")


def test_a_validator_takes_the_document():
    validate(api_document())


def test_every_default_is_a_value_of_its_own_schema():
    plan = json.loads((CHECKOUT / "docs" / "plan.schema.json").read_text())
    for whole in (plan, api_document()):
        found = dict(defaults(whole))
        parts = {name: whole[name] for name in ("$defs", "components") if name in whole}
        for where, schema in found.items():
            checker = jsonschema.Draft202012Validator(schema | parts)
            assert list(checker.iter_errors(schema["default"])) == [], where
        assert len(found) > 200


def shown(site):
    """The program that docs/api.md shows, for a server and a plan of the tests."""
    script = (CHECKOUT / "docs" / "api.md").read_text().split("```python\n")[1].split("```")[0]
    for told, here in (
        ("http://127.0.0.1:8466", site),
        ("Quillmoor Water", "Small"),
        ('pool="office"', 'pool="main"'),
        ("session_limit = 10", "session_limit = 6"),
    ):
        assert told in script
        script = script.replace(told, here)
    return script


def test_a_generated_client_lists_reads_simulates_and_saves(database_address, tmp_path):
    told = tmp_path / "api.json"
    told.write_text(json.dumps(api_document()))
    (tmp_path / "config.yaml").write_text("post_hooks: []\n")
    made = subprocess.run(
        [
            *(sys.executable, "-m", "openapi_python_client", "generate", "--meta", "none"),
            *("--path", str(told), "--output-path", str(tmp_path / "harbor")),
            *("--config", str(tmp_path / "config.yaml")),
        ],
        capture_output=True,
        text=True,
        check=True,
    )
    # Answers of several lines are what it leaves out: each has a twin that is one JSON value.
    said, paths = made.stdout + made.stderr, api_document()["paths"]
    twins = [path.removesuffix("/parts") for path in paths if path.endswith("/parts")]
    assert said.count("Cannot parse") == said.count("Unsupported content_type") == len(twins)
    assert set(twins) < set(paths) and "Unable" not in said
    port = free_port()
    child = serve(port, database_address, tmp_path / "server.log")
    try:
        import httpx

        site = f"http://127.0.0.1:{port}"
        httpx.post(f"{site}/api/plans", json={"plan": document()}).raise_for_status()
        done = subprocess.run(
            [sys.executable, "-c", shown(site)],
            capture_output=True,
            text=True,
            check=False,
            env={**os.environ, "PYTHONPATH": str(tmp_path)},
        )
        assert done.returncode == 0, done.stderr
        assert "p95" in done.stdout
        (plan,) = httpx.get(f"{site}/api/plans").json()["plans"]
        latest = httpx.get(f"{site}/api/plans/{plan['id']}").json()
        assert (latest["number"], latest["plan"]["pools"][0]["session_limit"]) == (2, 6)
    finally:
        end(child)


def test_an_operation_is_called_as_its_function_is():
    paths = api_document()["paths"].values()
    called = [each["operationId"] for path in paths for each in path.values()]
    assert {"read_latest", "simulate_week", "save_plan"} < set(called)
    assert len(set(called)) == len(called)
