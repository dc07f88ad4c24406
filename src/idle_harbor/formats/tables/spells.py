"""Given spells from CSV: columns person, start, end, leaving; for drop-ins seconds for the end."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, date, datetime

import numpy as np

from idle_harbor.core.calendar.clock import HOUR, Horizon, local_to_instant
from idle_harbor.core.demand.spells import FURTHEST, Spells, sorted_spells
from idle_harbor.core.engine.kernel.codes import DISCONNECT, SIGN_OFF, WALK_AWAY
from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan.declare import EARLIEST, LATEST
from idle_harbor.formats.tables.rows import read_table

COLUMNS = ("person", "start", "end", "leaving")
_WAYS = {
    "sign off": SIGN_OFF,
    "sign_off": SIGN_OFF,
    "": SIGN_OFF,
    "disconnect": DISCONNECT,
    "walk away": WALK_AWAY,
    "walk_away": WALK_AWAY,
}
_MOST_FAULTS = 20
#: Away for as long as this, a person has gone home.
_REST = 6 * HOUR


@dataclass(frozen=True, slots=True)
class _SpellRow:
    person: str
    start: int
    end: int
    from_connection: bool
    leaving: int


def _instant(text: str, zone: str) -> int:
    """ISO 8601 with an offset or Z is taken as it is, without one as the pool's local time."""
    moment = datetime.fromisoformat(text)
    if not EARLIEST.year <= moment.year <= LATEST.year:
        raise ValueError(f"the year {moment.year} is beyond what is planned here")
    if moment.tzinfo is not None:
        return round(moment.astimezone(UTC).timestamp())
    day = date(moment.year, moment.month, moment.day)
    return local_to_instant(zone, day, moment.hour * 3600 + moment.minute * 60 + moment.second)


def _row(cells: dict[str, str], zone: str) -> _SpellRow:
    person = cells["person"]
    start = _instant(cells["start"], zone)
    end_text = cells["end"]
    way = cells["leaving"].lower()
    if way not in _WAYS:
        raise ValueError(f"leaving is '{way}'; use sign off, disconnect or walk away")
    try:
        length = float(end_text)
    except ValueError:
        end = _instant(end_text, zone)
        if end <= start:
            raise ValueError(f"the end {end_text} is not after the start") from None
        if not person:
            raise ValueError("person is empty: nobody knows whose spell it is") from None
        return _SpellRow(person, start, end, False, _WAYS[way])
    if not 0 < length < FURTHEST:
        raise ValueError(f"a length of {end_text} seconds cannot be")
    return _SpellRow(person, start, max(round(length), 1), True, SIGN_OFF)


def read_spells(data: bytes, horizon: Horizon) -> Spells:
    """Spells over a horizon, for one group with the plan's first profile.

    Rows outside the horizon are left out, rows across its start begin at its first second, and
    overlapping rows of one person are joined. A person with a length in place of an end is a
    drop-in: each such row is a person of its own. Raises PlanError with a fault per bad row.
    """
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise PlanError(
            [Fault("", f"byte {error.start} is not UTF-8", "save the file as UTF-8")]
        ) from error
    rows: list[_SpellRow] = []
    faults: list[Fault] = []
    for line, cells in read_table(text, COLUMNS):
        try:
            rows.append(_row(cells, horizon.time_zone))
        except (ValueError, OverflowError) as error:
            faults.append(Fault(f"line {line}", str(error), "mend or remove the row"))
            if len(faults) == _MOST_FAULTS:
                break
    if faults:
        raise PlanError(faults)
    return _spells(_joined(rows), horizon)


def _joined(rows: list[_SpellRow]) -> list[_SpellRow]:
    """Overlapping clock-ended rows of one person as one, leaving as the last of them does."""
    result: list[_SpellRow] = [row for row in rows if row.from_connection]
    open_rows: dict[str, _SpellRow] = {}
    for row in sorted((r for r in rows if not r.from_connection), key=lambda r: (r.start, r.end)):
        before = open_rows.get(row.person)
        if before is not None and row.start < before.end:
            last = row if row.end >= before.end else before
            open_rows[row.person] = _SpellRow(
                row.person, before.start, last.end, False, last.leaving
            )
            continue
        if before is not None:
            result.append(before)
        open_rows[row.person] = row
    return result + list(open_rows.values())


def _working_days(rows: list[_SpellRow]) -> Iterator[int]:
    """The working day of each row, counted for each person, rows being sorted by person and start.

    A person who comes again within the rest that lies between two working days is still at the
    same one, also past midnight: so a night shift is one day. Who comes again after it is at the
    next one, also on the same date.
    """
    before: _SpellRow | None = None
    day = 0
    for row in rows:
        rested = before is None or row.start - before.end >= _REST
        if before is None or before.person != row.person:
            day = 0
        elif rested:
            day += 1
        yield day
        before = row


def _spells(rows: list[_SpellRow], horizon: Horizon) -> Spells:
    names: dict[object, int] = {}
    person, start, end, fixed, leaving, days = [], [], [], [], [], []
    rows = sorted(rows, key=lambda r: (r.person, r.start))
    for index, (row, day) in enumerate(zip(rows, _working_days(rows), strict=True)):
        if row.start >= horizon.end or (not row.from_connection and row.end <= horizon.start):
            continue
        if row.from_connection and row.start < horizon.start:
            continue
        key: object = index if row.from_connection else row.person
        person.append(names.setdefault(key, len(names)))
        start.append(max(row.start - horizon.start, 0))
        end.append(row.end if row.from_connection else row.end - horizon.start)
        fixed.append(row.from_connection)
        leaving.append(row.leaving)
        days.append(day)
    nothing = np.zeros(len(person), dtype=np.int64)
    return sorted_spells(
        np.array(person, dtype=np.int64),
        np.array(start, dtype=np.int64),
        np.array(end, dtype=np.int64),
        np.array(fixed, dtype=np.int8),
        np.array(leaving, dtype=np.int64),
        nothing,
        nothing,
        people=len(names),
        day=np.array(days, dtype=np.int64),
    )
