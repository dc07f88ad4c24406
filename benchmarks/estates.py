"""Pools that share a throttle, simulated together, against the same pools one after the other."""

from __future__ import annotations

from dataclasses import replace
from time import perf_counter

from benchmarks.weeks import case_for
from idle_harbor.core.demand.spells import pool_spells
from idle_harbor.core.engine.run import run_estate
from idle_harbor.core.engine.setting import Estate, Limit, Member

_POOLS, _PEOPLE = 6, 2_000
_ROUNDS = 12
#: Hosts of each pool that may start at once.
_AT_ONCE = 4


def _members() -> tuple[Member, ...]:
    """Pools alike but for who comes when, and for when the hosts start that a morning needs."""
    case = case_for(_PEOPLE)
    return tuple(
        Member(
            replace(
                case.setting, schedule=replace(case.setting.schedule, tick_seconds=240 + 30 * k)
            ),
            case.horizon,
            pool_spells(case.demand, case.horizon, 1 + k),
        )
        for k in range(_POOLS)
    )


def _time_an_event(estate: Estate) -> float:
    """Seconds that each event of all pools takes."""
    begun = perf_counter()
    runs = run_estate(estate, 1)
    return (perf_counter() - begun) / sum(run.events for run in runs)


def sharing_to_alone() -> float:
    """What an event costs in pools that share a throttle, to what it costs in them alone.

    Alone each has its part of the throttle as its own bound, so that starts queue there too.
    """
    members = _members()
    shared = Estate(members, (Limit("throttle", _AT_ONCE * _POOLS, tuple(range(_POOLS))),))

    def own(member: Member) -> Member:
        start = replace(member.setting.pool.start, parallel=_AT_ONCE)
        bound = replace(member.setting.pool, start=start)
        return replace(member, setting=replace(member.setting, pool=bound))

    alone = Estate(tuple(map(own, members)))
    pairs = [(_time_an_event(shared), _time_an_event(alone)) for _ in range(_ROUNDS)]
    return min(shares for shares, _ in pairs) / min(own for _, own in pairs)
