"""What a study may change."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace

from idle_harbor.core.demand.spells import demand_of
from idle_harbor.core.plan import Group, Place, Plan, Pool
from idle_harbor.core.plan.declare import FREEDOMS, Freedom, clock_text
from idle_harbor.core.plan.table import by_path
from idle_harbor.core.plan.workload import place_of
from idle_harbor.core.sizing.hosts import sizing_of
from idle_harbor.core.sizing.peak import Wish
from idle_harbor.core.tuner.designs.design import design_of
from idle_harbor.core.tuner.designs.knobs import Bounds, knobs_of, path_of


@dataclass(frozen=True, slots=True)
class TurnableField:
    """A field that a search may vary: its meaning, how many values of the plan have it, and today's
    values."""

    path: str
    meaning: str
    unit: str
    belongs: Freedom
    places: int
    today: tuple[str, ...]


def turnable_in(plan: Plan, pool_id: str) -> list[TurnableField]:
    """The fields of a pool and its schedule that a search may vary, from their declarations; raises
    UnknownNameError."""
    design = design_of(plan, pool_id)
    bounds = Bounds(
        free=frozenset(FREEDOMS),
        density={size.id: 1 for size in plan.sizes},
        places={each.id: frozenset() for each in plan.places},
        kinds=frozenset(kind.id for kind in design.schedule.day_types),
    )
    places: dict[str, list[str]] = {}
    belongs: dict[str, Freedom] = {}
    for knob in knobs_of(design, bounds):
        path = path_of(knob.where)
        value = knob.read(design)
        timed = path.endswith((".from", ".at"))
        places.setdefault(path, []).append(clock_text(value) if timed else str(value))
        belongs[path] = knob.tuned.belongs
    fields = by_path()
    return [
        TurnableField(
            path,
            fields[path].about.meaning,
            fields[path].about.unit,
            belongs[path],
            len(values),
            tuple(dict.fromkeys(values)),
        )
        for path, values in places.items()
    ]


def bounds_for(
    plan: Plan,
    pool: Pool,
    free: Collection[Freedom],
    within: Mapping[str, tuple[float, float]],
    locked: Collection[str],
    kinds: frozenset[str],
) -> Bounds:
    """The bounds of a search in a pool.

    Session limits go up to the density of each size. Sizes and places are those that the pool may
    have.
    """
    density: dict[str, int] = {}
    places: dict[str, frozenset[str]] = {}
    if {"limit", "size", "place"} & set(free):
        allowed = _places_allowed(plan, pool) if "place" in free else []
        for place in [pool.place, *allowed]:
            there = replace(pool, place=place, zones=pool.zones if place == pool.place else ())
            views = sizing_of(plan, there, Wish()).sizes
            fit = {view.size.id: view.density.sessions for view in views if not view.missing}
            density = fit | density
            if place is not None and allowed:
                places[place] = frozenset(fit).union([pool.size] if place == pool.place else [])
        if "size" not in free:
            density = {pool.size: density.get(pool.size, pool.session_limit)}
    at_once = pool.start.parallel or 1
    return Bounds(frozenset(free), within, frozenset(locked), density, places, at_once, kinds)


def _places_allowed(plan: Plan, pool: Pool) -> list[str]:
    """Other places for a pool: the data of all its people may be stored there, all their lines are
    measured, and no further people get behind a slow line."""
    today = place_of(plan, pool)
    groups = [comer.group for comer in demand_of(plan, pool.id).comers]

    def near(place: Place, group: Group) -> bool:
        trip = place.round_trip(group.site)
        return trip is not None and trip <= plan.promise.round_trip_ms

    return [
        place.id
        for place in plan.places
        if today is not None
        and place is not today
        and all(not group.data_areas or place.area in group.data_areas for group in groups)
        and all(place.round_trip(group.site) is not None for group in groups)
        and all(near(place, group) for group in groups if near(today, group))
    ]
