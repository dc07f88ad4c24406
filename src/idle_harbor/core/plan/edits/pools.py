"""Pools: change the kind, copy with a schedule, remove with all that belongs to it alone."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan import Plan, Pool
from idle_harbor.core.plan.declare import Id
from idle_harbor.core.plan.edits.finding import free_name, with_pool
from idle_harbor.core.plan.lookup import find_pool, shared_schedule
from idle_harbor.core.plan.pools import AddedApp, Hosts, PoolKind
from idle_harbor.core.plan.promise import OwnPromise


def copied_pool(plan: Plan, pool: str, new: str) -> Plan:
    """Return the plan with a copy of a pool and its schedule; nobody has access to the copy, and
    assigned hosts stay with the first."""
    like = find_pool(plan, pool)
    own = free_name(new, [schedule.id for schedule in plan.schedules])
    schedules = [
        replace(s.for_pool(like.id), id=own, name="")
        for s in plan.schedules
        if s.id == like.schedule
    ]
    return replace(
        plan,
        schedules=(*plan.schedules, *schedules),
        pools=(*plan.pools, replace(like, id=new, schedule=own, assigned=())),
    )


@dataclass(frozen=True, slots=True)
class OwnSchedule:
    """Give a pool its own copy of the schedule that it shares, own values included."""

    verb: Literal["own-schedule"]
    pool: Id

    def done(self, plan: Plan) -> Plan:
        """Return the plan in which no other pool uses the pool's schedule."""
        pool = find_pool(plan, self.pool)
        if sum(each.schedule == pool.schedule for each in plan.pools) < 2:
            what = f"pool '{pool.called}' is the only one with schedule '{pool.schedule}'"
            raise PlanError([Fault("/schedules", what, "change that one")])
        name = free_name(pool.id, [schedule.id for schedule in plan.schedules])
        shared = shared_schedule(plan, pool)
        others = tuple(s.without_pool(pool.id) if s is shared else s for s in plan.schedules)
        return replace(
            plan,
            schedules=(*others, replace(shared.for_pool(pool.id), id=name)),
            pools=tuple(replace(p, schedule=name) if p is pool else p for p in plan.pools),
        )


def without_pool(plan: Plan, pool: str) -> Plan:
    """Return the plan without a pool, its access, a schedule that no other pool uses, its own
    values in a shared one, and licences for it alone."""
    gone = find_pool(plan, pool)
    pools = tuple(each for each in plan.pools if each.id != gone.id)
    kept = {each.schedule for each in pools} | (
        {schedule.id for schedule in plan.schedules} - {gone.schedule}
    )
    return replace(
        plan,
        pools=pools,
        access=tuple(each for each in plan.access if each.pool != gone.id),
        schedules=tuple(each.without_pool(gone.id) for each in plan.schedules if each.id in kept),
        prices=replace(
            plan.prices,
            # A licence without pools is for all of them: one for this pool alone is not.
            licences=tuple(
                replace(each, pools=tuple(name for name in each.pools if name != gone.id))
                for each in plan.prices.licences
                if each.pools != (gone.id,)
            ),
        ),
    )


@dataclass(frozen=True, slots=True)
class SetKind:
    """Change the kind of a pool; fields that the kind cannot have are reset."""

    verb: Literal["set-kind"]
    pool: Id
    kind: PoolKind

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the pool changed.

        Only shared hosts hold several sessions. Only dedicated hosts are assigned to people, and
        they keep everything.
        """
        pool = find_pool(plan, self.pool)
        if self.kind == "dedicated":
            hosts = Hosts(standing=pool.hosts.most)
            now = replace(pool, kind=self.kind, session_limit=1, hosts=hosts, reset_seconds=0)
        else:
            limit = pool.session_limit if self.kind == "shared" else 1
            now = replace(pool, kind=self.kind, session_limit=limit, assigned=())
        return replace(plan, pools=tuple(now if each is pool else each for each in plan.pools))


@dataclass(frozen=True, slots=True)
class AddApp:
    """Add an app to every logon of a pool, which takes longer by that."""

    verb: Literal["add-app"]
    pool: Id

    def done(self, plan: Plan) -> Plan:
        """Return the plan with one more app, under a name that the pool does not have yet."""
        return with_pool(plan, self.pool, self._more)

    @staticmethod
    def _more(pool: Pool) -> Pool:
        there = {each.app for each in pool.apps_at_logon}
        names = ("another app", *(f"another app {k}" for k in range(2, len(there) + 3)))
        app = AddedApp(next(name for name in names if name not in there))
        return replace(pool, apps_at_logon=(*pool.apps_at_logon, app))


@dataclass(frozen=True, slots=True)
class GiveOwnPromise:
    """Give a pool a promise of its own, or the plan's promise again."""

    verb: Literal["give-own-promise"]
    pool: Id
    own: bool

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the promise; a pool's own promise begins with the plan's limit on
        the wait."""
        wait = plan.promise.wait_p95_seconds
        promise = OwnPromise(wait_p95_seconds=wait) if self.own else None
        return with_pool(plan, self.pool, lambda pool: replace(pool, promise=promise))
