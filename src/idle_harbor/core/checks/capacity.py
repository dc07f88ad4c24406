"""Checks of whether the hosts hold the people: their number, their limit, their life."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import date, timedelta
from math import ceil

from idle_harbor.core.calendar.clock import week_start
from idle_harbor.core.checks.finding import Family, Finding, Mend
from idle_harbor.core.demand.spells import demand_of
from idle_harbor.core.plan import Plan, Pool
from idle_harbor.core.plan.estate import vcpu_of_all
from idle_harbor.core.plan.hosts import Request
from idle_harbor.core.sizing.density import RESOURCE_NAMES
from idle_harbor.core.sizing.hosts import SizeView, Sizing, sizing_of
from idle_harbor.core.sizing.peak import Wish, named_in, seeds_for_all
from idle_harbor.core.sizing.zone_loss import hosts_for

#: As the Hosts view asks first, so that both say the same.
_WISH = Wish()


def pool_findings(plan: Plan, place: int) -> Iterator[Finding]:
    """Whether the hosts of the plan's pool at a place hold those who come."""
    pool, base = plan.pools[place], f"/pools/{place}"
    yield from _life(plan, pool, base)
    if not demand_of(plan, pool.id).comers:
        return
    sizing = sizing_of(plan, pool, replace(_WISH, seeds=seeds_for_all(plan, _WISH.seeds)))
    own = next(view for view in sizing.sizes if view.size.id == pool.size)
    yield from _too_few(sizing, base)
    yield from _size(sizing, own, base)
    yield from _credits(sizing, own, base)
    if plan.promise.zone_loss:
        yield from _zone(sizing, base)


def _too_few(sizing: Sizing, base: str) -> Iterator[Finding]:
    """The classic mistake: limit times hosts is less than the people who will come."""
    pool, peak = sizing.pool, int(sizing.crest.peak.value)
    if sizing.lacking == 0:
        return
    needed = hosts_for(peak, pool.session_limit) - pool.hosts.surge
    yield Finding(
        "too-few-hosts",
        "harm",
        f"{base}/hosts/standing",
        f"{hosts_text(pool)} of {pool.session_limit} hold {sizing.holds:,} sessions, and "
        f"{peak:,} come at once in 95 % of weeks",
        f"{sizing.lacking:,} people find no room at the peak",
        f"have {needed:,} standing hosts{_with_surge(pool)}",
        Mend(f"{base}/hosts/standing", needed),
    )


def hosts_text(pool: Pool) -> str:
    """How many hosts a pool has; standing and surge hosts are told apart."""
    hosts = pool.hosts
    kinds = f" ({hosts.standing:,} standing, {hosts.surge:,} surge)" if hosts.surge else ""
    return f"{hosts.most:,} hosts{kinds}"


def _with_surge(pool: Pool) -> str:
    many = pool.hosts.surge
    return f" beside the {many:,} surge host{'s' * (many != 1)}" if many else ""


def _size(sizing: Sizing, own: SizeView, base: str) -> Iterator[Finding]:
    pool, density = sizing.pool, own.density
    if density.sessions == 0:
        fits = [view.size.id for view in sizing.sizes if not view.missing]
        lasting = "" if own.size.burst is None else " on its baseline"
        yield Finding(
            "size-too-small",
            "harm",
            f"{base}/size",
            f"a host of '{own.size.called}' cannot hold one session of '{pool.called}'{lasting}: "
            f"{RESOURCE_NAMES[density.binding]} binds",
            f"{sizing.crest.people or int(sizing.crest.peak.value):,} people work on a strained "
            "host from their first minute",
            f"take a size that holds one: {', '.join(fits)}" if fits else "add a larger size",
            Mend(f"{base}/size", fits[0]) if fits else None,
        )
    elif pool.session_limit > density.sessions:
        over = pool.session_limit - density.sessions
        yield Finding(
            "limit-above-density",
            "doubt",
            f"{base}/session_limit",
            f"the session limit {pool.session_limit} is more than the {density.sessions} sessions "
            f"that a host of '{own.size.called}' bears: {RESOURCE_NAMES[density.binding]} "
            "binds first",
            f"{over} of {pool.session_limit} people on a full host are too many, and all of them "
            "are strained",
            f"set the limit to {density.sessions}, or take a larger size",
            Mend(f"{base}/session_limit", density.sessions),
        )


def _credits(sizing: Sizing, own: SizeView, base: str) -> Iterator[Finding]:
    """A burstable size that is full all day lives on its baseline."""
    bears = own.density.by_resource["cpu"]
    if own.size.burst is None or bears is None or sizing.pool.session_limit <= bears:
        return
    yield Finding(
        "lives-on-credits",
        "doubt",
        f"{base}/size",
        f"{sizing.pool.session_limit} sessions on a host of '{own.size.called}' use more CPU "
        "than its "
        f"baseline of {own.size.burst.baseline:.0%}",
        "once its credits are spent everyone on a full host is strained",
        "look at the hours at the baseline on the Board, or take a size with all its CPU",
    )


def _zone(sizing: Sizing, base: str) -> Iterator[Finding]:
    if sizing.after_loss is None or sizing.lacking:
        return
    pool, peak = sizing.pool, int(sizing.crest.peak.value)
    lost = peak - sizing.after_loss
    if lost <= 0:
        return
    needed = hosts_for(peak, pool.session_limit, zones=sizing.zones) - pool.hosts.surge
    yield Finding(
        "zone-loss",
        "harm",
        f"{base}/hosts/standing",
        f"without one of its {sizing.zones} zones '{pool.called}' holds {sizing.after_loss:,} "
        f"sessions at a peak of {peak:,}",
        f"{lost:,} people have no desktop while a zone is lost",
        f"have {needed:,} standing hosts{_with_surge(pool)}, as the promise asks",
        Mend(f"{base}/hosts/standing", needed),
    )


def _quotas(plan: Plan) -> Iterator[Finding]:
    """All pools together may have no more vCPU of a size on than the quota allows."""
    for s, size in enumerate(plan.sizes):
        asked = vcpu_of_all(plan, size)
        if size.quota is None or asked <= size.quota:
            continue
        short = ceil((asked - size.quota) / size.vcpu)
        waits = size.quota_asked
        enough = waits is not None and waits.value >= asked
        by = f", and {_request_text(waits)}" if waits else ""
        yield Finding(
            "over-quota",
            "harm",
            f"/sizes/{s}/quota",
            f"the plan's hosts of '{size.called}' have {asked:g} vCPU, its quota is "
            f"{size.quota:g}{by}",
            f"{short:,} of these hosts cannot be on while the others are",
            "have it granted, or take another size for some pools"
            if enough
            else f"ask for a quota of {asked:g} vCPU, or take another size for some pools",
            None if enough else Mend(f"/sizes/{s}/quota", asked, to_grant=True),
        )


def _request_text(request: Request) -> str:
    """What is asked for, of whom, and by when."""
    owner = f" from {request.owner}" if request.owner else ""
    due = f" by {request.due}" if request.due else ""
    return f"{request.value:g} are requested{owner}{due}"


def _life(plan: Plan, pool: Pool, base: str) -> Iterator[Finding]:
    """People whose pool does not exist in the week that is planned."""
    monday = week_start(plan.week_of)
    days: list[date] = [monday + timedelta(days=k) for k in range(7)]
    missing = [day for day in days if not pool.exists_on(day)]
    coming = {e.group for e in plan.access if e.pool == pool.id}
    if not missing or not coming:
        return
    people = named_in(plan, pool)
    ended = pool.last_date is not None and pool.last_date < days[-1]
    which = f"after its last date, {pool.last_date}" if ended else f"before {pool.first_date}"
    yield Finding(
        "pool-not-there",
        "harm" if len(missing) == len(days) else "doubt",
        f"{base}/{'last_date' if ended else 'first_date'}",
        f"pool '{pool.called}' does not exist on {len(missing)} of the week's 7 days: they are "
        f"{which}",
        f"{people:,} people may open it and cannot then",
        "move the date, or give them access to another pool",
    )


FAMILY = Family("capacity", "Whether the hosts hold those who come", _quotas, pool_findings)
