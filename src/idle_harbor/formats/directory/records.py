"""What every directory file is read into, row by row, wrong rows among them."""

from __future__ import annotations

import codecs
from collections.abc import Iterator
from dataclasses import dataclass
from typing import BinaryIO

#: Keys and names longer than this are no keys and names.
MOST_TEXT = 400


@dataclass(frozen=True, slots=True)
class PersonRow:
    """A person: ``ref`` is what memberships call them in this file."""

    line: int
    ref: str
    key: str
    name: str
    mail: str


@dataclass(frozen=True, slots=True)
class GroupRow:
    """A group: ``ref`` is what memberships call it in this file."""

    line: int
    ref: str
    key: str
    name: str


@dataclass(frozen=True, slots=True)
class MemberRow:
    """A person or group, by ref, that is in a group."""

    line: int
    group: str
    member: str


@dataclass(frozen=True, slots=True)
class WrongRow:
    """A row that cannot be taken, why, and what to do about it."""

    line: int
    what: str
    mend: str


Row = PersonRow | GroupRow | MemberRow | WrongRow


class NotReadable(Exception):
    """The file as a whole cannot be read; the message says where and what to do."""


def lines_of(file: BinaryIO) -> Iterator[str]:
    """Lines of UTF-8 text, ends kept; raises NotReadable naming the line that is not."""
    for number, raw in enumerate(file, start=1):
        if number == 1:
            if raw.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
                raise NotReadable("the file is UTF-16; save it as UTF-8")
            raw = raw.removeprefix(codecs.BOM_UTF8)
        try:
            yield raw.decode("utf-8")
        except UnicodeDecodeError as error:
            raise NotReadable(
                f"line {number:,} is not UTF-8 (byte {error.start + 1} of it); "
                "save the file as UTF-8"
            ) from error


def person_row(line: int, ref: str, key: str, name: str, mail: str) -> PersonRow | WrongRow:
    """A person, or the first thing that is wrong with them; a mail address may be empty."""
    wrong = text_fault(line, "key", key) or text_fault(line, "name", name)
    if wrong is None and mail:
        wrong = text_fault(line, "mail address", mail)
    return wrong or PersonRow(line, ref, key, name, mail)


def text_fault(line: int, what: str, value: str) -> WrongRow | None:
    """A wrong row where a text is empty, too long, or holds what no name holds."""
    if not value:
        return WrongRow(line, f"the {what} is empty", f"give the {what}, or remove the row")
    if len(value) > MOST_TEXT:
        return WrongRow(
            line, f"the {what} has {len(value):,} characters", f"keep it below {MOST_TEXT}"
        )
    if "\x00" in value:
        return WrongRow(line, f"the {what} holds a zero byte", "mend the row")
    return None
