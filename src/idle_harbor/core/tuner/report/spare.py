"""Designs with some more than a search has needed: the weeks in which all of it is needed are rare,
so that it may not have met one."""

from __future__ import annotations

from dataclasses import replace
from math import ceil

from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.designs.shapes import knocking, longer, wider
from idle_harbor.core.tuner.scoring.judge import without_room
from idle_harbor.core.tuner.search.search import Search

#: By how much there may be more: shares of open slots and floors, and of standing hosts, and
#: quarter hours by which bands that ask for more begin earlier.
_SPARE = ((0.0, 0.08, 0), (0.06, 0.03, 0), (0.06, 0.08, 1), (0.2, 0.15, 2), (0.6, 0.25, 2))
#: Those by which there may be more than in what is kept without room to spare.
MORE = slice(1, 3)
#: Room to spare: kept by so many standard errors, though so many more weeks were as bad as the
#: worst.
EASILY, WORSE = 3.0, 2


def with_spare(search: Search, design: Design) -> list[Design]:
    """A design with more open slots, floors and standing hosts, and hosts started at a knock, by
    steps. Where hardly more returns may be lost, timeouts are longer."""
    known, free = search.known.get(design), search.bounds.free
    base = design
    if known is not None and "lost_returns" in without_room(
        known, search.weeks, search.aims[0].promise, EASILY, WORSE
    ):
        base = longer(design, search.bounds, 1)
    found = []
    for slots, hosts, quarters in _SPARE:
        more = base
        if "schedule" in free:
            more = wider(
                knocking(more, search.bounds.kinds), search.bounds.kinds, 1.0 + slots, quarters
            )
        if "hosts" in free and design.pool.kind != "dedicated":
            own = more.pool.hosts
            own = replace(own, standing=own.standing + ceil(hosts * own.most))
            more = replace(more, pool=replace(more.pool, hosts=own))
        found.append(more)
    own = design.pool.hosts
    if "hosts" in free and own.surge and not own.throwaway:
        # Who gives up does so before a host that has yet to be created comes.
        own = replace(own, standing=own.most + ceil(_SPARE[0][1] * own.most), surge=0)
        found.append(replace(design, pool=replace(design.pool, hosts=own)))
    return [each for each in search.possible(found) if each != design]
