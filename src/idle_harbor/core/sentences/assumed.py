"""What a new plan assumes, in sentences, and which parts of a month have no price."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from idle_harbor.core.plan import Headcount, Plan, Pool
from idle_harbor.core.plan.assumed import (
    ATTENDANCE,
    LEAVING,
    PRICES,
    PROFILE,
    START,
    TIMEOUTS,
    Assumption,
)
from idle_harbor.core.plan.edits.beginning import begun_schedule
from idle_harbor.core.plan.patterns import Length, Pattern, Start
from idle_harbor.core.plan.workload import place_of, size_at


@dataclass(frozen=True, slots=True)
class Assumed:
    """A value that nobody has confirmed: what it says, and where it stands as a JSON pointer."""

    id: Assumption
    text: str
    pointer: str


def _percent(share: float) -> str:
    return f"{share * 100:g} %"


def _first(patterns: Iterator[tuple[int, Pattern]]) -> int | None:
    return next((group for group, _ in patterns), None)


def _patterns(plan: Plan) -> Iterator[tuple[int, Pattern]]:
    for place, group in enumerate(plan.groups):
        if isinstance(group.demand, Headcount):
            for pattern in group.demand.patterns:
                yield place, pattern


def _attendance(plan: Plan) -> Assumed | None:
    at = _first((g, p) for g, p in _patterns(plan) if p.attendance == ATTENDANCE)
    if at is None:
        return None
    return Assumed(
        "attendance",
        f"{_percent(ATTENDANCE[0] or 0.0)} of the people work on a day from Monday to Friday, "
        "nobody at the weekend",
        f"/groups/{at}/demand",
    )


def _leaving(plan: Plan) -> Assumed | None:
    at = _first((g, p) for g, p in _patterns(plan) if p.leaving == LEAVING)
    if at is None:
        return None
    shares = (LEAVING.sign_off, LEAVING.disconnect, LEAVING.walk_away)
    off, apart, away = map(_percent, shares)
    return Assumed(
        "leaving",
        f"at the end of work {off} sign off, {apart} disconnect and {away} walk away",
        f"/groups/{at}/demand",
    )


def _workload(plan: Plan) -> Assumed | None:
    for place, each in enumerate(plan.profiles):
        same = (each.cpu, each.memory_gib) == (PROFILE.cpu, PROFILE.memory_gib)
        if each.id == PROFILE.id and same:
            return Assumed(
                "workload",
                f"an active session wants {each.cpu.mean:g} vCPU on average and "
                f"{each.memory_gib.active:g} GiB of memory",
                f"/profiles/{place}",
            )
    return None


def _schedule(plan: Plan) -> Assumed | None:
    hours = {
        (p.start.mean, round(60 * p.length.mean_minutes))
        for _, p in _patterns(plan)
        if isinstance(p.start, Start) and isinstance(p.length, Length)
    }
    for place, schedule in enumerate(plan.schedules):
        if any(schedule == begun_schedule(schedule.id, *each) for each in hours):
            return Assumed(
                "schedule",
                "one host is ready from an hour before people start; the others follow as they "
                "are needed",
                f"/schedules/{place}/day_types/0/bands/1",
            )
    return None


def _start(plan: Plan) -> Assumed | None:
    at = next((k for k, pool in enumerate(plan.pools) if pool.start == START), None)
    if at is None:
        return None
    minutes = START.mean_seconds / 60
    return Assumed(
        "start", f"a host takes {minutes:g} minutes to start, and no start fails", f"/pools/{at}"
    )


def _timeouts(plan: Plan) -> Assumed | None:
    for place, pool in enumerate(plan.pools):
        if (pool.idle_timeout, pool.disconnected_timeout) == TIMEOUTS:
            idle, apart = ((each or 0) // 60 for each in TIMEOUTS)
            return Assumed(
                "timeouts",
                f"an idle session is disconnected after {idle} minutes, a disconnected one is "
                f"signed off after {apart}",
                f"/pools/{place}/idle_timeout",
            )
    return None


def _lacks(
    what: Assumption, lacks: Callable[[Pool], bool], text: str
) -> Callable[[Plan], Assumed | None]:
    def found(plan: Plan) -> Assumed | None:
        at = next((k for k, pool in enumerate(plan.pools) if lacks(pool)), None)
        return None if at is None else Assumed(what, text, f"/pools/{at}/{what}")

    return found


def _licences(plan: Plan) -> Assumed | None:
    if plan.prices.licences:
        return None
    return Assumed("licences", "no licence is paid for", "/prices/licences")


def _prices(plan: Plan) -> Assumed | None:
    before = (PRICES.egress_gib, PRICES.address_month)
    if (plan.prices.egress_gib, plan.prices.address_month) != before:
        return None
    return Assumed("prices", "pictures and addresses cost nothing", "/prices")


_RULES: dict[Assumption, Callable[[Plan], Assumed | None]] = {
    "attendance": _attendance,
    "leaving": _leaving,
    "workload": _workload,
    "schedule": _schedule,
    "start": _start,
    "timeouts": _timeouts,
    "place": _lacks(
        "place", lambda pool: pool.place is None, "hosts stand in no place: no line is slow"
    ),
    "image": _lacks("image", lambda pool: pool.image is None, "hosts start from no image"),
    "disk": _lacks(
        "disk",
        lambda pool: pool.disk is None and not pool.hosts.throwaway,
        "hosts have no disk, which costs nothing",
    ),
    "licences": _licences,
    "prices": _prices,
}


def assumed_values(plan: Plan) -> list[Assumed]:
    """What the plan began with and still has, and nobody has confirmed, in sentences."""
    found = (_RULES[what](plan) for what in plan.assumed)
    return [each for each in found if each is not None]


def unpriced_parts(plan: Plan, pool: Pool) -> list[str]:
    """What a pool's month leaves out because nobody has given it a price."""
    licensed = any(not each.pools or pool.id in each.pools for each in plan.prices.licences)
    disk = next((each for each in plan.disks if each.id == pool.disk), None)
    size = next((each for each in plan.sizes if each.id == pool.size), None)
    parts = {
        "compute": size is not None and size_at(size, place_of(plan, pool)).whole_price == 0,
        "disks": not pool.hosts.throwaway and (disk is None or disk.monthly_on == 0),
        "licences": not licensed,
    }
    return [part for part, missing in parts.items() if missing]
