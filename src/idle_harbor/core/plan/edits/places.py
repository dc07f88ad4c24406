"""Places: add a line, move a pool."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from idle_harbor.core.errors import UnknownNameError
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.declare import Id
from idle_harbor.core.plan.edits.finding import with_pool
from idle_harbor.core.plan.hosts import Line, Place


@dataclass(frozen=True, slots=True)
class AddLine:
    """Add a measured line from a site to a place, with a default round trip."""

    verb: Literal["add-line"]
    place: Id
    site: Id

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the line; an existing line does not change."""
        if self.place not in (names := [place.id for place in plan.places]):
            raise UnknownNameError("place", self.place, names)
        if self.site not in (sites := [site.id for site in plan.sites]):
            raise UnknownNameError("site", self.site, sites)

        def joined(place: Place) -> Place:
            if any(line.site == self.site for line in place.lines):
                return place
            return replace(place, lines=(*place.lines, Line(self.site, 50.0)))

        places = (joined(place) if place.id == self.place else place for place in plan.places)
        return replace(plan, places=tuple(places))


@dataclass(frozen=True, slots=True)
class MovePool:
    """Move a pool's hosts to another place, or to none."""

    verb: Literal["move-pool"]
    pool: Id
    place: Id | None = None

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the pool moved; its zones are cleared, because zones belong to a
        place."""
        names = [place.id for place in plan.places]
        if self.place is not None and self.place not in names:
            raise UnknownNameError("place", self.place, names)
        return with_pool(plan, self.pool, lambda pool: replace(pool, place=self.place, zones=()))
