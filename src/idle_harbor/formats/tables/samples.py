"""Samples of sessions from CSV: session, time, cpu_vcpu, memory_gib and, if known, state."""

from __future__ import annotations

from math import isfinite

import numpy as np

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.sizing.samples import STATES, Samples
from idle_harbor.formats.tables.rows import read_table

COLUMNS = ("session", "time", "cpu_vcpu", "memory_gib")
MOST_SAMPLES = 500_000
_MOST_FAULTS = 20
_MOST_VCPU, _MOST_GIB = 1_024.0, 24_576.0


def _number(text: str, most: float, what: str) -> float:
    try:
        value = float(text)
    except ValueError:
        raise ValueError(f"{what} is '{text}'; give a number") from None
    if not isfinite(value) or not 0.0 <= value <= most:
        raise ValueError(f"{what} is {text}; give a number from 0 to {most:,.0f}")
    return value


def read_samples(text: str) -> Samples:
    """Samples, one a row; raises PlanError with a fault per row that cannot be.

    A row without a state is of an active session. Rows may come in any order; of two rows of one
    session and time the second is a fault, since it would count twice.
    """
    numbers: dict[str, int] = {}
    seen: set[tuple[str, str]] = set()
    rows: list[tuple[int, int, float, float]] = []
    faults: list[Fault] = []
    for line, cells in read_table(text, COLUMNS):
        try:
            rows.append(_row(cells, numbers, seen))
        except ValueError as error:
            faults.append(Fault(f"line {line}", str(error), "mend or remove the row"))
            if len(faults) == _MOST_FAULTS:
                break
        if len(rows) > MOST_SAMPLES:
            raise PlanError([Fault(f"line {line}", f"more than {MOST_SAMPLES:,} samples",
                                   "bring fewer sessions, or every other sample")])  # fmt: skip
    if faults:
        raise PlanError(faults)
    if not rows:
        raise PlanError([Fault("", "there is no sample", "bring at least one row")])
    return Samples(
        np.array([row[0] for row in rows], dtype=np.int64),
        np.array([row[1] for row in rows], dtype=np.int64),
        np.array([row[2] for row in rows]),
        np.array([row[3] for row in rows]),
    )


def _row(
    cells: dict[str, str], numbers: dict[str, int], seen: set[tuple[str, str]]
) -> tuple[int, int, float, float]:
    session, time, cpu, memory = (cells[name] for name in COLUMNS)
    if not session or not time:
        raise ValueError("the row lacks a session or a time")
    if (session, time) in seen:
        raise ValueError(f"session '{session}' has two samples at {time}")
    state = (cells.get("state") or "active").lower()
    if state not in STATES:
        raise ValueError(f"state is '{state}'; use {', '.join(STATES)}")
    row = (
        numbers.setdefault(session, len(numbers)),
        STATES.index(state),
        _number(cpu, _MOST_VCPU, "cpu_vcpu"),
        _number(memory, _MOST_GIB, "memory_gib"),
    )
    seen.add((session, time))
    return row
