"""From plan documents (JSON, or values read from JSON) to core plans and back."""

from __future__ import annotations

import hashlib
import marshal
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import TYPE_CHECKING, Any, NamedTuple

import orjson
from pydantic_core import ValidationError

from idle_harbor.core.base.caches import ByteCache
from idle_harbor.core.errors import Fault, PlanError, TooMuchError
from idle_harbor.core.plan import FORMAT, Plan
from idle_harbor.core.rules.whole import faults_of
from idle_harbor.formats.bounds import read_json
from idle_harbor.formats.plan.bounded import faults_in
from idle_harbor.formats.plan.faults import fault_from
from idle_harbor.formats.plan.reader import plan_reader
from idle_harbor.formats.plan.upgrade import KNOWN, upgraded

if TYPE_CHECKING:
    from pydantic import TypeAdapter

    from idle_harbor.core.plan.edits import Edit

#: A plan of this size is already far beyond any that a person could have written.
MOST_BYTES = 8_000_000


class UnknownPartsError(Exception):
    """A list that a plan leaves out is not known here by the name that stands for it."""


class _Part(NamedTuple):
    """A list of a plan as it was read, a hash of what it says, and the bytes that say it."""

    part: Any
    says: str
    bytes: int


@dataclass(frozen=True, slots=True)
class Sent:
    """A plan as it was sent: ``says`` has a hash of each of its lists, and every other field as
    it is; ``names`` stand for the lists that were sent, wherever the same plan is sent again."""

    plan: Plan
    says: dict[str, Any]
    names: dict[str, str]


#: Values are some ten times as large as what they were read from.
_READ = ByteCache(64_000_000, lambda read: 10 * read.bytes)


def parse_plan(text: bytes | str) -> Plan:
    """A plan from JSON text; raises PlanError naming the line where it is not JSON."""
    if len(text) > MOST_BYTES:
        raise PlanError(
            [
                Fault(
                    "",
                    f"the document is {len(text):,} bytes long",
                    f"keep plans below {MOST_BYTES:,} bytes",
                )
            ]
        )
    try:
        whole = text.encode() if isinstance(text, str) else text
        value = read_json(whole.decode("utf-8-sig"))
    except TooMuchError as error:
        raise PlanError([error.fault]) from error
    except UnicodeError as error:
        raise PlanError(
            [Fault("", "this is not JSON in UTF-8", "save the file as UTF-8 text")]
        ) from error
    except ValueError as error:
        raise PlanError(
            [Fault("", f"this is not JSON: {str(error)[:200]}", "mend the text there")]
        ) from error
    return read_plan(value)


def read_plan(value: object) -> Plan:
    """A plan from values; raises PlanError with one fault per field that cannot be.

    Whether the parts fit each other is not looked at; see :func:`checked`.
    """
    if not isinstance(value, Mapping):
        raise PlanError([Fault("", "a plan is a JSON object", "start it with '{'")])
    if value.get("format", FORMAT) not in KNOWN:
        raise PlanError(
            [
                Fault(
                    "/format",
                    f"format {value.get('format')!r} is not known here",
                    f"save the plan in format {FORMAT}",
                )
            ]
        )
    return read_sent(value, {}).plan


def read_sent(value: Mapping[str, Any], named: Mapping[str, str]) -> Sent:
    """A plan some of whose lists are not sent but ``named``, as an earlier reading did.

    Raises PlanError like :func:`read_plan`, UnknownPartsError where a name stands for nothing.
    """
    left_out = _left_out(value, named)
    try:
        return _from_parts(value, left_out)
    except (ValueError, TypeError):
        pass  # something is wrong with it: then all of it is read, for all that is
    try:
        plan: Plan = plan_reader().read(value)
    except ValidationError as error:
        raise PlanError(faults_in(plan_reader(), upgraded(value))) from error
    says = {field: content_hash(raw) for field, raw in upgraded(value).items()}
    return Sent(replace(plan, **_parts(left_out)), says | _hashes(left_out), {})


def _left_out(value: Mapping[str, Any], named: Mapping[str, str]) -> dict[str, _Part]:
    """The lists that names stand for; a document of an older format has to be whole."""
    if named and value.get("format", FORMAT) != FORMAT:
        raise UnknownPartsError("a plan of an older format is sent as a whole")
    found: dict[str, _Part] = {}
    for field, name in named.items():
        part = _READ.get((field, name))
        if part is None or field in value:
            raise UnknownPartsError(f"'{field}' is not known here by that name")
        found[field] = part
    return found


def _parts(known: Mapping[str, _Part]) -> dict[str, Any]:
    return {field: part.part for field, part in known.items()}


def _hashes(known: Mapping[str, _Part]) -> dict[str, str]:
    return {field: part.says for field, part in known.items()}


def _from_parts(value: Mapping[str, Any], left_out: Mapping[str, _Part]) -> Sent:
    """A plan most of whose lists were read before: an edit changes one of them, and most pages
    that send it leave out the others. Raises ValueError or TypeError where it has to be read
    whole, since something is wrong with it."""
    new: dict[str, Any] = {}
    says: dict[str, Any] = {}
    known = dict(left_out)
    names: dict[str, str] = {}
    fresh: dict[str, int] = {}
    for field, raw in upgraded(value).items():
        if isinstance(raw, list | dict):
            # Unlike JSON it tells every number from every other.
            text = marshal.dumps(raw, 2)
            names[field] = hashlib.blake2b(text, digest_size=20).hexdigest()
            found = _READ.get((field, names[field]))
            if found is not None:
                known[field] = found
                continue
            fresh[field] = len(text)
        else:
            says[field] = raw
        new[field] = raw
    plan: Plan = plan_reader().read(new)
    for field, size in fresh.items():
        part = _Part(getattr(plan, field), content_hash(new[field]), size)
        says[field] = part.says
        _READ.put((field, names[field]), part)
    return Sent(replace(plan, **_parts(known)), says | _hashes(known), names)


def checked(plan: Plan) -> Plan:
    """The plan; raises PlanError where its parts do not fit each other."""
    faults = faults_of(plan)
    if faults:
        raise PlanError(faults)
    return plan


def read(document: bytes | str | Mapping[str, Any]) -> Plan:
    """A checked plan from its document: a JSON text, or values read from one.

    Raises PlanError with everything that is wrong with it, each fault with the pointer of its
    field, or the one fault of a text that is no JSON or longer than 8 MB.
    """
    plan = read_plan(document) if isinstance(document, Mapping) else parse_plan(document)
    return checked(plan)


def write(plan: Plan) -> str:
    """The JSON text of a plan's document, which :func:`read` takes."""
    return orjson.dumps(to_values(plan), option=orjson.OPT_INDENT_2).decode()


def plan_of(value: object) -> Plan:
    """A checked plan from values; raises PlanError with everything that is wrong with it."""
    return checked(read_plan(value))


@lru_cache(maxsize=1)
def _edits() -> TypeAdapter[Edit]:
    """Made when the first edit is read: a start needs none."""
    from idle_harbor.formats.plan.building import edit_adapter

    return edit_adapter()


def read_edit(value: object) -> Edit:
    """An edit from values with the name of its verb; raises PlanError with what is wrong."""
    try:
        return _edits().validate_python(value)
    except ValidationError as error:
        raise PlanError([fault_from(detail) for detail in error.errors()]) from error


def edited(plan: Plan) -> dict[str, Any]:
    """The document of a plan that was changed here; raises PlanError where it cannot be."""
    values = to_values(plan)
    plan_of(values)
    return values


def to_values(plan: Plan) -> dict[str, Any]:
    """The plan's document as plain JSON values, in the order of its fields."""
    return plan_reader().write(plan)


def canonical(value: object) -> str:
    """Canonical JSON: sorted keys, no spaces; equal documents give equal text."""
    return orjson.dumps(value, option=orjson.OPT_SORT_KEYS).decode()


def content_hash(value: object) -> str:
    """SHA-256 of the canonical JSON, as hexadecimal."""
    return text_hash(canonical(value))


def text_hash(text: str) -> str:
    """SHA-256 of a text that is canonical JSON already."""
    return hashlib.sha256(text.encode()).hexdigest()


@lru_cache(maxsize=1)
def plan_shape() -> str:
    """A name of the shape that documents have today: a hash of their schema."""
    return content_hash(plan_schema())


def plan_schema() -> dict[str, Any]:
    """The JSON Schema of plan documents (draft 2020-12)."""
    schema = plan_reader().json_schema
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **schema}
