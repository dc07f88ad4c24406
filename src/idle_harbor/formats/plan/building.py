"""What reads and writes plan documents, derived from the declarations of their fields."""

from __future__ import annotations

from dataclasses import is_dataclass
from typing import Annotated, Any, TypeAlias

from pydantic import BeforeValidator, ConfigDict, TypeAdapter
from pydantic.json_schema import GenerateJsonSchema, JsonSchemaValue
from pydantic_core import core_schema

from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.edits import Edit
from idle_harbor.formats.plan.upgrade import upgraded

#: A plan as a document of any format that is known.
PlanRead: TypeAlias = Annotated[Plan, BeforeValidator(upgraded)]


class _AsWritten(GenerateJsonSchema):
    """Defaults as the document has them."""

    def default_schema(self, schema: core_schema.WithDefaultSchema) -> JsonSchemaValue:
        inner: Any = schema["schema"]
        if is_dataclass(default := schema.get("default")):
            part: TypeAdapter[Any] = TypeAdapter(type(default))
            schema = {**schema, "default": part.dump_python(default, mode="json", by_alias=True)}
        if inner["type"] == "nullable":
            inner = inner["schema"]
        write = inner.get("serialization", {}).get("function")
        if write is not None and schema.get("default") is not None:
            schema = {**schema, "default": write(schema["default"])}
        return super().default_schema(schema)


def _without_metadata(schema: Any) -> Any:
    """A core schema without the notes that only a JSON Schema is made from."""
    if isinstance(schema, dict):
        return {k: _without_metadata(v) for k, v in schema.items() if k != "metadata"}
    if isinstance(schema, list):
        return [_without_metadata(each) for each in schema]
    if type(schema) is tuple:
        return tuple(_without_metadata(each) for each in schema)
    return schema


def plan_schemas() -> tuple[Any, dict[str, Any]]:
    """The core schema of plans (for pydantic_core), and their JSON Schema (draft 2020-12)."""
    adapter: TypeAdapter[Plan] = TypeAdapter(PlanRead)
    documents = adapter.json_schema(by_alias=True, schema_generator=_AsWritten)
    return _without_metadata(adapter.core_schema), documents


def edit_adapter() -> TypeAdapter[Edit]:
    """What reads an edit from values with the name of its verb."""
    return TypeAdapter(Edit, config=ConfigDict(defer_build=True))
