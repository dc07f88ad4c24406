"""Bands of a day: move, split, remove."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.declare import DAY, Clock, Id, clock_text
from idle_harbor.core.plan.edits.finding import place_of, with_bands, with_schedule
from idle_harbor.core.plan.schedules import (
    BAND_STEP,
    Band,
    DayType,
    Schedule,
    cut,
    in_day,
    with_times,
)


def on_grid(begins: int, clock: int) -> int:
    """Return the nearest time at which a band of a day may begin, in seconds from 00:00 of its
    date; the day begins at ``begins``."""
    latest = begins + DAY - BAND_STEP
    return min(BAND_STEP * round(in_day(begins, clock) / BAND_STEP), latest)


def reach_of(bands: tuple[Band, ...], place: int) -> tuple[int, int]:
    """Return the earliest and the latest time at which a band may begin, in seconds from 00:00 of
    its day's date.

    A band begins after the one before it and before the one after it; the first band begins with
    the day.
    """
    begins = bands[0].start
    if place == 0:
        return begins, begins
    last = bands[place + 1].start if place + 1 < len(bands) else begins + DAY
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
            start = max(low, min(on_grid(bands[0].start, self.to), high))
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

        def split(bands: tuple[Band, ...]) -> list[Band]:
            at = on_grid(bands[0].start, self.at)
            if at in (band.start for band in bands):
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
            return [replace(first, start=bands[0].start), *rest]

        return with_bands(plan, self.schedule, self.day_type, remove)


def _turned(begins: int, kind: DayType) -> DayType:
    """Return the kind of day in a day that begins at another time, with the same rules on the
    clock.

    The band at the new beginning is cut in two. Bands that the old beginning parted, but that say
    the same, are joined.
    """
    old = kind.begins
    parted = cut(kind, in_day(old, begins))
    found: list[Band] = []
    for band in sorted(parted.bands, key=lambda each: in_day(begins, each.start)):
        seam = bool(found) and in_day(begins, old) == in_day(begins, band.start)
        if not (seam and band.says_as(found[-1]) and not band.drain_steps):
            found.append(band)
    targets = sorted(kind.ready_by, key=lambda each: in_day(begins, each.at))
    turned = replace(kind, bands=tuple(found), ready_by=tuple(targets))
    return with_times(turned, lambda clock: clock % DAY)


@dataclass(frozen=True, slots=True)
class BeginDays:
    """Let the days of a schedule begin at another time; the rules stay where they are on the
    clock, and the hours before that time belong to the day before."""

    verb: Literal["begin-days"]
    schedule: Id
    at: Clock

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the bands of each day in the order of the new day."""
        begins = BAND_STEP * (self.at // BAND_STEP)

        def turn(schedule: Schedule) -> Schedule:
            kinds = tuple(_turned(begins, kind) for kind in schedule.day_types)
            return replace(schedule, day_begins=begins, day_types=kinds)

        return with_schedule(plan, self.schedule, turn)
