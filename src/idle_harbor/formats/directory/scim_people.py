"""People and groups as SCIM resources (RFC 7643): a list response, an array, or JSON lines."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any, BinaryIO

from pydantic import ValidationError
from scim2_models import Group, User

from idle_harbor.formats.directory.records import (
    GroupRow,
    MemberRow,
    NotReadable,
    PersonRow,
    Row,
    WrongRow,
    lines_of,
    person_row,
    text_fault,
)

_USER = "urn:ietf:params:scim:schemas:core:2.0:User"
_GROUP = "urn:ietf:params:scim:schemas:core:2.0:Group"
_LIST = "urn:ietf:params:scim:api:messages:2.0:ListResponse"
#: A single JSON value is held in memory whole; JSON lines are not.
_MOST_WHOLE = 400_000_000


def _resources(file: BinaryIO) -> Iterator[tuple[int, Any]]:
    """Resources with their line (JSON lines) or their place in the list."""
    lines = lines_of(file)
    first = next(lines, "")
    while first and not first.strip():
        first = next(lines, "")
    try:
        head = json.loads(first)
    except json.JSONDecodeError:
        head = None
    if isinstance(head, dict) and "Resources" not in head:
        yield 1, head
        for number, line in enumerate(lines, start=2):
            if line.strip():
                try:
                    yield number, json.loads(line)
                except json.JSONDecodeError as error:
                    yield number, error
        return
    yield from enumerate(_whole(first, lines), start=1)


def _whole(first: str, lines: Iterator[str]) -> list[Any]:
    parts, size = [first], len(first)
    for line in lines:
        parts.append(line)
        size += len(line)
        if size > _MOST_WHOLE:
            raise NotReadable("the file is too large for one JSON value; write a resource a line")
    try:
        value = json.loads("".join(parts))
    except json.JSONDecodeError as error:
        raise NotReadable(
            f"this is not JSON: {error.msg} in line {error.lineno:,}, column {error.colno:,}; "
            "a file that was cut off ends like that"
        ) from error
    if isinstance(value, dict) and isinstance(value.get("Resources"), list):
        total = value.get("totalResults")
        found = len(value["Resources"])
        if isinstance(total, int) and total > found:
            raise NotReadable(
                f"the list response holds {found:,} of {total:,} resources; join all its pages"
            )
        return list(value["Resources"])
    if isinstance(value, list):
        return value
    raise NotReadable("this is neither a list response nor an array of resources")


def read_scim(file: BinaryIO) -> Iterator[Row]:
    """Rows of SCIM users and groups, each checked against its schema.

    Raises NotReadable where the file as a whole is no SCIM; a resource that does not keep to its
    schema is a wrong row.
    """
    seen = 0
    for line, resource in _resources(file):
        seen += 1
        if isinstance(resource, json.JSONDecodeError):
            yield WrongRow(line, f"the line is not JSON: {resource.msg}", "mend the line")
            continue
        schemas = resource.get("schemas", []) if isinstance(resource, dict) else []
        try:
            if _USER in schemas:
                yield from _user(line, User.model_validate(resource))
            elif _GROUP in schemas:
                yield from _group(line, Group.model_validate(resource))
            else:
                yield WrongRow(line, "the resource is neither a User nor a Group",
                               f"give its schemas, such as {_USER}")  # fmt: skip
        except ValidationError as error:
            detail = error.errors()[0]
            where = ".".join(map(str, detail["loc"]))
            yield WrongRow(line, f"{where}: {detail['msg'].lower()}", "mend the resource")
    if seen == 0:
        raise NotReadable("the file holds no resource")


def _user(line: int, user: User[Any]) -> Iterator[Row]:
    key = (user.user_name or "").strip()
    name = (user.display_name or "").strip() or key
    emails = user.emails or []
    chosen = next((mail for mail in emails if mail.primary), emails[0] if emails else None)
    mail = str(chosen.value or "") if chosen is not None else ""
    wrong = text_fault(line, "id", str(user.id or ""))
    yield wrong or person_row(line, str(user.id), key, name, mail)


def _group(line: int, group: Group) -> Iterator[Row]:
    name = (group.display_name or "").strip()
    wrong = text_fault(line, "displayName", name) or text_fault(line, "id", str(group.id or ""))
    if wrong is not None:
        yield wrong
        return
    yield GroupRow(line, str(group.id), name, name)
    for member in group.members or []:
        if member.value:
            yield MemberRow(line, str(group.id), str(member.value))


def scim_values(
    people: list[PersonRow], groups: dict[str, list[str]], nested: dict[str, list[str]]
) -> dict[str, Any]:
    """A list response of people, groups (name to keys of people) and groups in groups."""
    users = [
        {
            "schemas": [_USER], "id": f"p-{person.key}", "userName": person.key,
            "displayName": person.name, "emails": [{"value": person.mail, "primary": True}],
        }
        for person in people
    ]  # fmt: skip
    resources: list[dict[str, Any]] = [*users]
    for name in dict.fromkeys([*groups, *nested]):
        members = [{"value": f"p-{key}", "type": "User"} for key in groups.get(name, [])]
        members += [{"value": f"g-{inner}", "type": "Group"} for inner in nested.get(name, [])]
        resources.append(
            {"schemas": [_GROUP], "id": f"g-{name}", "displayName": name, "members": members}
        )
    return {
        "schemas": [_LIST], "totalResults": len(resources), "startIndex": 1,
        "itemsPerPage": len(resources), "Resources": resources,
    }  # fmt: skip
