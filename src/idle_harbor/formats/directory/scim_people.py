"""People and groups as SCIM resources (RFC 7643): a list response, an array, or JSON lines."""

from __future__ import annotations

import codecs
from collections.abc import Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, BinaryIO

import ijson
from pydantic import ValidationError
from pydantic_core import from_json

from idle_harbor.formats.directory.records import (
    DirectoryRow,
    GroupRow,
    Members,
    NotReadable,
    PersonRow,
    WrongRow,
    person_row,
    raw_lines,
    text_fault,
)

if TYPE_CHECKING:
    from scim2_models import Group, User

_USER = "urn:ietf:params:scim:schemas:core:2.0:User"
_GROUP = "urn:ietf:params:scim:schemas:core:2.0:Group"
_LIST = "urn:ietf:params:scim:api:messages:2.0:ListResponse"
#: Bytes of a line of JSON lines, of a resource without its members, and how deep one may nest.
_MOST_JSON_LINE = 8_000_000
_DEEPEST = 40
_BUFFER = 1 << 16


@dataclass(frozen=True, slots=True)
class _Resource:
    """A resource with its place in the file; its members apart, since there may be millions."""

    line: int
    values: Any
    members: Members


class _Joined:
    """A file with what has already been read of it put in front."""

    def __init__(self, head: bytes, file: BinaryIO) -> None:
        self._head, self._file = head, file

    def read(self, size: int = -1) -> bytes:
        """The next bytes."""
        if size == 0:
            return b""
        if self._head:
            taken = self._head if size < 0 else self._head[:size]
            self._head = self._head[len(taken) :]
            return taken
        return self._file.read(size)

    def readline(self, size: int) -> bytes:
        """The next line, or as much of it as ``size`` allows."""
        head, self._head = self._head, b""
        if head.endswith(b"\n"):
            return head
        return head + self._file.readline(size - len(head))


def _resources(file: BinaryIO) -> Iterator[_Resource | WrongRow]:
    """Resources with their line (JSON lines) or their place in the list."""
    head = b""
    while not head.strip():
        head = file.readline(_BUFFER)
        if not head:
            return
    if head.startswith(codecs.BOM_UTF8):
        head = head.removeprefix(codecs.BOM_UTF8)
    if _begins_json_lines(head):
        lines = raw_lines(_Joined(head, file), _MOST_JSON_LINE)  # type: ignore[arg-type]
        yield from _from_lines(lines)
    else:
        yield from _from_list(_Joined(head, file))


def _begins_json_lines(head: bytes) -> bool:
    """Whether the first line is a resource of its own, or the beginning of one too long to say."""
    try:
        value = from_json(head, allow_partial=not head.endswith(b"\n"))
    except ValueError:
        return False
    return isinstance(value, dict) and "Resources" not in value


def _from_lines(lines: Iterator[bytes]) -> Iterator[_Resource | WrongRow]:
    for number, raw in enumerate(lines, start=1):
        if not raw.strip():
            continue
        try:
            values = from_json(raw)
        except ValueError as error:
            yield WrongRow(number, f"the line is not JSON: {str(error)[:120]}", "mend the line")
            continue
        yield _split(number, values)


def _split(line: int, values: Any) -> _Resource | WrongRow:
    """A resource with its members taken out."""
    members = Members()
    listed = values.pop("members", None) if isinstance(values, dict) else None
    for each in listed if isinstance(listed, list) else ():
        value = each.get("value") if isinstance(each, dict) else None
        if not isinstance(value, str) or not _is_text(value):
            members.drop()
            return WrongRow(line, "a member has no value", "give the id of each member")
        members.add(value.replace("\n", " "))
    return _Resource(line, values, members)


def _is_text(value: str) -> bool:
    """Whether a text can be written at all: halves of a surrogate pair cannot."""
    try:
        value.encode()
    except UnicodeEncodeError:
        return False
    return True


def _from_list(file: _Joined) -> Iterator[_Resource | WrongRow]:
    """Resources of a list response, or of an array, as they come: the file is never held whole."""
    reader = _ListReader()
    try:
        for prefix, event, value in ijson.parse(file, buf_size=_BUFFER, use_float=True):
            found = reader.take(prefix, event, value)
            if found is not None:
                yield found
    except (ijson.JSONError, UnicodeDecodeError, ValueError) as error:
        raise NotReadable(
            f"this is not JSON: {str(error)[:120]}; a file that was cut off ends like that"
        ) from error
    reader.end()


class _ListReader:
    """Puts the events of a list response together, a resource at a time."""

    def __init__(self) -> None:
        self._at: str | None = None
        self._builder: Any = None
        self._members = Members()
        self._events = self._depth = self._seen = 0
        self._wrong = ""
        self._total: int | None = None
        self._whole = False

    def take(self, prefix: str, event: str, value: Any) -> _Resource | WrongRow | None:
        """The next event; returns a resource where it ends one."""
        if self._builder is None:
            self._between(prefix, event, value)
            return None
        inside = prefix[len(self._at or "") + 1 :]
        self._count(event)
        if inside == "members.item.value" and event == "string":
            self._members.add(value.replace("\n", " ") if _is_text(value) else "")
        elif not inside.startswith("members") and not self._wrong:
            self._builder.event(event, value)
        return self._ended() if self._depth == 0 else None

    def _between(self, prefix: str, event: str, value: Any) -> None:
        if prefix == "" and event == "start_array":
            self._at, self._whole = "item", True
        elif prefix == "Resources" and event == "start_array":
            self._at, self._whole = "Resources.item", True
        elif prefix == "totalResults" and event == "number":
            self._total = int(value)
        elif self._at is not None and prefix == self._at:
            self._begin(event, value)

    def _begin(self, event: str, value: Any) -> None:
        self._seen += 1
        self._builder = ijson.ObjectBuilder()
        self._members = Members()
        self._events = self._depth = 0
        self._wrong = "" if event == "start_map" else "it is no object"
        self._count(event)
        self._builder.event(event, value)
        if self._depth == 0:
            self._builder = None

    def _count(self, event: str) -> None:
        self._events += 1
        if event in ("start_map", "start_array"):
            self._depth += 1
        elif event in ("end_map", "end_array"):
            self._depth -= 1
        if self._depth > _DEEPEST:
            self._wrong = f"it nests deeper than {_DEEPEST} levels"

    def _ended(self) -> _Resource | WrongRow:
        values = self._builder.value if not self._wrong else None
        self._builder = None
        if self._wrong:
            self._members.drop()
            return WrongRow(self._seen, self._wrong, "mend the resource")
        return _Resource(self._seen, values, self._members)

    def end(self) -> None:
        """Raise NotReadable where this was no list, or not all of it."""
        if not self._whole:
            raise NotReadable("this is neither a list response nor an array of resources")
        if self._total is not None and self._total > self._seen:
            raise NotReadable(
                f"the list response holds {self._seen:,} of {self._total:,} resources; "
                "join all its pages"
            )


def scim_models() -> Any:
    """The shapes of resources, fetched when the first file comes: making them takes long."""
    import scim2_models

    return scim2_models


def read_scim(file: BinaryIO) -> Iterator[DirectoryRow]:
    """Rows of SCIM users and groups, each checked against its schema.

    Raises NotReadable where the file as a whole is no SCIM; a resource that does not keep to its
    schema is a wrong row.
    """
    seen = 0
    for resource in _resources(file):
        seen += 1
        if isinstance(resource, WrongRow):
            yield resource
            continue
        yield from _rows(resource)
        resource.members.drop()
    if seen == 0:
        raise NotReadable("the file holds no resource")


def _rows(resource: _Resource) -> Iterator[DirectoryRow]:
    line, values = resource.line, resource.values
    models = scim_models()
    schemas = values.get("schemas") if isinstance(values, dict) else None
    if not isinstance(schemas, list):
        schemas = []
    try:
        if _USER in schemas:
            yield from _user(line, models.User.model_validate(values))
        elif _GROUP in schemas:
            yield from _group(resource, models.Group.model_validate(values))
        else:
            yield WrongRow(
                line,
                "the resource is neither a User nor a Group",
                f"give its schemas, such as {_USER}",
            )
    except ValidationError as error:
        detail = error.errors()[0]
        where = ".".join(map(str, detail["loc"]))
        yield WrongRow(line, f"{where}: {detail['msg'].lower()}"[:300], "mend the resource")
    except (ValueError, TypeError, AttributeError, RecursionError) as error:
        # The models' own validators raise these on values that no schema allows.
        yield WrongRow(line, f"it cannot be read: {str(error)[:120]}", "mend the resource")


def _user(line: int, user: User[Any]) -> Iterator[DirectoryRow]:
    key = (user.user_name or "").strip()
    name = (user.display_name or "").strip() or key
    emails = user.emails or []
    chosen = next((mail for mail in emails if mail.primary), emails[0] if emails else None)
    mail = str(chosen.value or "") if chosen is not None else ""
    wrong = text_fault(line, "id", str(user.id or ""))
    yield wrong or person_row(line, str(user.id), key, name, mail)


def _group(resource: _Resource, group: Group) -> Iterator[DirectoryRow]:
    line = resource.line
    name = (group.display_name or "").strip()
    wrong = text_fault(line, "displayName", name) or text_fault(line, "id", str(group.id or ""))
    if wrong is not None:
        yield wrong
        return
    yield GroupRow(line, str(group.id), name, name)
    yield from resource.members.rows(line, str(group.id))


def scim_values(
    people: list[PersonRow], groups: dict[str, list[str]], nested: dict[str, list[str]]
) -> dict[str, Any]:
    """A list response of people, groups (name to keys of people) and groups in groups."""
    users = [
        {
            "schemas": [_USER],
            "id": f"p-{person.key}",
            "userName": person.key,
            "displayName": person.name,
            "emails": [{"value": person.mail, "primary": True}],
        }
        for person in people
    ]
    resources: list[dict[str, Any]] = [*users]
    for name in dict.fromkeys([*groups, *nested]):
        members = [{"value": f"p-{key}", "type": "User"} for key in groups.get(name, [])]
        members += [{"value": f"g-{inner}", "type": "Group"} for inner in nested.get(name, [])]
        resources.append(
            {"schemas": [_GROUP], "id": f"g-{name}", "displayName": name, "members": members}
        )
    return {
        "schemas": [_LIST],
        "totalResults": len(resources),
        "startIndex": 1,
        "itemsPerPage": len(resources),
        "Resources": resources,
    }
