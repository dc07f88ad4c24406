"""CSV tables in and out: records with their lines, whole numbers, cells that are no formulas."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import TextIO

from idle_harbor.core.errors import Fault, PlanError

#: What a spreadsheet takes for the beginning of a formula, and a plain number, which is none.
_FORMULA = ("=", "+", "-", "@", "\t", "\r")
_NUMBER = re.compile(r"[+-]?\d+(\.\d+)?([eE][+-]?\d+)?")
_GUARD = "'"


def guarded(cell: str) -> str:
    """A cell as it is written: a text that a spreadsheet would take for a formula is quoted."""
    text = cell.removeprefix(_GUARD) if cell.startswith(_GUARD) else cell
    if text.startswith(_FORMULA) and not _NUMBER.fullmatch(text):
        return _GUARD + cell
    return cell


def unguarded(cell: str) -> str:
    """A cell as it was before :func:`guarded`."""
    return cell[1:] if cell.startswith(_GUARD) and guarded(cell[1:]) == cell else cell


def write_rows(out: TextIO, rows: Iterable[Iterable[str]], line_end: str = "\n") -> None:
    """Rows as CSV (RFC 4180), no cell of which a spreadsheet takes for a formula: whatever is
    written as CSV goes through here."""
    writer = csv.writer(out, lineterminator=line_end)
    writer.writerows([guarded(cell) for cell in row] for row in rows)


def write_table(columns: Sequence[str], rows: Iterable[Mapping[str, str]]) -> str:
    """A table as CSV text (RFC 4180)."""
    out = io.StringIO(newline="")
    table = [columns, *([row.get(column, "") for column in columns] for row in rows)]
    write_rows(out, table, "\r\n")
    return out.getvalue()


def whole_number(text: str, most: int = 10**9) -> int | None:
    """A whole number from 0 to ``most`` in plain digits, or None."""
    if not (text.isascii() and text.isdecimal() and len(text) <= len(str(most))):
        return None
    number = int(text)
    return number if number <= most else None


def read_table(text: str, needed: Sequence[str]) -> Iterator[tuple[int, dict[str, str]]]:
    """Records of a CSV text with their lines, cells stripped; what a row lacks is "".

    Raises PlanError where a column is missing, or where the text is no CSV from some line on.
    """
    reader = csv.reader(io.StringIO(text.removeprefix("\ufeff"), newline=""), strict=True)
    try:
        header = [unguarded(cell.strip()) for cell in next(reader, [])]
        missing = [name for name in needed if name not in header]
        if missing:
            raise PlanError(
                [
                    Fault(
                        "line 1",
                        f"the column {missing[0]} is missing",
                        f"begin with the line {','.join(needed)}",
                    )
                ]
            )
        for cells in reader:
            if cells:
                padded = [*cells, *[""] * (len(header) - len(cells))]
                found = {
                    name: unguarded(cell.strip())
                    for name, cell in zip(header, padded, strict=False)
                }
                yield reader.line_num, found
    except csv.Error as error:
        raise PlanError(
            [
                Fault(
                    f"line {reader.line_num}",
                    f"this is no CSV: {error}",
                    "mend the quotes, and keep cells below 131,072 characters",
                )
            ]
        ) from error
