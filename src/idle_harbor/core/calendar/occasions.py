"""Which dates differ from their weekday: holidays of a site, and events.

Public holidays come from the ``holidays`` package, which computes them without any network.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from functools import lru_cache
from typing import TYPE_CHECKING, Literal

from idle_harbor.core.calendar.clock import clock_change
from idle_harbor.core.plan import Dates, Event, Group, Holidays, MonthWorkdays, Plan, Site

if TYPE_CHECKING:
    from holidays import HolidayBase

_SATURDAY = 5


@lru_cache(maxsize=1)
def countries() -> dict[str, tuple[str, ...]]:
    """Countries (ISO 3166-1 alpha-2) whose public holidays are known, with their regions."""
    from holidays import list_supported_countries

    return {code: tuple(regions) for code, regions in list_supported_countries().items()}


@lru_cache(maxsize=1024)
def regions_of(country: str) -> tuple[str, ...] | None:
    """The regions of a country, None where its holidays are not known: reads that country alone."""
    import holidays
    from holidays.registry import EntityLoader

    if country not in EntityLoader.get_country_codes():
        return None
    return tuple(getattr(holidays, country).subdivisions)


@lru_cache(maxsize=4096)
def holiday_calendar(country: str, region: str | None) -> HolidayBase:
    """A country's (and region's) rules with the names of their days, without any year yet."""
    from holidays import country_holidays

    return country_holidays(country, subdiv=region, language="en_US")


@lru_cache(maxsize=512)
def public_holidays(country: str, region: str | None, year: int) -> dict[date, str]:
    """Public holidays of a country (and region) in a year, with their English or local names."""
    known = holiday_calendar(country, region)
    # One of its own for each year, since observed days reach into the years beside; made by hand,
    # since its usual ways look for the files of its names again, and they may be out of reach.
    found = type(known).__new__(type(known))
    vars(found).update(vars(known), years=set())
    found.get(date(year, 1, 1))  # a look at any day of a year fills in that year
    return dict(sorted(found.items()))


def holiday_name(resting: Holidays, day: date) -> str | None:
    """What a site's holiday on a date is called, or None on any other date."""
    for own in resting.own:
        if own.day == day:
            return own.name
    if resting.country is None:
        return None
    return public_holidays(resting.country, resting.region, day.year).get(day)


def is_workday(resting: Holidays, day: date) -> bool:
    """Monday to Friday and no holiday."""
    return day.weekday() < _SATURDAY and holiday_name(resting, day) is None


@lru_cache(maxsize=8192)
def workday_of_month(resting: Holidays, day: date) -> int:
    """How many workdays a month has had up to and with this date; 0 where it is none itself."""
    if not is_workday(resting, day):
        return 0
    days = (day.replace(day=1) + timedelta(days=k) for k in range(day.day))
    return sum(is_workday(resting, each) for each in days)


def falls_on(when: Dates | MonthWorkdays, resting: Holidays, day: date) -> bool:
    """Whether an event is on a date, for a site that rests on those holidays."""
    if isinstance(when, Dates):
        return when.first <= day <= when.last
    return when.first <= workday_of_month(resting, day) <= when.last


@dataclass(frozen=True, slots=True)
class Effect:
    """What a date does to a group: a factor on its demand, a shift in seconds, another pattern."""

    factor: float
    shift: int
    pattern: str | None


def effect_on(group: Group, site: Site, events: Sequence[Event], day: date) -> Effect:
    """Holidays and events of a date: factors multiply, shifts add, the last pattern wins.

    A holiday's factor is 0 unless the group works holidays.
    """
    if not group.works_holidays and holiday_name(site.holidays, day) is not None:
        return Effect(0.0, 0, None)
    factor, shift, pattern = 1.0, 0, None
    for event in events:
        if falls_on(event.when, site.holidays, day):
            factor *= event.factor
            shift += 60 * event.shift_minutes
            pattern = event.pattern or pattern
    return Effect(factor, shift, pattern)


def concerns(event: Event, group: Group) -> bool:
    """Whether an event is for a group: one that names no group is for all."""
    return not event.groups or group.id in event.groups


def events_of(plan: Plan, group: Group) -> tuple[Event, ...]:
    """The plan's events that concern a group."""
    return tuple(event for event in plan.events if concerns(event, group))


@dataclass(frozen=True, slots=True)
class Occasion:
    """What a date is marked with: a holiday at sites, an event for groups, clocks of zones."""

    kind: Literal["holiday", "event", "clock"]
    name: str
    where: tuple[str, ...]


def occasions_on(plan: Plan, day: date) -> list[Occasion]:
    """Everything that makes a date differ from its weekday, anywhere in a plan."""
    found: dict[tuple[Literal["holiday", "event", "clock"], str], list[str]] = {}
    for site in plan.sites:
        name = holiday_name(site.holidays, day)
        if name is not None:
            found.setdefault(("holiday", name), []).append(site.id)
    sites = {site.id: site for site in plan.sites}
    for event in plan.events:
        for group in plan.groups:
            resting = sites[group.site].holidays
            if concerns(event, group) and falls_on(event.when, resting, day):
                found.setdefault(("event", event.id), []).append(group.id)
    for zone in dict.fromkeys(site.time_zone for site in plan.sites):
        minutes = clock_change(zone, day) // 60
        if minutes:
            name = f"clocks {'back' if minutes > 0 else 'forward'} {abs(minutes)} min"
            found.setdefault(("clock", name), []).append(zone)
    return [Occasion(kind, name, tuple(where)) for (kind, name), where in found.items()]
