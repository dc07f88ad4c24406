"""One group as each kind of desktop, side by side, each simulated, with a reasoned suggestion."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import ceil

from idle_harbor.core.money.words import money_text
from idle_harbor.core.plan import (
    WEEKDAYS,
    Access,
    Band,
    DayType,
    Group,
    Hosts,
    Plan,
    Pool,
    PoolKind,
    Schedule,
    Size,
)
from idle_harbor.core.plan.lookup import find_group
from idle_harbor.core.plan.workload import image_of, place_of
from idle_harbor.core.sizing.peak import Wish, crest_of, sizing_demand, sizing_horizon
from idle_harbor.core.sizing.sizes import price_of_session, sizes_for
from idle_harbor.core.sizing.zone_loss import hosts_for
from idle_harbor.core.weeks.case import case_of
from idle_harbor.core.weeks.summary import Figures, figures_of
from idle_harbor.core.weeks.week import weeks

#: What each kind means for people beside waiting and money.
ISOLATION: dict[PoolKind, str] = {
    "shared": "others' work on the same host can slow it",
    "lent": "the whole host is theirs while they are signed in",
    "dedicated": "the host is theirs alone, always",
}
LOST_AT_SIGN_OFF: dict[PoolKind, str] = {
    "shared": "everything outside the profile and shared folders",
    "lent": "everything outside the profile and shared folders",
    "dedicated": "nothing",
}
KINDS: tuple[PoolKind, ...] = ("shared", "lent", "dedicated")
_NAME = "compared"
_SEEDS = 4
#: Slots to keep open in the neutral schedule, as a share of the peak.
_HEADROOM = 0.2


@dataclass(frozen=True, slots=True)
class KindView:
    """One kind for one group: its size, limit and hosts, and what simulated weeks say of it.

    ``figures`` is None where the kind cannot be, and ``barred`` says why.
    """

    kind: PoolKind
    size: str | None
    session_limit: int
    hosts: int
    figures: Figures | None
    keeps_promise: bool
    barred: str
    isolation: str
    lost: str


@dataclass(frozen=True, slots=True)
class Kinds:
    """The kinds side by side, the one to take, and why."""

    group: str
    views: tuple[KindView, ...]
    suggested: PoolKind | None
    why: str


def _schedule(peak: int, kind: PoolKind) -> Schedule:
    """The same simple rules for every kind: some slots open by day, empty hosts stop."""
    open_slots = 0 if kind == "dedicated" else ceil(peak * _HEADROOM)
    every = tuple(range(len(WEEKDAYS)))
    band = Band(0, fill_ceiling=1.0, headroom=open_slots)
    return Schedule(_NAME, (DayType("every-day", every, (band,)),), 300)


def _barred(kind: PoolKind, one_session: bool, sizes: list[tuple[Size, int]], people: int) -> str:
    if not sizes:
        return "no host size holds one session"
    if kind == "shared" and one_session:
        return "the image's system holds one session"
    if kind == "shared" and max(limit for _, limit in sizes) == 1:
        return "no size bears a second session: that is lending"
    if kind == "dedicated" and people == 0:
        return "passers-by have no host of their own"
    return ""


def kind_of_group(
    plan: Plan, pool: Pool, group_id: str, kind: PoolKind, *, seeds: int = _SEEDS
) -> KindView:
    """Simulate a group of a pool as one kind; see :func:`compare_kinds`."""
    group = find_group(plan, group_id)
    demand = sizing_demand(plan, pool, group_id)
    crest = crest_of(plan, pool, demand, sizing_horizon(plan, pool), Wish())
    peak = int(crest.peak.value)
    image = image_of(plan, pool)
    one_session = image is not None and image.system == "one session"
    sizes = sizes_for(plan, pool, group, place_of(plan, pool), kind)
    barred = _barred(kind, one_session, sizes, crest.people)
    if barred:
        return _absent(kind, barred)
    size, limit = min(sizes, key=price_of_session)
    hosts = crest.people if kind == "dedicated" else hosts_for(peak, limit)
    variant = replace(
        pool,
        id=_NAME,
        kind=kind,
        size=size.id,
        session_limit=limit,
        hosts=Hosts(standing=hosts),
        schedule=_NAME,
        assign="at first logon",
        assigned=(),
        reset_seconds=0 if kind != "lent" else pool.reset_seconds,
    )
    figures = _simulated(plan, pool, variant, group, _schedule(peak, kind), seeds)
    return KindView(
        kind,
        size.id,
        limit,
        hosts,
        figures,
        figures.against(pool.owed(plan.promise)).whole,
        "",
        ISOLATION[kind],
        LOST_AT_SIGN_OFF[kind],
    )


def kinds_of(plan: Plan, group_id: str, views: Sequence[KindView]) -> Kinds:
    """The kinds side by side, with the one to take."""
    suggested, why = _suggest(plan.currency, views)
    return Kinds(group_id, tuple(views), suggested, why)


def compare_kinds(plan: Plan, pool: Pool, group_id: str, *, seeds: int = _SEEDS) -> Kinds:
    """Simulate a group of a pool as each kind.

    Each kind gets the size with the lowest price per session, hosts for the peak in 95 % of the
    weeks (dedicated: one for each person), and the same simple schedule; timeouts, patience and
    image are the pool's. Raises UnknownNameError for a group that is not in the pool,
    NotWantedError once nobody waits for it.
    """
    views = [kind_of_group(plan, pool, group_id, kind, seeds=seeds) for kind in KINDS]
    return kinds_of(plan, group_id, views)


def _absent(kind: PoolKind, barred: str) -> KindView:
    return KindView(kind, None, 0, 0, None, False, barred, ISOLATION[kind], LOST_AT_SIGN_OFF[kind])


def _simulated(
    plan: Plan, pool: Pool, variant: Pool, group: Group, schedule: Schedule, seeds: int
) -> Figures:
    uses = [e for e in plan.access if e.pool == pool.id and e.group == group.id]
    changed = replace(
        plan,
        pools=(variant,),
        schedules=(schedule,),
        access=tuple(Access(e.group, _NAME, e.use_as, e.apps, e.use, e.profile) for e in uses),
    )
    case = case_of(changed, _NAME)
    return figures_of(case, weeks(case, range(1, seeds + 1)))


def _suggest(currency: str, views: Sequence[KindView]) -> tuple[PoolKind | None, str]:
    """The cheapest that keeps the promise; without one, the one that waits least."""
    able = [view for view in views if view.figures is not None]
    if not able:
        return None, "no kind can be: no host size holds one session"
    keeping = [view for view in able if view.keeps_promise]
    if not keeping:
        least = min(able, key=_wait)
        return least.kind, "no kind keeps the promise with these simple rules; this one waits least"
    best = min(keeping, key=_month)
    others = [view for view in able if view is not best]
    said = [_against(currency, best, other) for other in others]
    return best.kind, "; ".join(["it keeps the promise at the least cost", *said])


def _month(view: KindView) -> float:
    assert view.figures is not None
    return float(view.figures.cost.month)


def _wait(view: KindView) -> float:
    assert view.figures is not None
    mean = view.figures.wait_seconds.p95.mean
    return float("inf") if mean is None else mean


def _against(currency: str, best: KindView, other: KindView) -> str:
    more = _month(other) - _month(best)
    way = "more" if more >= 0 else "less"
    cost = f"{money_text(abs(more), currency)} a month {way}"
    if not other.keeps_promise:
        return f"{other.kind} costs {cost} and breaks the promise"
    return f"{other.kind} costs {cost}"
