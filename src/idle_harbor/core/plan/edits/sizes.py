"""Host sizes: extend, copy, offer in places, remove, use in a pool."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from annotated_types import Interval

from idle_harbor.core.errors import Fault, PlanError, UnknownNameError
from idle_harbor.core.plan import Plan, Pool
from idle_harbor.core.plan.declare import Id
from idle_harbor.core.plan.hosts import (
    MOST_TERMS,
    Burst,
    Committed,
    Free,
    Machine,
    Offer,
    Place,
    Request,
    Size,
)
from idle_harbor.core.plan.pools import SessionLimit, Standing

#: How many hosts a machine of one's own is first taken to hold.
_MACHINE_HOLDS = 8
#: What a size that is chosen freely first ranges over, besides what it has now, in GiB/vCPU.
_LEAN, _RICH = 2.0, 8.0
#: Terms in the order in which people ask for them, in years.
_USUAL_TERMS = (1, 3, 2, 4, 5, *range(6, MOST_TERMS + 1))


def _size(plan: Plan, name: str) -> Size:
    names = [each.id for each in plan.sizes]
    if name not in names:
        raise UnknownNameError("size", name, names)
    return plan.sizes[names.index(name)]


def _with_size(plan: Plan, name: str, change: Callable[[Size], Size]) -> Plan:
    changed = change(_size(plan, name))
    return replace(plan, sizes=tuple(changed if s.id == name else s for s in plan.sizes))


@dataclass(frozen=True, slots=True)
class ExtendSize:
    """Let a size use credits, be chosen freely, run on own hardware, or have a committed price.

    Defaults change as little as possible.
    """

    verb: Literal["extend-size"]
    size: Id
    by: Literal["burst", "free", "machine", "committed"]

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the size extended; existing values do not change."""
        return _with_size(plan, self.size, self._extended)

    def _extended(self, size: Size) -> Size:
        match self.by:
            case "burst":
                return replace(size, burst=size.burst or Burst())
            case "free":
                # From what the size has to twice as much, and from lean to rich in memory.
                ratio = size.memory_gib / size.vcpu
                begun = Free(size.vcpu, 2 * size.vcpu, min(ratio, _LEAN), max(ratio, _RICH))
                return replace(size, free=size.free or begun)
            case "machine":
                # A machine that costs what its hosts cost.
                own = Machine(_MACHINE_HOLDS, _MACHINE_HOLDS * size.hourly)
                return replace(size, machine=size.machine or own)
            case "committed":
                return replace(size, committed=(*size.committed, self._term(size)))

    @staticmethod
    def _term(size: Size) -> Committed:
        """Return a new term at the price without a commitment."""
        there = {term.years for term in size.committed}
        years = next((each for each in _USUAL_TERMS if each not in there), None)
        if years is None:
            raise PlanError(
                [
                    Fault(
                        "/sizes",
                        f"'{size.called}' has a price for every term",
                        "change one of them",
                    )
                ]
            )
        return Committed(years, size.hourly)


def copied_size(plan: Plan, size: str, new: str) -> Plan:
    """Return the plan with a copy of a size where the first is offered; its prices count as
    typed."""
    like = _size(plan, size)

    def more(place: Place) -> Place:
        same = tuple(replace(o, size=new) for o in place.offers if o.size == like.id)
        return replace(place, offers=(*place.offers, *same))

    return replace(
        plan,
        sizes=(*plan.sizes, replace(like, id=new, source="typed")),
        places=tuple(more(place) for place in plan.places),
    )


@dataclass(frozen=True, slots=True)
class OfferSize:
    """Set whether a place has a size."""

    verb: Literal["offer-size"]
    size: Id
    place: Id
    there: bool

    def done(self, plan: Plan) -> Plan:
        """Return the plan in which the place has the size, or not; a place without offers has all
        sizes."""
        _size(plan, self.size)
        names = [each.id for each in plan.places]
        if self.place not in names:
            raise UnknownNameError("place", self.place, names)

        def told(place: Place) -> Place:
            offers = place.offers or tuple(Offer(each.id) for each in plan.sizes)
            has = any(each.size == self.size for each in offers)
            if has and not self.there:
                offers = tuple(each for each in offers if each.size != self.size)
                if not offers:
                    raise PlanError(
                        [
                            Fault(
                                "/places",
                                f"'{place.called}' would have no size, and a place that names none "
                                "has all of them",
                                "let it have another size first",
                            )
                        ]
                    )
            elif self.there and not has:
                offers = (*offers, Offer(self.size))
            elif self.there:
                return place
            return replace(place, offers=offers)

        places = tuple(told(each) if each.id == self.place else each for each in plan.places)
        return replace(plan, places=places)


def without_size(plan: Plan, size: str) -> Plan:
    """Return the plan without a size and its offers."""
    return replace(
        plan,
        sizes=tuple(each for each in plan.sizes if each.id != size),
        places=tuple(
            replace(place, offers=tuple(o for o in place.offers if o.size != size))
            for place in plan.places
        ),
    )


@dataclass(frozen=True, slots=True)
class AskQuota:
    """Note that a larger quota of a size is asked for; the quota itself is as it was."""

    verb: Literal["ask-quota"]
    size: Id
    vcpu: Annotated[float, Interval(ge=0, le=1_000_000)]

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the request, needed when the plan's week begins; owner and date of
        an earlier one stay."""

        def asked(size: Size) -> Size:
            before = size.quota_asked or Request(self.vcpu, due=plan.week_of)
            return replace(size, quota_asked=replace(before, value=self.vcpu))

        return _with_size(plan, self.size, asked)


@dataclass(frozen=True, slots=True)
class GrantQuota:
    """Write down that the quota that was asked for is granted."""

    verb: Literal["grant-quota"]
    size: Id

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the quota in place of the request. Raises PlanError where nothing
        was asked for."""

        def granted(size: Size) -> Size:
            if size.quota_asked is None:
                what = f"no quota of '{size.called}' is asked for"
                raise PlanError([Fault("/sizes", what, "ask for one first")])
            return replace(size, quota=size.quota_asked.value, quota_asked=None)

        return _with_size(plan, self.size, granted)


@dataclass(frozen=True, slots=True)
class TakeSize:
    """Let a pool use a size with a session limit and a number of hosts for the peak."""

    verb: Literal["take-size"]
    pool: Id
    size: Id
    session_limit: SessionLimit
    hosts: Standing

    def done(self, plan: Plan) -> Plan:
        """Return the plan in which standing hosts cover what surge hosts do not."""
        names = [pool.id for pool in plan.pools]
        if self.pool not in names:
            raise UnknownNameError("pool", self.pool, names)

        def taken(pool: Pool) -> Pool:
            standing = max(self.hosts - pool.hosts.surge, 0)
            hosts = replace(pool.hosts, standing=standing)
            return replace(pool, size=self.size, session_limit=self.session_limit, hosts=hosts)

        pools = tuple(taken(pool) if pool.id == self.pool else pool for pool in plan.pools)
        return replace(plan, pools=pools)
