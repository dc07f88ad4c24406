"""Where a group's hosts should be: by the data rule, then by comfort, then by cost."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from idle_harbor.core.density import bearing_of, density_of, mix_of
from idle_harbor.core.errors import UnknownNameError
from idle_harbor.core.plan import Group, Place, Plan, Pool, Size
from idle_harbor.core.workload import image_of, profile_on, size_at, tuned_pool


@dataclass(frozen=True, slots=True)
class PlaceView:
    """A place for a group's pool: whether its data may be there, how far people are, what the
    cheapest host size that holds a session costs per session and hour there.

    ``why`` says in words what speaks for or against it; ``best`` is true of one place at most.
    """

    place: Place
    data_allowed: bool
    round_trip_ms: float | None
    behind: bool
    size: str | None
    sessions: int
    per_session_hour: Decimal | None
    best: bool
    why: str


@dataclass(frozen=True, slots=True)
class _Cheapest:
    size: Size
    sessions: int
    price: Decimal


def _group(plan: Plan, group_id: str) -> Group:
    for group in plan.groups:
        if group.id == group_id:
            return group
    raise UnknownNameError("group", group_id, [group.id for group in plan.groups])


def _cheapest(plan: Plan, pool: Pool, group: Group, place: Place) -> _Cheapest | None:
    """The size with the lowest price per session at a place."""
    image = image_of(plan, pool)
    profile = next(p for p in plan.profiles if p.id == group.profile)
    mix = mix_of([(profile_on(profile, pool, image), 1.0)])
    bearing = bearing_of(tuned_pool(pool, image))
    found: list[_Cheapest] = []
    for size in plan.sizes:
        if place.offer_of(size.id) is None:
            continue
        fits = density_of(mix, size, bearing).sessions
        sessions = min(fits, 1) if pool.kind != "shared" else fits
        if sessions:
            price = size_at(size, place).whole_price / sessions
            found.append(_Cheapest(size, sessions, price))
    return min(found, key=lambda each: (each.price, each.size.id), default=None)


def _rank(view: PlaceView) -> tuple[bool, bool, bool, Decimal, float]:
    return (
        not view.data_allowed,
        view.per_session_hour is None,
        view.behind,
        view.per_session_hour or Decimal(0),
        view.round_trip_ms or 0.0,
    )


def places_for(plan: Plan, pool: Pool, group_id: str) -> list[PlaceView]:
    """Every place of the plan for one group of a pool, the best first.

    Places where the group's data may not be come last, then those without a size that fits, then
    those behind a slow line (round trip above the promise); among the others the cheaper is
    better, and of equal prices the nearer. Raises UnknownNameError for an unknown group.
    """
    group = _group(plan, group_id)
    views = [_view(plan, pool, group, place) for place in plan.places]
    ordered = sorted(views, key=_rank)
    result: list[PlaceView] = []
    for index, view in enumerate(ordered):
        best = index == 0 and view.data_allowed and view.size is not None
        result.append(_told(plan, group, view, best))
    return result


def _view(plan: Plan, pool: Pool, group: Group, place: Place) -> PlaceView:
    cheapest = _cheapest(plan, pool, group, place)
    trip = place.round_trip(group.site)
    return PlaceView(
        place=place,
        data_allowed=not group.data_areas or place.area in group.data_areas,
        round_trip_ms=trip,
        behind=trip is not None and trip > plan.promise.round_trip_ms,
        size=None if cheapest is None else cheapest.size.id,
        sessions=0 if cheapest is None else cheapest.sessions,
        per_session_hour=None if cheapest is None else cheapest.price,
        best=False,
        why="",
    )


def _told(plan: Plan, group: Group, view: PlaceView, best: bool) -> PlaceView:
    if not view.data_allowed:
        why = f"data of '{group.id}' may not be kept in {view.place.area}"
    elif view.size is None:
        why = "has no size that holds one session"
    elif view.behind:
        why = f"further than the promise of {plan.promise.round_trip_ms:g} ms allows"
    elif best:
        near = "" if view.round_trip_ms is None else f", {view.round_trip_ms:g} ms away"
        why = f"the cheapest that keeps the promise{near}"
    elif view.round_trip_ms is None:
        why = "nobody has measured its line"
    else:
        why = "keeps the promise, and costs more"
    return PlaceView(
        view.place, view.data_allowed, view.round_trip_ms, view.behind, view.size, view.sessions,
        view.per_session_hour, best, why,
    )  # fmt: skip
