"""Starting points of the search: safe variants of today's plan, and guesses from theory for its
hosts and for other session limits and host sizes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from math import ceil, inf

from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.workload import place_of, size_at
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.designs.knobs import Bounds
from idle_harbor.core.tuner.designs.pins import own_timeouts_free
from idle_harbor.core.tuner.designs.shapes import (
    at_a_place,
    fitted,
    knocking,
    longer,
    quiet,
    shortest_timeouts,
    sized,
    wider,
    with_slots,
)
from idle_harbor.core.tuner.guesses.lingering import Quiet, quiet_hours, timed_by_theory
from idle_harbor.core.tuner.guesses.theory import LEVELS, Family, always_on, demand_on, families
from idle_harbor.core.tuner.scoring.scores import Slot, Tried
from idle_harbor.core.tuner.scoring.trials import Asking
from idle_harbor.core.tuner.search.search import Search

#: The share of the promised lost returns that timeouts in quiet hours may use.
_AFTERWARDS = 0.2
#: Spare room beyond the peak of the first weeks, as a share.
_SPARE = 0.06
#: How many host sizes are tried, and session limits as shares of a host's density.
_SIZES, _FULL = 4, (1.0, 0.85)
#: Weeks of each kind on which safety levels are found.
_SETTLED_BY = 3
#: The factor by which the lowest level of a family may cost more than the best so far; how many
#: guesses of a host size, and of all, are evaluated on all weeks.
_DEARER, _OF_A_SIZE, _SEEN_THROUGH = 1.05, 3, 8
#: Guesses are repaired unless this multiple of the weeks for guesses is used already.
_MENDED = 1.35
#: Safe variants: timeouts longer by so many steps, more hosts by so large shares.
_LONGER, _MORE = (0, 4, 9), (0.0, 0.1, 0.25)


def guessed(search: Search, tried: Tried, slots: Sequence[Slot], most: int, fills: int) -> Asking:
    """Race guesses from theory for several host sizes and session limits.

    The safety level of each family of guesses is found by bisection. A higher level is never
    cheaper, so a family whose lowest level costs more than the best so far is skipped.
    """
    today, bounds = search.today, search.bounds
    lost = search.aims[0].promise.lost_returns
    timed = timed_by_theory(tried, today, bounds, slots, lost)
    needed = ceil((1.0 + _SPARE) * demand_on(tried, timed, slots).peak)
    bases = _bases(tried.plan, timed, bounds, needed, fills)
    resting: Quiet = ()
    if own_timeouts_free(bounds):
        resting = quiet_hours(tried, timed, slots, _AFTERWARDS * lost)

    def rested(design: Design) -> Design:
        return quiet(design, bounds, resting, shortest_timeouts(bounds))

    if "schedule" not in bounds.free:
        yield from search.race(search.possible([*bases, *map(rested, bases)]))
        return
    found = [
        _Guesses(search, family, rested)
        for base in bases
        for family in families(tried, base, slots)
    ]
    least = {each: design for each in found if (design := each.at(0)) is not None}
    yield from search.measure(list(least.values()), len(search.weeks))
    bound = {each: search.money(design, len(search.weeks)) for each, design in least.items()}
    settled: dict[Design, float] = {}
    for each in sorted(bound, key=lambda guesses: bound[guesses]):
        if search.over(most) or bound[each] > _DEARER * min(settled.values(), default=inf):
            break
        yield from each.settled(settled)
    ranked: dict[str, list[Design]] = {}
    for design in sorted(settled, key=lambda d: settled[d]):
        ranked.setdefault(design.pool.size, []).append(design)
    likeliest = [design for of_size in ranked.values() for design in of_size[:_OF_A_SIZE]]
    likeliest = sorted(likeliest, key=lambda d: settled[d])[:_SEEN_THROUGH]
    yield from search.measure(likeliest)
    for design in likeliest:
        search.also(design)
    if not search.over(round(_MENDED * most)):
        missing = [each for each in likeliest if not search.keeps(each, search.aims[0])]
        mended = (mend for each in missing for mend in _mends(each, bounds))
        yield from search.race(search.possible(mended))


def _mends(design: Design, bounds: Bounds) -> list[Design]:
    """Repairs of a guess that keeps the promise on the first weeks and misses it on all: hosts
    start at a knock in quiet hours, and bands begin earlier."""
    knocked, kinds = knocking(design, bounds.kinds), bounds.kinds
    return [knocked, wider(design, kinds, 1.0, 1), wider(knocked, kinds, 1.0, 1)]


@dataclass(frozen=True, slots=True, eq=False)
class _Guesses:
    """A family of guesses, with timeouts of their own in quiet hours."""

    search: Search
    family: Family
    rested: Callable[[Design], Design]

    def at(self, level: int) -> Design | None:
        """The guess at a safety level; None where it is not allowed."""
        found = self.search.possible([self.rested(self.family.at(level))])
        return found[0] if found else None

    def settled(self, worths: dict[Design, float]) -> Asking:
        """Find the least safety level that keeps the promise, and put the objectives of the guesses
        at that level and the next one into ``worths``."""
        search, by = self.search, _SETTLED_BY * len(self.search.weeks)
        aim, most = search.aims[0], len(LEVELS) - 1
        low, high = 0, most
        while low < high:
            middle = (low + high) // 2
            design = self.at(middle)
            if design is not None:
                yield from search.measure([design], by)
            if design is not None and search.keeps(design, aim, 0.5):
                high = middle
            else:
                low = middle + 1
        for level in (high, min(high + 1, most)):
            design = self.at(level)
            if design is not None:
                yield from search.measure([design], by)
                worths[design] = search.worth(design, aim, by, 0.5)


def safest(today: Design, bounds: Bounds) -> list[Design]:
    """For each choice of timeouts, the variant of today's plan that is most likely to keep the
    promise."""
    return [_safe(today, bounds, steps, _MORE[-1])[-1] for steps in _LONGER]


def safe_ones(today: Design, bounds: Bounds) -> list[Design]:
    """Variants of today's plan with longer timeouts and more hosts, with and without all hosts
    always on, as far as the freedoms allow."""
    found = [
        each for share in _MORE for steps in _LONGER for each in _safe(today, bounds, steps, share)
    ]
    return list(dict.fromkeys(found))


def _safe(today: Design, bounds: Bounds, steps: int, share: float) -> list[Design]:
    base = today
    most = bounds.density.get(today.pool.size, 0)
    if "limit" in bounds.free and 0 < most < today.pool.session_limit:
        base = fitted(replace(today, pool=replace(today.pool, session_limit=most)))
    base = longer(base, bounds, steps)
    hosts = base.pool.hosts
    if "hosts" in bounds.free and base.pool.kind != "dedicated":
        hosts = replace(hosts, standing=hosts.standing + ceil(share * hosts.most))
    base = replace(base, pool=replace(base.pool, hosts=hosts))
    if "schedule" not in bounds.free:
        return [base]
    return [base, always_on(base, bounds.kinds, hosts.most)]


def _bases(plan: Plan, today: Design, bounds: Bounds, slots: int, fills: int) -> list[Design]:
    """Today's plan on its own hosts, and on other hosts with room for so many sessions."""
    pool = today.pool
    sizes = _sizes(plan, today, bounds)
    bases = [today]
    if "limit" in bounds.free and pool.kind == "shared":
        for size in sizes:
            most = max(bounds.density.get(size, pool.session_limit), 1)
            for share in _FULL[:fills]:
                own = replace(pool, size=size, session_limit=max(round(share * most), 1))
                own = at_a_place(own, bounds)
                if "hosts" in bounds.free:
                    own = with_slots(own, slots)
                bases.append(fitted(replace(today, pool=own)))
    elif "size" in bounds.free:
        bases += [sized(today, bounds, size) for size in sizes]
    return list(dict.fromkeys(bases))


def _sizes(plan: Plan, today: Design, bounds: Bounds) -> list[str]:
    """The pool's host size, and the sizes on which a session costs least."""
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
