"""What a search begins with: the plan of today made safe, and what theory says on its hosts and on
hosts of other limits and sizes."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from math import ceil

from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.workload import place_of, size_at
from idle_harbor.core.tuner.design import Design
from idle_harbor.core.tuner.knobs import Bounds, knobs_of
from idle_harbor.core.tuner.lingering import timed_by_theory
from idle_harbor.core.tuner.moves import fitted, sized, with_slots
from idle_harbor.core.tuner.scores import Slot, Tried
from idle_harbor.core.tuner.search import Asking, Search
from idle_harbor.core.tuner.theory import BETAS, always_on, families

#: Host sizes to begin with at most, and the parts of what a host bears that a limit may be.
_SIZES, _FULL, _LESS_FULL = 4, 1.0, 0.85
#: With more hosts than so many to guess for, the likeliest guesses alone are made.
_MANY_HOSTS = 3
#: How much on the safe side first guesses are.
_BETAS, _MORE_BETAS = (0.6,), (0.0, 1.0)
#: Weeks by which it is found how much they have to be, and on how many kinds of host.
_SETTLED_BY, _SETTLED_ON = 3, 3
#: Steps by which timeouts may be longer to be on the safe side, and shares of hosts more.
_LONGER, _MORE = (0, 4, 9), (0.0, 0.1, 0.25)


def starts(
    search: Search, tried: Tried, slots: Sequence[Slot], few: bool
) -> Iterator[list[Design]]:
    """Groups of designs to begin with, the likeliest first; with ``few`` weeks fewer of each. The
    timeouts of those after the first are of what is best by then."""
    today, bounds = search.today, search.bounds
    yield safe_ones(today, bounds)
    lost = search.aims[0].promise.lost_returns
    timed = timed_by_theory(tried, today, bounds, slots, lost)
    bases = _bases(tried.plan, timed, bounds)
    for base in bases:
        found = [base]
        if "schedule" in bounds.free:
            likely = few or len(bases) > _MANY_HOSTS
            for each in families(tried, base, slots, likely=likely):
                found += [each.at(beta) for beta in (_BETAS if likely else _MORE_BETAS)]
        yield list(dict.fromkeys(found))


def settled(search: Search, tried: Tried, slots: Sequence[Slot], few: bool) -> Asking:
    """On the hosts that have turned out best so far, find how much on the safe side each family of
    guesses has to be, by halving, and race what is found."""
    if "schedule" not in search.bounds.free:
        return
    aim, by = search.aims[0], _SETTLED_BY * len(search.weeks)
    sizes: dict[str, Design] = {}
    through = sorted(search.finished, key=lambda design: search.worth(design, aim))
    for best in (*aim.best, *through):
        sizes.setdefault(best.pool.size, best)
    found: list[Design] = []
    for base in list(sizes.values())[: 1 if few else _SETTLED_ON]:
        timed = _timed_as(base, aim.best[0])
        for family in families(tried, timed, slots, likely=True):
            low, high = 0, len(BETAS) - 1
            while low < high:
                middle = (low + high) // 2
                tried_now = search.possible([family.at(BETAS[middle])])
                yield from search.measure(tried_now, by)
                if all(search.keeps(each, aim, 0.5) for each in tried_now):
                    high = middle
                else:
                    low = middle + 1
            found += [family.at(BETAS[k]) for k in (high, min(high + 1, len(BETAS) - 1))]
    designs = search.possible(found)
    yield from search.measure(designs, by)
    ranked = sorted(designs, key=lambda d: search.worth(d, aim, by, 0.5))
    likeliest = ranked[: max(len(ranked) // 3, 2)]
    yield from search.measure(likeliest)
    for each in likeliest:
        search.also(each)


def _timed_as(design: Design, other: Design) -> Design:
    """The design with the timeouts of another's pool."""
    mine, theirs = design.pool, other.pool
    timed = replace(
        mine,
        idle_timeout=theirs.idle_timeout,
        disconnected_timeout=theirs.disconnected_timeout,
    )
    return replace(design, pool=timed)


def safest(today: Design, bounds: Bounds) -> list[Design]:
    """The safest of these for each choice of timeouts: what is likely to keep what is promised."""
    return [_safe(today, bounds, steps, _MORE[-1])[-1] for steps in _LONGER]


def safe_ones(today: Design, bounds: Bounds) -> list[Design]:
    """The plan of today with longer timeouts and more hosts, also with all of them on all the time,
    as far as each may be changed."""
    found = [each for share in _MORE for steps in _LONGER
             for each in _safe(today, bounds, steps, share)]  # fmt: skip
    return list(dict.fromkeys(found))


def _safe(today: Design, bounds: Bounds, steps: int, share: float) -> list[Design]:
    base = today
    most = bounds.density.get(today.pool.size, 0)
    if "limit" in bounds.free and 0 < most < today.pool.session_limit:
        base = fitted(replace(today, pool=replace(today.pool, session_limit=most)))
    for knob in knobs_of(today, bounds):
        if knob.tuned.belongs == "timeouts" and knob.where[0] == "pool":
            base = knob.turned(base, steps) or base
    hosts = base.pool.hosts
    if "hosts" in bounds.free and base.pool.kind != "dedicated":
        hosts = replace(hosts, standing=hosts.standing + ceil(share * hosts.most))
    base = replace(base, pool=replace(base.pool, hosts=hosts))
    if "schedule" not in bounds.free:
        return [base]
    return [base, always_on(base, bounds.kinds, hosts.most)]


def _bases(plan: Plan, today: Design, bounds: Bounds) -> list[Design]:
    """The plan of today on its own hosts, and on others with as much room."""
    pool = today.pool
    sizes = _sizes(plan, today, bounds)
    bases = [today]
    if "limit" in bounds.free and pool.kind == "shared":
        for size in sizes:
            most = max(bounds.density.get(size, pool.session_limit), 1)
            for share in (_FULL, _LESS_FULL):
                own = replace(pool, size=size, session_limit=max(round(share * most), 1))
                if "hosts" in bounds.free:
                    own = with_slots(own, pool.hosts.most * pool.session_limit)
                bases.append(fitted(replace(today, pool=own)))
    elif "size" in bounds.free:
        bases += [sized(today, bounds, size) for size in sizes]
    return list(dict.fromkeys(bases))


def _sizes(plan: Plan, today: Design, bounds: Bounds) -> list[str]:
    """The pool's size, and those on which a session costs least."""
    pool = today.pool
    if "size" not in bounds.free:
        return [pool.size]
    place = place_of(plan, pool)
    price = {}
    for size in plan.sizes:
        bears = bounds.density.get(size.id, 0)
        if bears:
            many = bears if pool.kind == "shared" else 1
            price[size.id] = (size_at(size, place).whole_price / many, size.id)
    cheapest = sorted(price, key=lambda each: price[each])
    return list(dict.fromkeys([pool.size, *cheapest]))[:_SIZES]
