"""What reads and writes plan documents, cached on disk for each state of the declarations.

To derive it takes ten times as long as to read a plan with it, and every process would do so.
"""

from __future__ import annotations

import os
import pickle
from contextlib import suppress
from functools import cached_property, lru_cache
from pathlib import Path
from typing import Any

from pydantic_core import SchemaSerializer, SchemaValidator

from idle_harbor.runtime import PACKAGE, var_folder, version_of

#: What a cached reader follows from, below the package.
_SOURCES = ("core/plan", "formats/plan")


class PlanReader:
    """Reads plans from values, writes them, and has the JSON Schema of their documents."""

    def __init__(self, core_schema: Any, json_schema: dict[str, Any]) -> None:
        self._core_schema = core_schema
        self.json_schema = json_schema

    @cached_property
    def read(self) -> Any:
        """Values to a plan; raises pydantic_core.ValidationError with the first fault of each list:
        all of them can take gigabytes."""
        return SchemaValidator(_stopping(self._core_schema)).validate_python

    @cached_property
    def read_all(self) -> Any:
        """The same with everything that is wrong, for values that are few."""
        return SchemaValidator(self._core_schema).validate_python

    @cached_property
    def _serializer(self) -> SchemaSerializer:
        return SchemaSerializer(self._core_schema)

    def write(self, plan: object) -> dict[str, Any]:
        """A plan to values as JSON holds them, in the order of its fields."""
        values: dict[str, Any] = self._serializer.to_python(plan, mode="json", by_alias=True)
        return values


def _stopping(schema: Any) -> Any:
    """A core schema whose lists are read up to their first fault."""
    if isinstance(schema, dict):
        inner = {name: _stopping(value) for name, value in schema.items()}
        return inner | {"fail_fast": True} if schema.get("type") in ("list", "tuple") else inner
    if isinstance(schema, list):
        return [_stopping(each) for each in schema]
    if type(schema) is tuple:
        return tuple(_stopping(each) for each in schema)
    return schema


def _place() -> Path:
    return var_folder() / "compiled" / f"plan-{version_of(*(PACKAGE / s for s in _SOURCES))}.pickle"


def _cached(place: Path) -> tuple[Any, dict[str, Any]] | None:
    """The schemas that a file has, or None; a file is code, so another user's is not trusted."""
    try:
        with place.open("rb") as file:
            if os.fstat(file.fileno()).st_uid not in (0, os.geteuid()):
                return None
            core_schema, json_schema = pickle.load(file)
    except Exception:  # whatever a broken file may raise: it is made anew
        return None
    return core_schema, json_schema


def _derived(place: Path) -> tuple[Any, dict[str, Any]]:
    """The schemas from the declarations, and in the cache where it may be written."""
    from idle_harbor.formats.plan.building import plan_schemas

    made = plan_schemas()
    mine = place.with_suffix(f".{os.getpid()}")
    with suppress(OSError):
        place.parent.mkdir(parents=True, exist_ok=True)
        mine.write_bytes(pickle.dumps(made))
        mine.replace(place)
    return made


@lru_cache(maxsize=1)
def plan_reader() -> PlanReader:
    """The reader of this process."""
    place = _place()
    return PlanReader(*(_cached(place) or _derived(place)))
