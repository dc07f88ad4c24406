"""Pools: of another kind, copied with a schedule of their own, or taken away with what was for them
alone."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan import Plan, Pool
from idle_harbor.core.plan.declare import Id
from idle_harbor.core.plan.edits.finding import free_name, must_be_free, with_pool
from idle_harbor.core.plan.lookup import find_pool, shared_schedule
from idle_harbor.core.plan.pools import AddedApp, Hosts, PoolKind
from idle_harbor.core.plan.promise import OwnPromise
from idle_harbor.core.plan.schedules import Schedule, Shared


@dataclass(frozen=True, slots=True)
class CopyPool:
    """Put a copy of a pool beside it, with a copy of its schedule: nobody may open it yet."""

    verb: Literal["copy-pool"]
    pool: Id
    new: Id

    def done(self, plan: Plan) -> Plan:
        """The plan with both; people's own hosts by list stay those of the first."""
        like = find_pool(plan, self.pool)
        must_be_free(self.new, [pool.id for pool in plan.pools], "/pools", "a pool")
        own = free_name(self.new, [schedule.id for schedule in plan.schedules])
        schedules = [
            replace(s.for_pool(like.id), id=own) for s in plan.schedules if s.id == like.schedule
        ]
        return replace(
            plan,
            schedules=(*plan.schedules, *schedules),
            pools=(*plan.pools, replace(like, id=self.new, schedule=own, assigned=())),
        )


def _without(schedule: Schedule, pool: str) -> Schedule:
    """The schedule without what one pool has otherwise."""

    def left(thing: Shared) -> Shared:
        others = tuple(each for each in thing.exceptions if each.pool != pool)
        return thing if others == thing.exceptions else replace(thing, exceptions=others)

    return schedule.each_changed(left, left)


@dataclass(frozen=True, slots=True)
class OwnSchedule:
    """Give a pool a copy of the schedule that it shares, what it has otherwise included."""

    verb: Literal["own-schedule"]
    pool: Id

    def done(self, plan: Plan) -> Plan:
        """The plan in which the pool's schedule is nobody else's."""
        pool = find_pool(plan, self.pool)
        if sum(each.schedule == pool.schedule for each in plan.pools) < 2:
            what = f"pool '{pool.id}' is the only one with schedule '{pool.schedule}'"
            raise PlanError([Fault("/schedules", what, "change that one")])
        name = free_name(pool.id, [schedule.id for schedule in plan.schedules])
        shared = shared_schedule(plan, pool)
        others = tuple(_without(s, pool.id) if s is shared else s for s in plan.schedules)
        return replace(
            plan,
            schedules=(*others, replace(shared.for_pool(pool.id), id=name)),
            pools=tuple(replace(p, schedule=name) if p is pool else p for p in plan.pools),
        )


@dataclass(frozen=True, slots=True)
class RemovePool:
    """Take a pool away with the access to it, a schedule that no other has, what it had otherwise
    than one that others have, and the licences that were for it alone."""

    verb: Literal["remove-pool"]
    pool: Id

    def done(self, plan: Plan) -> Plan:
        """The plan without the pool."""
        gone = find_pool(plan, self.pool)
        pools = tuple(pool for pool in plan.pools if pool.id != gone.id)
        kept = {pool.schedule for pool in pools} | (
            {schedule.id for schedule in plan.schedules} - {gone.schedule}
        )
        return replace(
            plan,
            pools=pools,
            access=tuple(each for each in plan.access if each.pool != gone.id),
            schedules=tuple(_without(each, gone.id) for each in plan.schedules if each.id in kept),
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
    """Make a pool one of another kind; what that kind cannot have goes with the change."""

    verb: Literal["set-kind"]
    pool: Id
    kind: PoolKind

    def done(self, plan: Plan) -> Plan:
        """The plan with the pool changed: only shared hosts hold several sessions, only dedicated
        ones are somebody's, and those keep everything that people leave."""
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
        """The plan with one more app, under a name that the pool does not add yet."""
        return with_pool(plan, self.pool, self._more)

    @staticmethod
    def _more(pool: Pool) -> Pool:
        there = {each.app for each in pool.apps_at_logon}
        names = ("another app", *(f"another app {k}" for k in range(2, len(there) + 3)))
        app = AddedApp(next(name for name in names if name not in there))
        return replace(pool, apps_at_logon=(*pool.apps_at_logon, app))


@dataclass(frozen=True, slots=True)
class GiveOwnPromise:
    """Promise the people of a pool something of their own, or what everyone is promised."""

    verb: Literal["give-own-promise"]
    pool: Id
    own: bool

    def done(self, plan: Plan) -> Plan:
        """The plan with that; a promise of its own begins with the wait promised to everyone."""
        wait = plan.promise.wait_p95_seconds
        promise = OwnPromise(wait_p95_seconds=wait) if self.own else None
        return with_pool(plan, self.pool, lambda pool: replace(pool, promise=promise))
