"""Plans go from document to core and back without a change, whatever the declaration allows."""

import re
from functools import cache
from typing import Any

import jsonschema
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from idle_harbor.core.plan.declare import EARLIEST, LATEST
from idle_harbor.core.plan.table import plan_fields
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import plan_of, plan_schema, read_plan, to_values
from tests.changes import changed
from tests.core.people import LEAVES, drop_in, group, pattern
from tests.core.plans import document
from tests.sizes import size

SCHEMA = plan_schema()
VALID = jsonschema.Draft202012Validator(SCHEMA)


def lost(given: Any, written: Any, path: str = "") -> list[str]:
    """Where a document that was read and written again lacks what was given."""
    if isinstance(given, dict) and isinstance(written, dict):
        return [
            at
            for key, value in given.items()
            for at in lost(value, written.get(key), f"{path}/{key}")
        ]
    if isinstance(given, list) and isinstance(written, list) and len(given) == len(written):
        return [
            at for k, value in enumerate(given) for at in lost(value, written[k], f"{path}/{k}")
        ]
    return [] if given == written else [path]


def test_the_demo_comes_back_as_it_was():
    plan = plan_of(demo_plan())
    assert lost(demo_plan(), to_values(plan)) == []
    assert plan_of(to_values(plan)) == plan


def test_every_kind_of_field_about_people_comes_back():
    pause = {"probability": 0.5, "after_minutes": 200.5, "leaving": LEAVES}
    seen = {"kind": "histogram", "from": "05:30", "step_minutes": 20, "weights": [1, 2.5]}
    lengths = {"kind": "histogram", "from_minutes": 90, "step_minutes": 45, "weights": [3]}
    turn = {"every_days": 3, "order": ["a", None], "since": "2027-01-04"}
    more = {"growth": {"per_year": -0.1, "since": "2027-02-01"}, "data_areas": ["here"]}
    often = group(
        "a", 7, [pattern("a", breaks=[pause])], rotation=turn, works_holidays=True, **more
    )
    rarely = group("b", 5, [pattern("b", start=seen, length=lengths)])
    whole = changed(
        document(groups=[often, rarely, drop_in("c", 12.5)]),
        """
/events = [{'id': 'e', 'groups': ['a'], 'factor': 0.5, 'shift_minutes': -30, 'pattern': 'a'}]
/events/0/when = {'kind': 'month-workdays', 'from': 2, 'to': 3}
/overlaps = [{'groups': ['a', 'b'], 'people': 2, 'source': 'a list'}]
/images = [{'id': 'image', 'apps': ['Mail']}]
/access = [{'group': 'a', 'pool': 'main', 'as': 'apps', 'apps': ['Mail'], 'use': 0.25}]
/access/0/profile = office
""",
    )
    assert lost(whole, to_values(plan_of(whole))) == []


@cache
def some_texts(pattern: str, most: int) -> list[str]:
    """Texts of every length that a pattern allows, within what could be told apart by it."""
    tried = ["a", "9z", "0-", "EUR", "XTS", "00:00", "23:59", "07:45", "/~", "-a", "A", "24:00"]
    tried += ["7:00", "", "é n", "x" * 63, "a" * 64, "y" * most]
    return [text for text in tried if re.search(pattern, text) and len(text) <= most]


def texts(schema: dict[str, Any]) -> st.SearchStrategy[str]:
    if schema.get("format") == "date":
        return st.dates(EARLIEST, LATEST).map(str)
    if "pattern" in schema:
        return st.sampled_from(some_texts(schema["pattern"], schema.get("maxLength", 100)))
    return st.decimals(0, 1_000, places=4).map(lambda value: format(value, "f"))


@cache
def referred(name: str) -> st.SearchStrategy[Any]:
    return values(SCHEMA["$defs"][name])


def values(schema: dict[str, Any]) -> st.SearchStrategy[Any]:
    """Values that a schema allows, as far as plans' schemas go; required fields and some more."""
    if "$ref" in schema:
        return referred(schema["$ref"].rpartition("/")[2])
    inner = [*schema.get("anyOf", []), *schema.get("oneOf", [])]
    if inner:
        return st.one_of(*map(values, inner))
    if "const" in schema or "enum" in schema:
        return st.sampled_from(schema.get("enum", [schema.get("const")]))
    kind, low, high = schema["type"], schema.get("minimum"), schema.get("maximum")
    if kind == "array":
        least = schema.get("minItems", 0)
        most = min(schema.get("maxItems", 2), max(least, 2))
        return st.lists(values(schema["items"]), min_size=least, max_size=most)
    if kind == "object" and "properties" not in schema:
        return st.dictionaries(
            values(schema["propertyNames"]), values(schema["additionalProperties"])
        )
    if kind == "object":
        fields = {name: values(told) for name, told in schema["properties"].items()}
        needed = {name: fields.pop(name) for name in schema.get("required", [])}
        return st.fixed_dictionaries(needed, optional=fields)
    return {
        "string": lambda: texts(schema),
        "boolean": st.booleans,
        "null": st.none,
        "integer": lambda: st.integers(low, high),
        "number": lambda: st.floats(low, high),
    }[kind]()


#: Documents with one thing, drawn from the schema, in one of the plan's lists.
drawn = st.one_of(
    *(
        values(told["items"]).map(lambda thing, name=name: {name: [thing]})
        for name, told in SCHEMA["properties"].items()
        if told.get("type") == "array"
    )
)


@settings(max_examples=size(100, 1000), suppress_health_check=list(HealthCheck))
@given(drawn)
def test_whatever_the_schema_allows_is_read_and_comes_back(things):
    """Days without a rate and the order of commitments are not kept: what is read is compared with
    what is read again."""
    plan = read_plan({"name": "any", "week_of": "2027-03-01", **things})
    written = to_values(plan)
    assert VALID.is_valid(written)
    assert read_plan(written) == plan


def test_every_field_has_its_place_in_the_schema():
    """The table and the schema are both derived; neither has a field that the other lacks."""

    def walk(schema: dict[str, Any], path: str) -> set[str]:
        found = set()
        if "$ref" in schema:
            return walk(SCHEMA["$defs"][schema["$ref"].rpartition("/")[2]], path)
        for inner in [*schema.get("anyOf", []), *schema.get("oneOf", [])]:
            found |= walk(inner, path)
        if schema.get("type") == "array":
            found |= walk(schema["items"], path)
        if "unit" in schema:
            found.add(path)
        for name, inner in schema.get("properties", {}).items():
            found |= walk(inner, f"{path}.{name}" if path else name)
        return found

    assert walk(SCHEMA, "") == {field.path for field in plan_fields()}
