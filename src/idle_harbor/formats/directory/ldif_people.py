"""People and groups as LDIF content records (RFC 2849), folded and base64 lines included."""

from __future__ import annotations

import io
from base64 import b64decode
from collections.abc import Iterator, Mapping
from typing import BinaryIO

from ldif import LDIFParser, LDIFWriter

from idle_harbor.formats.directory.records import (
    MOST_LINE,
    MOST_REF,
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

#: Classes of RFC 4519 and RFC 2798 that stand for people and groups; others are left out.
_PEOPLE = {"person", "organizationalperson", "inetorgperson", "account"}
_GROUPS = {"groupofnames", "groupofuniquenames"}
_MEMBERS = (b"member", b"uniquemember")


#: Bytes of a record without its members, and of a value that is folded over many lines.
_MOST_RECORD = 1_000_000


def _unfolded(file: BinaryIO) -> Iterator[tuple[int, bytes]]:
    """Logical lines with the number of the first of each: one that begins with a space goes on
    the one before (RFC 2849). Raises NotReadable where one grows too long."""
    parts: list[bytes] = []
    size, begins = 0, 1
    for number, raw in enumerate(raw_lines(file), start=1):
        line = raw.rstrip(b"\r\n")
        if line.startswith(b" ") and parts:
            size += len(line)
            if size > MOST_LINE:
                raise NotReadable(f"line {begins:,} is folded over more than {MOST_LINE:,} bytes")
            parts.append(line[1:])
            continue
        if parts:
            yield begins, b"".join(parts)
        parts, size, begins = [line], len(line), number
    if parts:
        yield begins, b"".join(parts)


class _Record:
    """A record as it is read: its members apart, since there may be millions of them."""

    def __init__(self, line: int) -> None:
        self.line = line
        self.members = Members()
        self.wrong = ""
        self._lines: list[bytes] = []
        self._size = 0

    def add(self, line: bytes) -> None:
        """One more logical line."""
        name, _, value = line.partition(b":")
        if name.lower() in _MEMBERS:
            self._member(value)
            return
        self._size += len(line)
        if self._size > _MOST_RECORD:
            self.wrong = f"the record has more than {_MOST_RECORD:,} bytes beside its members"
            return
        self._lines.append(line + b"\n")

    def _member(self, value: bytes) -> None:
        try:
            if value.startswith(b":"):
                value = b64decode(value[1:].strip(), validate=True)
            text = value.decode().strip()
        except ValueError:
            self.wrong = "a member is not UTF-8, or its base64 is broken"
            return
        if text:
            self.members.add(_ref(text.replace("\n", " ")))

    def text(self) -> bytes:
        """The record without its members, and without comments and the version before it."""
        lines = list(self._lines)
        while lines and (lines[0].startswith(b"#") or lines[0].lower().startswith(b"version:")):
            lines.pop(0)
        return b"".join(lines)


def _records(file: BinaryIO) -> Iterator[_Record]:
    """Records: they are parted by empty lines."""
    record: _Record | None = None
    for number, line in _unfolded(file):
        if line.strip():
            record = record or _Record(number)
            record.add(line)
        elif record is not None:
            yield record
            record = None
    if record is not None:
        yield record


def read_ldif(file: BinaryIO) -> Iterator[DirectoryRow]:
    """Rows of an LDIF file; a record that cannot be read is a wrong row, and reading goes on.

    A person's key is their uid, else their mail, else their DN; a group's is its cn. Raises
    NotReadable where no record begins with a DN.
    """
    seen = 0
    for record in _records(file):
        text = record.text()
        if not text and not record.wrong:
            continue
        if seen == 0 and not text.lower().startswith(b"dn:"):
            raise NotReadable(f"line {record.line}: an LDIF record begins with 'dn:'")
        seen += 1
        yield from _read(record, text)
        record.members.drop()
    if seen == 0:
        raise NotReadable("the file holds no record")


def _read(record: _Record, text: bytes) -> Iterator[DirectoryRow]:
    try:
        if record.wrong:
            raise ValueError(record.wrong)
        entries = list(LDIFParser(io.BytesIO(text)).parse())
    except Exception as error:
        # The parser raises plain ValueErrors and, on broken base64, binascii's own.
        yield WrongRow(
            record.line,
            f"the record cannot be read: {str(error)[:120]}",
            "mend the record; cut off ones often miss their last lines",
        )
        return
    for dn, entry in entries:
        values = {name.lower(): value for name, value in entry.items()}
        yield from _rows(record, dn or "", values)


def _one(entry: Mapping[str, list[object]], *names: str) -> str:
    for name in names:
        for value in entry.get(name, []):
            if isinstance(value, str) and value.strip():
                return value.strip()
    return ""


def _ref(dn: str) -> str:
    """A DN as a name of its record: case and spaces after commas do not matter (RFC 4514)."""
    return ",".join(part.strip() for part in dn.split(",")).lower()


def _rows(record: _Record, dn: str, entry: Mapping[str, list[object]]) -> Iterator[DirectoryRow]:
    line = record.line
    if "changetype" in entry:
        yield WrongRow(line, "this is a change record", "export the entries themselves")
        return
    raw = [name for name, values in entry.items() for v in values if isinstance(v, bytes)]
    classes = {str(value).lower() for value in entry.get("objectclass", [])}
    if not classes & (_PEOPLE | _GROUPS):
        return
    wanted = {"uid", "cn", "mail", "displayname"}
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
    wrong = wrong or text_fault(line, "name of the record", _ref(dn), MOST_REF)
    if wrong is not None:
        yield wrong
        return
    yield GroupRow(line, _ref(dn), key, _one(entry, "description") or key)
    yield from record.members.rows(line, _ref(dn))


def write_ldif(
    file: BinaryIO,
    base: str,
    people: list[PersonRow],
    groups: dict[str, list[str]],
    nested: Mapping[str, list[str]],
) -> None:
    """Write people, groups (name to keys of people) and groups in groups below a base DN."""
    writer = LDIFWriter(file)
    file.write(b"version: 1\n\n")
    for person in people:
        writer.unparse(
            f"uid={person.key},ou=people,{base}",
            {
                "objectClass": ["inetOrgPerson"],
                "uid": [person.key],
                "cn": [person.name],
                "sn": [person.name.split()[-1]],
                "mail": [person.mail],
            },
        )
    for name in dict.fromkeys([*groups, *nested]):
        members = [f"uid={key},ou=people,{base}" for key in groups.get(name, [])]
        members += [f"cn={inner},ou=groups,{base}" for inner in nested.get(name, [])]
        writer.unparse(
            f"cn={name},ou=groups,{base}",
            {"objectClass": ["groupOfNames"], "cn": [name], "member": members},
        )
