"""People as CSV (RFC 4180): one row per person, with the groups they are in."""

from __future__ import annotations

import csv
from collections.abc import Iterator
from typing import BinaryIO, TextIO

from idle_harbor.formats.directory.records import (
    MOST_GROUPS,
    DirectoryRow,
    GroupRow,
    MemberRow,
    NotReadable,
    PersonRow,
    WrongRow,
    lines_of,
    person_row,
    text_fault,
)
from idle_harbor.formats.tables.rows import unguarded, write_rows

COLUMNS = ("key", "name", "mail", "groups")
_BETWEEN_GROUPS = ";"


def read_csv(file: BinaryIO) -> Iterator[DirectoryRow]:
    """Rows of a CSV file with the columns key, name, mail and groups (separated by ``;``).

    A group exists once somebody is in it. Raises NotReadable where the text is not UTF-8, the
    columns are missing, or a quoted cell never ends.
    """
    reader = csv.reader(lines_of(file), strict=True)
    try:
        header = next(reader)
    except StopIteration:
        raise NotReadable("the file is empty") from None
    except csv.Error as error:
        raise NotReadable(f"line 1: {error}") from error
    missing = [name for name in COLUMNS if name not in header]
    if missing:
        raise NotReadable(
            f"the column {missing[0]} is missing; begin with the line {','.join(COLUMNS)}"
        )
    places = [header.index(name) for name in COLUMNS]
    width = len(header)
    known: set[str] = set()
    try:
        for cells in reader:
            line = reader.line_num
            if not cells:
                continue
            if len(cells) != width:
                yield WrongRow(
                    line,
                    f"the row has {len(cells)} cells, the first line has {width}",
                    "mend the row; a last row that is short may mean a file that was cut off",
                )
                continue
            key, name, mail, groups = (unguarded(cells[place].strip()) for place in places)
            row = person_row(line, key, key, name, mail)
            yield row
            if isinstance(row, WrongRow):
                continue
            for group in groups.split(_BETWEEN_GROUPS) if groups else ():
                group = group.strip()
                if not group:
                    continue
                wrong = text_fault(line, "name of the group", group)
                if wrong is not None:
                    yield wrong
                    continue
                if group not in known:
                    known.add(group)
                    if len(known) > MOST_GROUPS:
                        raise NotReadable(f"the file has more than {MOST_GROUPS:,} groups")
                    yield GroupRow(line, f"group {group}", group, group)
                yield MemberRow(line, f"group {group}", key)
    except csv.Error as error:
        raise NotReadable(
            f"line {reader.line_num:,}: {error}; a quoted cell that never ends may mean a file "
            "that was cut off"
        ) from error


def write_csv(file: TextIO, people: list[PersonRow], groups: dict[str, list[str]]) -> None:
    """Write people with the names of the groups that each key is in."""
    rows = ((p.key, p.name, p.mail, _BETWEEN_GROUPS.join(groups.get(p.key, []))) for p in people)
    write_rows(file, [COLUMNS, *rows])
