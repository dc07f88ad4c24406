"""What every directory file is read into, row by row, wrong rows among them."""

from __future__ import annotations

import codecs
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from typing import BinaryIO

#: Keys and names longer than this are no keys and names.
MOST_TEXT = 400
#: What a record is called in its file may be a path.
MOST_REF = 2_000


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


DirectoryRow = PersonRow | GroupRow | MemberRow | WrongRow


class NotReadable(Exception):
    """The file as a whole cannot be read; the message says where and what to do."""


#: Bytes of a line, and groups in a file, at most: what reads a file holds no more of it than that.
MOST_LINE = 1_000_000
MOST_GROUPS = 200_000


def raw_lines(file: BinaryIO, most: int = MOST_LINE) -> Iterator[bytes]:
    """Lines of bytes, ends kept; raises NotReadable where one has more than ``most`` bytes."""
    number = 0
    while line := file.readline(most + 1):
        number += 1
        if len(line) > most:
            raise NotReadable(f"line {number:,} has more than {most:,} bytes; break it up")
        yield line


class Members:
    """Members of one group as they are read, on disk where there are many of them.

    What a group is called may stand behind its members, and there may be millions.
    """

    _IN_MEMORY = 1_000_000

    def __init__(self) -> None:
        self._file = tempfile.SpooledTemporaryFile(max_size=self._IN_MEMORY)  # noqa: SIM115

    def add(self, ref: str) -> None:
        """One more; references hold no line ends."""
        self._file.write(ref.encode() + b"\n")

    def rows(self, line: int, group: str) -> Iterator[MemberRow | WrongRow]:
        """All of them as rows of their group; they are gone then."""
        self._file.seek(0)
        with self._file as file:
            for raw in file:
                ref = raw[:-1].decode()
                wrong = text_fault(line, "name of a member", ref, MOST_REF)
                yield wrong or MemberRow(line, group, ref)

    def drop(self) -> None:
        """Let them go."""
        self._file.close()


def lines_of(file: BinaryIO, most: int = MOST_LINE) -> Iterator[str]:
    """Lines of UTF-8 text, ends kept; raises NotReadable naming the line that is not."""
    for number, raw in enumerate(raw_lines(file, most), start=1):
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
    wrong = wrong or text_fault(line, "name of the record", ref, MOST_REF)
    if wrong is None and mail:
        wrong = text_fault(line, "mail address", mail)
    return wrong or PersonRow(line, ref, key, name, mail)


def text_fault(line: int, what: str, value: str, most: int = MOST_TEXT) -> WrongRow | None:
    """A wrong row where a text is empty, too long, or holds what no name holds."""
    if not value:
        return WrongRow(line, f"the {what} is empty", f"give the {what}, or remove the row")
    if len(value) > most:
        return WrongRow(line, f"the {what} has {len(value):,} characters", f"keep it below {most}")
    if "\x00" in value:
        return WrongRow(line, f"the {what} holds a zero byte", "mend the row")
    return None
