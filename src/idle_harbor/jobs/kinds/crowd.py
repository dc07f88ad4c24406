"""Who is at work over many days, by the hour."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from typing import Any

from idle_harbor.core.demand.crowd import (
    DayHours,
    check_crowd,
    crowd_horizon,
    crowd_of,
    hours_of,
    stretches_of,
)
from idle_harbor.core.demand.draws import SHOWN_SEED
from idle_harbor.core.plan import Plan
from idle_harbor.formats.plan.codec import plan_of, to_values
from idle_harbor.jobs.asking import LongQuestion
from idle_harbor.jobs.kind import Input

#: Spells of all days beyond which they take longer than a second.
MOST_AT_ONCE = 1_000_000


@dataclass(frozen=True, slots=True)
class ManyDays:
    """Who is at work over ``days`` days from ``first`` on, by the clock of a zone."""

    plan: Plan
    time_zone: str
    first: date
    days: int

    @property
    def stretches(self) -> list[tuple[date, int]]:
        """The days in pieces: the first of each, and how many it has."""
        return stretches_of(self.first, self.days)


def _write(asked: ManyDays) -> dict[str, Any]:
    return {
        "plan": to_values(asked.plan),
        "zone": asked.time_zone,
        "first": asked.first.isoformat(),
        "days": asked.days,
    }


def _read(given: Input) -> ManyDays:
    first = date.fromisoformat(given["first"])
    return ManyDays(plan_of(given["plan"]), given["zone"], first, given["days"])


def _open(asked: ManyDays) -> Callable[[int], list[DayHours]]:
    stretches = asked.stretches

    def part(number: int) -> list[DayHours]:
        horizon = crowd_horizon(asked.time_zone, *stretches[number])
        check_crowd(asked.plan, horizon)
        return hours_of(crowd_of(asked.plan, horizon, SHOWN_SEED))

    return part


def _short(asked: ManyDays) -> bool:
    spells = (
        check_crowd(asked.plan, crowd_horizon(asked.time_zone, first, many))
        for first, many in asked.stretches
    )
    return sum(spells) <= MOST_AT_ONCE


def _title(asked: ManyDays) -> str:
    return f"{asked.plan.name}: people over {asked.days:,} days from {asked.first.isoformat()}"


CROWD: LongQuestion[ManyDays, list[DayHours]] = LongQuestion(
    name="crowd",
    title=_title,
    write=_write,
    read=_read,
    parts=lambda asked: len(asked.stretches),
    open=_open,
    value=list[DayHours],
    short=_short,
)
