"""Host sizes: taken away with what places ask for them, or taken for a pool."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from idle_harbor.core.errors import UnknownNameError
from idle_harbor.core.plan import Plan, Pool
from idle_harbor.core.plan.declare import Id
from idle_harbor.core.plan.pools import SessionLimit, Standing


@dataclass(frozen=True, slots=True)
class RemoveSize:
    """Take a host size away, with what places ask for it."""

    verb: Literal["remove-size"]
    size: Id

    def done(self, plan: Plan) -> Plan:
        """The plan without the size; a pool that uses it no longer fits."""
        names = [each.id for each in plan.sizes]
        if self.size not in names:
            raise UnknownNameError("size", self.size, names)
        return replace(
            plan,
            sizes=tuple(each for each in plan.sizes if each.id != self.size),
            places=tuple(
                replace(place, offers=tuple(o for o in place.offers if o.size != self.size))
                for place in plan.places
            ),
        )


@dataclass(frozen=True, slots=True)
class TakeSize:
    """Let a pool have hosts of a size, so many sessions on each, so many hosts at the peak."""

    verb: Literal["take-size"]
    pool: Id
    size: Id
    session_limit: SessionLimit
    hosts: Standing

    def done(self, plan: Plan) -> Plan:
        """The plan with the hosts standing that the pool's surge does not bring."""
        names = [pool.id for pool in plan.pools]
        if self.pool not in names:
            raise UnknownNameError("pool", self.pool, names)

        def taken(pool: Pool) -> Pool:
            standing = max(self.hosts - pool.hosts.surge, 0)
            hosts = replace(pool.hosts, standing=standing)
            return replace(pool, size=self.size, session_limit=self.session_limit, hosts=hosts)

        pools = tuple(taken(pool) if pool.id == self.pool else pool for pool in plan.pools)
        return replace(plan, pools=pools)
