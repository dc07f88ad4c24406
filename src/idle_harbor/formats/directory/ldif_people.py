"""People and groups as LDIF content records (RFC 2849), folded and base64 lines included."""

from __future__ import annotations

import io
from collections.abc import Iterator, Mapping
from typing import BinaryIO

from ldif import LDIFParser, LDIFWriter

from idle_harbor.formats.directory.records import (
    GroupRow,
    MemberRow,
    NotReadable,
    PersonRow,
    Row,
    WrongRow,
    person_row,
    text_fault,
)

#: Classes of RFC 4519 and RFC 2798 that stand for people and groups; others are left out.
_PEOPLE = {"person", "organizationalperson", "inetorgperson", "account"}
_GROUPS = {"groupofnames", "groupofuniquenames"}
_MEMBERS = ("member", "uniquemember")


def _blocks(file: BinaryIO) -> Iterator[tuple[int, bytes]]:
    """Records with the line each begins on: they are parted by empty lines."""
    block: list[bytes] = []
    begins = 1
    for number, line in enumerate(file, start=1):
        if line.strip():
            if not block:
                begins = number
            block.append(line)
        elif block:
            yield begins, b"".join(block)
            block = []
    if block:
        yield begins, b"".join(block)


def _is_preamble(block: bytes) -> bool:
    lines = [line for line in block.splitlines() if not line.startswith(b"#")]
    return not lines or all(line.lower().startswith(b"version:") for line in lines)


def read_ldif(file: BinaryIO) -> Iterator[Row]:
    """Rows of an LDIF file; a record that cannot be read is a wrong row, and reading goes on.

    A person's key is their uid, else their mail, else their DN; a group's is its cn. Raises
    NotReadable where no record begins with a DN.
    """
    seen = 0
    for line, block in _blocks(file):
        if _is_preamble(block):
            continue
        record = _without_version(block)
        if seen == 0 and not record.lower().startswith((b"dn:", b"#")):
            raise NotReadable(f"line {line}: an LDIF record begins with 'dn:'")
        seen += 1
        try:
            entries = list(LDIFParser(io.BytesIO(record)).parse())
        except Exception as error:
            # The parser raises plain ValueErrors and, on broken base64, binascii's own.
            yield WrongRow(line, f"the record cannot be read: {str(error)[:120]}",
                           "mend the record; cut off ones often miss their last lines")  # fmt: skip
            continue
        for dn, entry in entries:
            yield from _rows(line, dn or "", {k.lower(): v for k, v in entry.items()})
    if seen == 0:
        raise NotReadable("the file holds no record")


def _without_version(block: bytes) -> bytes:
    lines = block.splitlines(keepends=True)
    while lines and (lines[0].startswith(b"#") or lines[0].lower().startswith(b"version:")):
        lines.pop(0)
    return b"".join(lines)


def _one(entry: Mapping[str, list[object]], *names: str) -> str:
    for name in names:
        for value in entry.get(name, []):
            if isinstance(value, str) and value.strip():
                return value.strip()
    return ""


def _ref(dn: str) -> str:
    """A DN as a name of its record: case and spaces after commas do not matter (RFC 4514)."""
    return ",".join(part.strip() for part in dn.split(",")).lower()


def _rows(line: int, dn: str, entry: Mapping[str, list[object]]) -> Iterator[Row]:
    if "changetype" in entry:
        yield WrongRow(line, "this is a change record", "export the entries themselves")
        return
    raw = [name for name, values in entry.items() for v in values if isinstance(v, bytes)]
    classes = {str(value).lower() for value in entry.get("objectclass", [])}
    if not classes & (_PEOPLE | _GROUPS):
        return
    wanted = {"uid", "cn", "mail", "displayname", *_MEMBERS}
    if any(name in wanted for name in raw):
        yield WrongRow(line, "a value is not UTF-8", "export the directory as UTF-8")
        return
    if classes & _PEOPLE:
        key = _one(entry, "uid", "mail") or dn
        name = _one(entry, "displayname", "cn") or key
        yield person_row(line, _ref(dn), key, name, _one(entry, "mail"))
        return
    key = _one(entry, "cn") or dn
    wrong = text_fault(line, "name of the group", key)
    if wrong is not None:
        yield wrong
        return
    yield GroupRow(line, _ref(dn), key, _one(entry, "description") or key)
    for attribute in _MEMBERS:
        for member in entry.get(attribute, []):
            if str(member).strip():
                yield MemberRow(line, _ref(dn), _ref(str(member)))


def write_ldif(
    file: BinaryIO, base: str, people: list[PersonRow], groups: dict[str, list[str]],
    nested: Mapping[str, list[str]],
) -> None:  # fmt: skip
    """Write people, groups (name to keys of people) and groups in groups below a base DN."""
    writer = LDIFWriter(file)
    file.write(b"version: 1\n\n")
    for person in people:
        writer.unparse(
            f"uid={person.key},ou=people,{base}",
            {
                "objectClass": ["inetOrgPerson"], "uid": [person.key], "cn": [person.name],
                "sn": [person.name.split()[-1]], "mail": [person.mail],
            },
        )  # fmt: skip
    for name in dict.fromkeys([*groups, *nested]):
        members = [f"uid={key},ou=people,{base}" for key in groups.get(name, [])]
        members += [f"cn={inner},ou=groups,{base}" for inner in nested.get(name, [])]
        writer.unparse(
            f"cn={name},ou=groups,{base}",
            {"objectClass": ["groupOfNames"], "cn": [name], "member": members},
        )
