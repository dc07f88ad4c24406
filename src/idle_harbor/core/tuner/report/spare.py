"""Designs with more capacity than the search found necessary. Weeks that need it are rare, so the
search may not have met one."""

from __future__ import annotations

from dataclasses import replace
from math import ceil

from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.designs.shapes import knocking, longer, wider
from idle_harbor.core.tuner.scoring.judge import without_room
from idle_harbor.core.tuner.search.search import Search

#: The steps: more headroom and floors as a share, more standing hosts as a share, and quarter hours
#: by which bands that ask for more begin earlier.
_SPARE = ((0.0, 0.08, 0), (0.06, 0.03, 0), (0.06, 0.08, 1), (0.2, 0.15, 2), (0.6, 0.25, 2))
#: The steps for designs that keep the promise without room to spare.
MORE = slice(1, 3)
#: Room to spare: kept by so many standard errors, after so many further weeks as bad as the worst.
EASILY, WORSE = 3.0, 2


def with_spare(search: Search, design: Design) -> list[Design]:
    """Copies of a design with more headroom, floors and standing hosts and with knock starts, in
    steps. Where the limit of lost returns has no room, timeouts are longer too."""
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
        # People give up before a host that has to be created is ready.
        own = replace(own, standing=own.most + ceil(_SPARE[0][1] * own.most), surge=0)
        found.append(replace(design, pool=replace(design.pool, hosts=own)))
    return [each for each in search.possible(found) if each != design]
