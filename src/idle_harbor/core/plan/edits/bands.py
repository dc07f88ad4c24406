"""Bands of a day: move, split, remove."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.declare import Clock, Id, clock_text
from idle_harbor.core.plan.edits.finding import place_of, with_bands
from idle_harbor.core.plan.schedules import BAND_STEP, Band

_DAY = 86_400


def on_grid(seconds: int) -> int:
    """Return the nearest second of the day at which a band may begin."""
    return min(BAND_STEP * round(seconds / BAND_STEP), _DAY - BAND_STEP)


def reach_of(bands: tuple[Band, ...], place: int) -> tuple[int, int]:
    """Return the earliest and the latest second of the day at which a band may begin.

    A band begins after the one before it and before the one after it; the first band begins at
    00:00.
    """
    if place == 0:
        return 0, 0
    last = bands[place + 1].start if place + 1 < len(bands) else _DAY
    return bands[place - 1].start + BAND_STEP, last - BAND_STEP


@dataclass(frozen=True, slots=True)
class MoveBand:
    """Move the start of a band, as close to the given time as its neighbours allow."""

    verb: Literal["move-band"]
    schedule: Id
    day_type: Id
    band: Clock
    to: Clock

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the band moved."""

        def move(bands: tuple[Band, ...]) -> list[Band]:
            place = place_of(bands, self.band)
            low, high = reach_of(bands, place)
            start = max(low, min(on_grid(self.to), high))
            return [replace(b, start=start) if k == place else b for k, b in enumerate(bands)]

        return with_bands(plan, self.schedule, self.day_type, move)


@dataclass(frozen=True, slots=True)
class SplitBand:
    """Split a band in two at a time; both keep its rules."""

    verb: Literal["split-band"]
    schedule: Id
    day_type: Id
    at: Clock

    def done(self, plan: Plan) -> Plan:
        """Return the plan with one more band."""
        at = on_grid(self.at)

        def split(bands: tuple[Band, ...]) -> list[Band]:
            if any(band.start == at for band in bands):
                what = f"a band begins at {clock_text(at)} already"
                remedy = "split where none begins, at a step of five minutes"
                raise PlanError([Fault("/schedules", what, remedy)])
            *before, whole = (band for band in bands if band.start < at)
            early = tuple(step for step in whole.drain_steps if step.by < at)
            late = whole.drain_steps[len(early) :]
            halves = (replace(whole, drain_steps=early), replace(whole, start=at, drain_steps=late))
            return [*before, *halves, *bands[len(before) + 1 :]]

        return with_bands(plan, self.schedule, self.day_type, split)


@dataclass(frozen=True, slots=True)
class RemoveBand:
    """Remove a band: the one before it continues, or the second one begins the day."""

    verb: Literal["remove-band"]
    schedule: Id
    day_type: Id
    band: Clock

    def done(self, plan: Plan) -> Plan:
        """Return the plan without the band."""

        def remove(bands: tuple[Band, ...]) -> list[Band]:
            place = place_of(bands, self.band)
            if len(bands) == 1:
                what = "a day has at least one band"
                remedy = "change its rules, or add another band first"
                raise PlanError([Fault("/schedules", what, remedy)])
            first, *rest = [band for k, band in enumerate(bands) if k != place]
            return [replace(first, start=0), *rest]

        return with_bands(plan, self.schedule, self.day_type, remove)
