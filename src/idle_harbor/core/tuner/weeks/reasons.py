"""What makes a week of a pool differ, as a short name and in a sentence."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta

from idle_harbor.core.calendar.clock import DAY, clock_change, local_to_instant, week_start
from idle_harbor.core.calendar.occasions import concerns, falls_on, holiday_name
from idle_harbor.core.demand.headcount import Comer
from idle_harbor.core.demand.spells import demand_of
from idle_harbor.core.plan import Plan, Pool

ORDINARY = "ordinary"
_LONGEST = 50


def _days(monday: date) -> list[date]:
    return [monday + timedelta(days=k) for k in range(7)]


def reason(plan: Plan, pool: Pool, monday: date) -> tuple[str, str]:
    """Return the name of a week and why it differs, for a pool that the plan has."""
    comers = demand_of(plan, pool.id).comers
    own = week_start(plan.week_of)
    events = list(dict.fromkeys(_events(plan, comers, monday)))
    if monday == own:
        with_events = "".join(f", with days of the event {each}" for each in events)
        return ORDINARY, f"the week of the plan{with_events}"
    found = [
        *_clock_changes(pool, monday),
        *((each, f"has days of the event {each}") for each in events),
        *_holidays(comers, monday),
        *_clocks_apart(pool, comers, monday, own),
    ]
    if not found:
        return "later on", "people have become more or fewer, or work another shift"
    reasons = list(dict.fromkeys(why for _, why in found))
    return found[0][0][:_LONGEST], ", ".join(reasons[:3])


def _events(plan: Plan, comers: tuple[Comer, ...], monday: date) -> Iterator[str]:
    for event in plan.events:
        sites = [comer.site for comer in comers if concerns(event, comer.group)]
        if any(falls_on(event.when, s.holidays, day) for s in sites for day in _days(monday)):
            yield event.id


def _clock_changes(pool: Pool, monday: date) -> Iterator[tuple[str, str]]:
    for day in _days(monday):
        longer = clock_change(pool.time_zone, day)
        if longer:
            name = "clock back" if longer > 0 else "clock forward"
            yield name, f"the clock changes on {day}"


def _holidays(comers: tuple[Comer, ...], monday: date) -> Iterator[tuple[str, str]]:
    for comer in comers:
        for day in _days(monday):
            name = holiday_name(comer.site.holidays, day)
            if name is not None:
                yield name, f"{name} at {comer.site.called} on {day}"


def _hours_before(pool: Pool, zone: str, day: date) -> float:
    """By how many hours a day begins earlier in a zone than in the pool's."""
    apart = local_to_instant(pool.time_zone, day, DAY // 2) - local_to_instant(zone, day, DAY // 2)
    return apart / 3600.0


def _clocks_apart(
    pool: Pool, comers: tuple[Comer, ...], monday: date, own: date
) -> Iterator[tuple[str, str]]:
    """Sites whose clock is further from the pool's, or nearer to it, than in the plan's week."""
    for comer in comers:
        zone = comer.site.time_zone
        now = _hours_before(pool, zone, monday + timedelta(days=2))
        usual = _hours_before(pool, zone, own + timedelta(days=2))
        if now != usual:
            more = now - usual
            way = "earlier" if more > 0 else "later"
            by = f"{abs(more):g} h {way} by the pool's clock than in the week of the plan"
            yield f"clocks of {comer.site.called}", f"{comer.site.called} begins {by}"
