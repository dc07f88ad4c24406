"""Checks of schedules: what a rule says that can never come true, or not as it looks."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import timedelta

import numpy as np

from idle_harbor.core.checks.finding import Family, Finding, Mend
from idle_harbor.core.demand.expected import BINS, expected_day
from idle_harbor.core.demand.spells import demand_of
from idle_harbor.core.plan import Plan, Pool, Schedule
from idle_harbor.core.plan.declare import DAY, clock_text, end_text
from idle_harbor.core.plan.load_rules import SIGNAL_UNITS
from idle_harbor.core.plan.lookup import called
from idle_harbor.core.plan.schedules import Band, DayType, ReadyBy, exceptions_of
from idle_harbor.core.policy.lead import STARTED, lead_table

#: Shares that cannot pass 1: of slots, and of work.
_AT_MOST_ONE = ("slots in use", "strained work")


def _with_ends(day_type: DayType) -> Iterator[tuple[int, Band, int]]:
    """Each band's place, the band, and the clock time of its end."""
    for place, (band, end) in enumerate(zip(day_type.bands, day_type.ends, strict=True)):
        yield place, band, end


def _notices(s: int, schedule: Schedule) -> Iterator[Finding]:
    """A notice that goes on when its band is over."""
    for d, day_type in enumerate(schedule.day_types):
        bands = list(_with_ends(day_type))
        for b, band, end in bands:
            minutes, length = band.notice.minutes, (end - band.start) // 60
            last = b == len(bands) - 1
            releases = (band.release, *(each.release for each in band.exceptions))
            if "drain with notice" not in releases or minutes <= length or last:
                continue
            pointer = f"/schedules/{s}/day_types/{d}/bands/{b}/notice/minutes"
            yield Finding(
                "notice-beyond-band",
                "doubt",
                pointer,
                f"a notice of {minutes:,} minutes is longer than its band, from "
                f"{clock_text(band.start)} to {end_text(end)}",
                "people are signed off when the band's rules hold no more, whatever the next says",
                f"give a notice of at most {length:,} minutes, or a longer band",
                Mend(pointer, length),
            )


def _load_rules(s: int, schedule: Schedule) -> Iterator[Finding]:
    at_work = {n for kind in schedule.day_types for band in kind.bands for n in band.load_rules}
    for r, rule in enumerate(schedule.load_rules):
        base = f"/schedules/{s}/load_rules/{r}"
        if rule.id not in at_work:
            yield Finding(
                "load-rule-nowhere",
                "doubt",
                base,
                f"load rule '{rule.called}' of schedule '{schedule.called}' is at work in no band",
                "it asks for nothing, whatever its signal says",
                "name it in a band, or take it away",
            )
        if rule.signal in _AT_MOST_ONE and (rule.asks_at or 0.0) >= 1.0:
            yield Finding(
                "load-rule-never",
                "doubt",
                f"{base}/asks_at",
                f"load rule '{rule.called}' asks for hosts above {rule.asks_at:.0%} of "
                f"{rule.signal}",
                f"a {SIGNAL_UNITS[rule.signal]} never passes 100 %: it asks for nothing",
                "give a value below 1",
                Mend(f"{base}/asks_at", 0.9),
            )


def _exceptions(s: int, schedule: Schedule, plan: Plan) -> Iterator[Finding]:
    """What a pool has otherwise than a schedule that it does not go by."""
    by_it = {pool.id for pool in plan.pools if pool.schedule == schedule.id}
    there = {pool.id for pool in plan.pools}
    for d, day_type in enumerate(schedule.day_types):
        for place, thing in day_type.things():
            for k, each in enumerate(exceptions_of(thing)):
                if each.pool in by_it or each.pool not in there:
                    continue
                yield Finding(
                    "exception-nowhere",
                    "doubt",
                    f"/schedules/{s}/day_types/{d}/{place}/exceptions/{k}",
                    f"schedule '{schedule.called}' has something of its own for pool "
                    f"'{called(plan.pools, each.pool)}', "
                    "which goes by another schedule",
                    "it changes nothing, whatever it says",
                    "take it away, or give the pool this schedule",
                )


#: A night is cut in two where so large a share of the most people is there at midnight, and no more
#: than half as many at noon.
_AT_NIGHT = 0.5


def _night(s: int, schedule: Schedule, plan: Plan) -> Iterator[Finding]:
    """Days that begin at midnight, while those who go by the schedule work across it."""
    pools = [pool for pool in plan.pools if pool.schedule == schedule.id]
    if schedule.day_begins or not pools:
        return
    present = np.zeros((7, BINS))
    for k in range(7):
        day = plan.week_of + timedelta(days=k)
        for pool in pools:
            demand = demand_of(plan, pool.id)
            if demand.comers:
                present[k] += expected_day(demand, pool.time_zone, day)[0]
    midnight, noon = present[:, -1].max(), present[:, BINS // 2 - 1].max()
    if midnight <= _AT_NIGHT * present.max() or noon > midnight / 2:
        return
    yield Finding(
        "night-cut-in-two",
        "doubt",
        f"/schedules/{s}/day_begins",
        f"days of schedule '{schedule.called}' begin at 00:00, and about {midnight:,.0f} people "
        "of its pools work across it",
        "a night is under the rules of two days: Friday's night ends with Saturday's",
        "let its days begin at 12:00; its rules stay where they are on the clock",
        Mend(f"/schedules/{s}/day_begins", "12:00"),
    )


def _schedules(plan: Plan) -> Iterator[Finding]:
    for s, schedule in enumerate(plan.schedules):
        yield from _night(s, schedule, plan)
        yield from _notices(s, schedule)
        yield from _load_rules(s, schedule)
        yield from _exceptions(s, schedule, plan)


def _held_back(
    target: ReadyBy, day_type: DayType, pool: Pool, leads: list[int]
) -> tuple[Band, int, int] | None:
    """The last band whose lid keeps a target's hosts from starting in time: the band, its end,
    and the seconds that its hosts would need from then on."""
    hosts, found = target.least(pool.hosts.standing), None
    for _, band, end in _with_ends(day_type):
        if band.lid is None or band.lid >= hosts or end > target.at:
            continue
        needs = leads[min(hosts - band.lid, pool.hosts.most)]
        if end > target.at - needs:
            found = band, end, needs
    return found


def _targets(plan: Plan, place: int) -> Iterator[Finding]:
    """Hosts that cannot be ready by their time: a lid before it leaves them too little, or their
    starts wait for each other for longer than a day."""
    pool = plan.pools[place]
    s = next(k for k, each in enumerate(plan.schedules) if each.id == pool.schedule)
    schedule = plan.schedules[s].for_pool(pool.id)
    if pool.kind == "dedicated" or not any(kind.ready_by for kind in schedule.day_types):
        return
    leads = lead_table(pool, schedule.tick_seconds)[STARTED].tolist()
    for d, day_type in enumerate(schedule.day_types):
        for k, target in enumerate(day_type.ready_by):
            pointer = f"/schedules/{s}/day_types/{d}/ready_by/{k}"
            hosts, by = target.least(pool.hosts.standing), clock_text(target.at)
            needs = leads[min(hosts, pool.hosts.most)] + schedule.tick_seconds
            held = None
            if target.clock_of is None:
                held = _held_back(target, day_type, pool, leads)
            if needs > DAY:
                yield Finding(
                    "ready-by-too-late",
                    "harm",
                    f"{pointer}/hosts",
                    f"the last of {hosts:,} hosts of '{pool.called}' is ready "
                    f"{needs / 3600:.1f} hours "
                    f"after the first begins to start: not by {by} from one day to the next",
                    "people find hosts starting that were to be ready",
                    "let more hosts start at once, or keep some of them on",
                )
            elif held is not None:
                band, end, seconds = held
                yield Finding(
                    "ready-by-too-late",
                    "harm",
                    f"{pointer}/at",
                    f"{hosts:,} hosts of '{pool.called}' are to be ready by {by}: the lid of "
                    f"{band.lid:,} until {end_text(end)} leaves {(target.at - end) // 60:,} "
                    f"minutes, and they need {-(-seconds // 60):,}",
                    "people find hosts starting that were to be ready",
                    "end the band with the lid earlier, or raise its lid",
                )


FAMILY = Family("schedules", "Whether the rules of the day can come true", _schedules, _targets)
