"""Samples of sessions from CSV: session, time, cpu_vcpu, memory_gib and, if known, state and
network_mbit."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from math import isfinite

import numpy as np

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.sizing.samples import STATES, Samples
from idle_harbor.formats.tables.rows import read_table

COLUMNS = ("session", "time", "cpu_vcpu", "memory_gib")
MOST_SAMPLES = 500_000
_MOST_FAULTS = 20
_MOST_VCPU, _MOST_GIB, _MOST_MBIT = 1_024.0, 24_576.0, 100_000.0


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
    session and time the second is a fault, since it would count twice. Where network was measured
    every row says it, and times are ISO 8601 or seconds: its busiest minute is looked for.
    """
    numbers: dict[str, int] = {}
    seen: set[tuple[str, str]] = set()
    rows: list[_SampleRow] = []
    faults: list[Fault] = []
    for line, cells in read_table(text, COLUMNS):
        try:
            rows.append(_row(cells, numbers, seen))
        except ValueError as error:
            faults.append(Fault(f"line {line}", str(error), "mend or remove the row"))
            if len(faults) == _MOST_FAULTS:
                break
        if len(rows) > MOST_SAMPLES:
            raise PlanError(
                [
                    Fault(
                        f"line {line}",
                        f"more than {MOST_SAMPLES:,} samples",
                        "bring fewer sessions, or every other sample",
                    )
                ]
            )
    if faults:
        raise PlanError(faults)
    if not rows:
        raise PlanError([Fault("", "there is no sample", "bring at least one row")])
    measured = [row.network for row in rows if row.network is not None]
    if measured and len(measured) < len(rows):
        raise PlanError(
            [
                Fault(
                    "",
                    f"{len(measured)} of {len(rows)} rows have a network_mbit",
                    "give it in every row, or in none",
                )
            ]
        )
    return Samples(
        np.array([row.session for row in rows], dtype=np.int64),
        np.array([row.state for row in rows], dtype=np.int64),
        np.array([row.cpu for row in rows]),
        np.array([row.memory for row in rows]),
        np.array(measured) if measured else None,
        np.array([row.minute for row in rows], dtype=np.int64) if measured else None,
    )


@dataclass(frozen=True, slots=True)
class _SampleRow:
    session: int
    state: int
    cpu: float
    memory: float
    network: float | None
    minute: int


def _minute(time: str) -> int:
    """The minute of a time, counted from anywhere."""
    try:
        if time.replace(".", "", 1).isdigit():
            return int(float(time)) // 60
        moment = datetime.fromisoformat(time)
    except (ValueError, OverflowError):
        raise ValueError(f"time is '{time}'; use 2026-03-02T09:15:00, or seconds") from None
    return int((moment.replace(tzinfo=None) - datetime.min).total_seconds()) // 60


def _row(cells: dict[str, str], numbers: dict[str, int], seen: set[tuple[str, str]]) -> _SampleRow:
    session, time, cpu, memory = (cells[name] for name in COLUMNS)
    if not session or not time:
        raise ValueError("the row lacks a session or a time")
    if (session, time) in seen:
        raise ValueError(f"session '{session}' has two samples at {time}")
    state = (cells.get("state") or "active").lower()
    if state not in STATES:
        raise ValueError(f"state is '{state}'; use {', '.join(STATES)}")
    network = cells.get("network_mbit") or None
    row = _SampleRow(
        numbers.setdefault(session, len(numbers)),
        STATES.index(state),
        _number(cpu, _MOST_VCPU, "cpu_vcpu"),
        _number(memory, _MOST_GIB, "memory_gib"),
        None if network is None else _number(network, _MOST_MBIT, "network_mbit"),
        0 if network is None else _minute(time),
    )
    seen.add((session, time))
    return row
