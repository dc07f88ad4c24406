"""A schedule as a table: what its sentences say, a row for each rule and a column for each band."""

from __future__ import annotations

from dataclasses import dataclass

from idle_harbor.core.plan import Pool
from idle_harbor.core.plan.declare import clock_text
from idle_harbor.core.plan.schedules import Schedule, as_in_pool
from idle_harbor.core.sentences.schedule import Token, band_said, token_said

#: What a band does not say.
NOTHING = ""


@dataclass(frozen=True, slots=True)
class Column:
    """A band by the places of its kind of day and of itself."""

    day_type: int
    band: int
    name: str
    begins: str


@dataclass(frozen=True, slots=True)
class TableRow:
    """A rule, and what each band says of it."""

    label: str
    cells: tuple[str, ...]


def schedule_table(schedule: Schedule, pool: Pool) -> tuple[list[Column], list[TableRow]]:
    """Every band of every kind of day side by side; rules that no band has are in no row."""
    columns: list[Column] = []
    told: list[dict[str, str]] = []
    labels: dict[str, str] = {}
    for d, kind in enumerate(schedule.day_types):
        for b, band in enumerate(kind.bands):
            columns.append(Column(d, b, kind.called, clock_text(band.start)))
            parts = band_said(band, pool, schedule.load_rules).parts
            tokens = [part for part in parts if isinstance(part, Token)]
            here = as_in_pool(band, pool.id)
            told.append({token.field: token_said(token, here) for token in tokens})
            for token in tokens:
                labels.setdefault(token.field, token.label)
    return columns, [
        TableRow(label, tuple(column.get(field, NOTHING) for column in told))
        for field, label in labels.items()
    ]
