"""Lists of people and their hosts in a dedicated pool, as CSV: group, person, host."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan import Assigned
from idle_harbor.formats.tables.rows import read_table, whole_number

COLUMNS = ("group", "person", "host")
MOST_ROWS = 10_000
_MOST_FAULTS = 50


@dataclass(frozen=True, slots=True)
class ListedPerson:
    """A row: the person as a number of their group, or as a key of the directory."""

    line: int
    group: str
    person: str
    host: int


def read_list(text: str) -> list[ListedPerson]:
    """Rows of a list; raises PlanError with a fault per row that cannot be."""
    rows: list[ListedPerson] = []
    faults: list[Fault] = []
    for line, cells in read_table(text, COLUMNS):
        group, person, host = (cells[name] for name in COLUMNS)
        number = whole_number(host)
        if not group or not person or not number:
            faults.append(
                Fault(
                    f"line {line}",
                    "the row lacks a group, a person or a host number from 1",
                    "mend or remove the row",
                )
            )
            if len(faults) == _MOST_FAULTS:
                break
            continue
        rows.append(ListedPerson(line, group, person, number))
        if len(rows) > MOST_ROWS:
            raise PlanError(
                [
                    Fault(
                        f"line {line}",
                        f"a list has at most {MOST_ROWS:,} rows",
                        "a pool has no more hosts than that",
                    )
                ]
            )
    if faults:
        raise PlanError(faults)
    return rows


def assigned_from(
    rows: list[ListedPerson], places: Mapping[str, Mapping[str, int]]
) -> list[Assigned]:
    """Rows as a pool's list; ``places`` gives, by group, each directory key's number from 1.

    Raises PlanError for keys that the group's directory group does not have.
    """
    found: list[Assigned] = []
    faults: list[Fault] = []
    for row in rows:
        place = places.get(row.group, {}).get(row.person)
        if place is None:
            place = whole_number(row.person)
        if place is None or place < 1:
            faults.append(
                Fault(
                    f"line {row.line}",
                    f"'{row.person}' is nobody in '{row.group}'",
                    "give a number from 1, or a key of the directory group that the group follows",
                )
            )
            continue
        found.append(Assigned(row.group, place, row.host))
    if faults:
        raise PlanError(faults[:_MOST_FAULTS])
    return found
