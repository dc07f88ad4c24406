"""Find parts of a plan, and return the plan with a part changed."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable, Collection, Iterable
from dataclasses import replace

from idle_harbor.core.errors import Fault, PlanError, UnknownNameError
from idle_harbor.core.plan import Group, Plan, Pool
from idle_harbor.core.plan.declare import Named, clock_text
from idle_harbor.core.plan.lookup import find_pool
from idle_harbor.core.plan.schedules import Band, DayType, Schedule


def with_schedule(plan: Plan, name: str, change: Callable[[Schedule], Schedule]) -> Plan:
    """Return the plan with one schedule changed."""
    if name not in (names := [schedule.id for schedule in plan.schedules]):
        raise UnknownNameError("schedule", name, names)
    schedules = tuple(change(s) if s.id == name else s for s in plan.schedules)
    return replace(plan, schedules=schedules)


def day_type_named(schedule: Schedule, name: str) -> DayType:
    """Return the day type of that name."""
    for each in schedule.day_types:
        if each.id == name:
            return each
    raise UnknownNameError("day type", name, [each.id for each in schedule.day_types])


def with_group(plan: Plan, name: str, change: Callable[[Group], Group]) -> Plan:
    """Return the plan with one group changed."""
    if name not in (names := [group.id for group in plan.groups]):
        raise UnknownNameError("group", name, names)
    return replace(plan, groups=tuple(change(g) if g.id == name else g for g in plan.groups))


def with_pool(plan: Plan, name: str, change: Callable[[Pool], Pool]) -> Plan:
    """Return the plan with one pool changed."""
    pool = find_pool(plan, name)
    now = change(pool)
    return replace(plan, pools=tuple(now if each is pool else each for each in plan.pools))


def with_day_type(
    plan: Plan, schedule: str, day_type: str, change: Callable[[DayType], DayType]
) -> Plan:
    """Return the plan with one day type changed."""

    def on_schedule(found: Schedule) -> Schedule:
        kind = day_type_named(found, day_type)
        types = tuple(change(t) if t is kind else t for t in found.day_types)
        return replace(found, day_types=types)

    return with_schedule(plan, schedule, on_schedule)


def with_bands(
    plan: Plan, schedule: str, day_type: str, change: Callable[[tuple[Band, ...]], list[Band]]
) -> Plan:
    """Return the plan with the bands of one day type changed."""
    return with_day_type(
        plan, schedule, day_type, lambda found: replace(found, bands=tuple(change(found.bands)))
    )


def must_be_free(name: str, taken: Collection[str], where: str, what: str) -> None:
    """Raise PlanError if a name is taken; ``where`` is the pointer of the list, ``what`` a word for
    its items."""
    if name in taken:
        raise PlanError([Fault(where, f"{what} is called '{name}' already", "choose another name")])


def must_be_unique(name: str, others: Iterable[Named], where: str, what: str) -> None:
    """Raise PlanError if one of the others is called by a name, in whatever case."""
    if name.casefold() in {each.called.casefold() for each in others}:
        raise PlanError([Fault(where, f"{what} is called '{name}' already", "choose another name")])


def free_name(name: str, taken: Collection[str]) -> str:
    """Return the name, or with the first number behind it that makes it free."""
    names = (name, *(f"{name[:60]}-{k}" for k in range(2, len(taken) + 3)))
    return next(each for each in names if each not in taken)


def id_for(name: str, taken: Collection[str]) -> str:
    """Return a free id for a thing that people call by a name: its letters without accents."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    return free_name(re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:56].strip("-") or "new", taken)


def place_of(bands: tuple[Band, ...], start: int) -> int:
    """Return the index of the band that begins at a time."""
    starts = [clock_text(band.start) for band in bands]
    if clock_text(start) not in starts:
        raise UnknownNameError("band from", clock_text(start), starts)
    return starts.index(clock_text(start))
